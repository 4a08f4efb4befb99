"""The practice room at the boundary: what is drawn and what sounds, in whole notes; seconds come where it is played."""

from __future__ import annotations

from pydantic import Field

from nailhead.core.music.metre import Time
from nailhead.core.practice.backing import Part
from nailhead.core.practice.counting import Click
from nailhead.core.practice.drills import Drill
from nailhead.core.practice.score import BarScore, Company, Heard, Score, Start
from nailhead.core.sound.voices import COMPANY, string_voice
from nailhead.sheet.inks import COLOURED
from nailhead.sheet.practice_lines import TabLine
from nailhead.sheet.svg import svg_groups
from nailhead.web.models import Model


class CountModel(Model):
    """A count, `at` whole notes from where it stands."""

    at: float
    strong: bool
    said: str


class SoundingModel(Model):
    """A string that sounds: `voice` names its sound, `late` and `seconds` are seconds, `bend` cents.

    At full swing it comes `swung` whole notes later.
    """

    at: float
    swung: float
    late: float
    seconds: float
    voice: str
    loud: float
    string: int
    bend: int
    melody: bool


class TakeModel(Model):
    """What sounds where a bar is played at up to `upto` percent."""

    upto: int
    heard: list[SoundingModel]


class CompanyModel(Model):
    """What keeps company at a moment, for `length` whole notes."""

    at: float
    swung: float
    length: float
    part: Part
    voices: list[str]


class LeadModel(Model):
    """An upbeat: a stretch of a bar."""

    bar: int
    start: float
    end: float


class StartModel(Model):
    """How a loop that begins `at` a moment of a bar is begun; `ends` are the bars that have room for its upbeat."""

    at: float
    counts: list[CountModel]
    counts_length: float
    lead: LeadModel | None
    ends: dict[int, float]


class BarScoreModel(Model):
    """A bar as it sounds; see core.practice.score."""

    place: int
    again: bool
    upbeat: bool
    number: int
    length: float
    half: float | None
    takes: list[TakeModel]
    counts: list[CountModel]
    backing: dict[str, list[CompanyModel]]
    starts: list[StartModel]


class TurnModel(Model):
    """Bars that are heard, then left for the player."""

    bars: list[int]
    heard: bool


class PlacedBarModel(Model):
    """Where a bar stands on its line; `moments` are (whole notes, mm)."""

    bar: int
    x: float
    width: float
    moments: list[tuple[float, float]]


class TabLineModel(Model):
    """A line of tab as a picture, and where its bars and strings lie in it (mm)."""

    svg: str
    width: float
    height: float
    top: float
    bottom: float
    bars: list[PlacedBarModel]


class ScoreModel(Model):
    """What can be played, and its lines."""

    bars: list[BarScoreModel]
    order: list[int]
    lines: list[tuple[int, int]]
    parts: list[tuple[int, int]]
    turns: list[TurnModel]
    tab: list[TabLineModel]


class DrillScoreModel(Model):
    """A drill that can be played."""

    kind: str
    title: str
    said: str
    serves: list[int]
    score: ScoreModel


class VoiceModel(Model):
    """A sound and where it is."""

    name: str
    address: str


class RoomModel(Model):
    """Everything that the practice room needs of an arrangement but the plan: it changes with the path alone."""

    title: str
    called: str
    label: str
    tune_id: int | None
    bpm: int
    beat: str
    whole_s: float = Field(description="seconds of a whole note at the tune's tempo")
    swing: float
    companies: list[str]
    sizes: list[str]
    size: str
    score: ScoreModel
    drills: list[DrillScoreModel]
    voices: list[VoiceModel]
    cautions: list[str]
    break_after_min: int


def score_model(score: Score, tab: tuple[TabLine, ...], kind: str) -> ScoreModel:
    """A score with its lines; `kind` is the instrument's."""
    return ScoreModel(
        bars=[_bar(bar, kind) for bar in score.bars],
        order=list(score.order),
        lines=list(score.lines),
        parts=list(score.parts),
        turns=[TurnModel(bars=list(turn.bars), heard=turn.heard) for turn in score.turns],
        tab=[_line(line, number) for number, line in enumerate(tab, 1)],
    )


def drill_model(drill: Drill, score: ScoreModel) -> DrillScoreModel:
    return DrillScoreModel(kind=drill.kind, title=drill.title, said=drill.said, serves=list(drill.serves), score=score)


def voices_in(scores: list[ScoreModel]) -> list[str]:
    """The names of all sounds that scores ask for, each once."""
    found: dict[str, None] = dict.fromkeys(("count-first", "count"))
    for score in scores:
        for bar in score.bars:
            found |= dict.fromkeys(heard.voice for take in bar.takes for heard in take.heard)
            found |= dict.fromkeys(name for notes in bar.backing.values() for note in notes for name in note.voices)
    return list(found)


def _bar(bar: BarScore, kind: str) -> BarScoreModel:
    return BarScoreModel(
        place=bar.place,
        again=bar.again,
        upbeat=bar.upbeat,
        number=bar.number,
        length=float(bar.length),
        half=None if bar.half is None else float(bar.half),
        takes=[TakeModel(upto=take.upto, heard=[_heard(one, kind) for one in take.heard]) for take in bar.takes],
        counts=[_count(one) for one in bar.counts],
        backing={name: [_company(note) for note in notes] for name, notes in bar.backing.items()},
        starts=[_start(start) for start in bar.starts],
    )


def _start(start: Start) -> StartModel:
    return StartModel(
        at=float(start.at),
        counts=[_count(one) for one in start.counts],
        counts_length=float(start.counts_length),
        lead=_lead(*start.lead) if start.lead else None,
        ends={place: float(end) for place, end in start.ends.items()},
    )


def _lead(bar: int, start: Time, end: Time) -> LeadModel:
    return LeadModel(bar=bar, start=float(start), end=float(end))


def _count(one: Click) -> CountModel:
    return CountModel(at=float(one.onset), strong=one.strong, said=one.said)


def _heard(one: Heard, kind: str) -> SoundingModel:
    sounding = one.sounding
    return SoundingModel(
        at=float(sounding.onset),
        swung=one.swung,
        late=sounding.late_s,
        seconds=sounding.seconds,
        voice=string_voice(kind, sounding.cents),
        loud=round(sounding.loud, 4),
        string=sounding.string,
        bend=sounding.bend,
        melody=sounding.melody,
    )


def _company(one: Company) -> CompanyModel:
    note = one.note
    return CompanyModel(
        at=float(note.onset),
        swung=one.swung,
        length=float(note.duration),
        part=note.part,
        voices=[string_voice(COMPANY, cents) for cents in note.cents] or [str(note.part)],
    )


def _line(line: TabLine, number: int) -> TabLineModel:
    svg = svg_groups({"rhythm": line.rhythm, "notes": line.notes}, line.width, line.height, f"Line {number}", COLOURED)
    bars = [
        PlacedBarModel(
            bar=bar.bar,
            x=round(bar.x, 3),
            width=round(bar.width, 3),
            moments=[(float(time), round(x, 3)) for time, x in bar.moments],
        )
        for bar in line.bars
    ]
    return TabLineModel(svg=svg, width=line.width, height=line.height, top=line.top, bottom=line.bottom, bars=bars)
