"""What crosses the border for planning a setup: what is asked, the ranked answers, the neck drawn to scale."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nailhead.web.models import Model, SetupAnswer

Short = Annotated[str, Field(max_length=60)]
Fret = Annotated[int, Field(ge=0, le=24)]


class PlanWish(Model):
    """What is wanted; null leaves it open. `key` "any" asks for whichever suits.

    `weights` are in quarters: 4 leaves a group of costs as it stands, 8 doubles it.
    """

    instrument: Short = "banjo"
    idiom: Short | None = None
    key: Short | None = None
    tunings: Annotated[list[Short], Field(max_length=40)] | None = None
    current: Short | None = None
    may_retune: bool = True
    highest_capo: Fret | None = None
    most_down: Annotated[int, Field(ge=0, le=12)] | None = None
    voice_low: Short | None = None
    voice_high: Short | None = None
    weights: dict[Short, Annotated[int, Field(ge=0, le=16)]] = Field(default_factory=dict)


class TermModel(Model):
    """A named cost and the sentence that tells it."""

    name: str
    points: int
    sentence: str


class RetuningModel(Model):
    """One string from the tuning the instrument is in: semitones, its new pitch, how its tension changes in percent,
    and in newtons where its gauge is known; `caution` is "" for a string that is let down.
    """

    string: int
    semitones: int
    pitch: str
    tension_percent: float
    tension_n: float | None
    before_n: float | None
    caution: str


class PlanShape(Model):
    """A chord of the tune as the hands play it, as it sounds, and its easiest shape from the bass string ("x32010")."""

    shape_name: str
    sounding_name: str
    frets: str
    fingers: int
    barre: bool


class PlanModel(Model):
    """One way to play the tune. `setup` is what keeping it would keep; `seldom` says that no player would take it while
    there is the first.
    """

    setup: SetupAnswer
    tuning_name: str
    cost: int
    seldom: bool
    terms: list[TermModel]
    retunings: list[RetuningModel]
    shapes: list[PlanShape]


class WhyNot(PlanWish):
    """A setup that somebody expected: why is it not the first answer?"""

    expected_tuning: Short
    expected_capo: Fret = 0


class Said(Model):
    said: str


class NeckFret(Model):
    """A fret line: its distance from the nut as a share of the drawn neck, and its name."""

    at: float
    name: str


class NeckNote(Model):
    """A place of the tune's notes: `string`, its distance like a fret's, the fret's name, how often it is played."""

    string: int
    at: float
    fret: str
    pitch: str
    count: int
    usual: bool


class NeckModel(Model):
    """A neck to scale from the nut (or the capo's fret marked) to the last fret that is drawn."""

    strings: list[str]
    courses: list[int]
    starts: list[float]
    frets: list[NeckFret]
    capo: float | None
    hook: float | None
    left_handed: bool
    notes: list[NeckNote]
