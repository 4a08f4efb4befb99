"""The ladders that are picked or strummed: the rules on real and generated tunes, how much each rung adds, shakes."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings

import nailhead
from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import wished
from nailhead.core.arrange.rows.courses import NOTER
from nailhead.core.arrange.rows.hands import Row
from nailhead.core.arrange.rows.plectrum import MANDOLIN
from nailhead.core.arrange.rows.ways import IDIOMS, find_idiom, options_of
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import ArrangedBar, Role, Shake, Stroke, Trembling, Way
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Wish, fit_tune, try_octaves
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.own import OwnInstrument, OwnTuning
from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.tune import Tempo, Tune
from nailhead.core.sound.playing import Pace, PlayedBar, tones_of
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.text_tab import write_text
from nailhead.sheet.ladder_view import layout_cell
from nailhead.sheet.marks import Disc, Ink, Line, Polygon, Text
from nailhead.sheet.page import layout_sheet
from tests.arrange_report import PICKED, ladders_of
from tests.core.test_own import built
from tests.core.test_tune import tune
from tests.corpora import sized
from tests.ladder_measures import measure_ladders
from tests.rules import violations
from tests.struck import letters
from tests.tunes import tunes


@pytest.mark.parametrize(("instrument", "idiom"), PICKED)
def test_rules_hold_and_every_rung_is_a_step(instrument: str, idiom: str) -> None:
    """Real tunes of four public-domain collections, generated ones with commas for the saz; all seven rungs."""
    ladders = ladders_of(sized(8, 300), idiom, instrument)
    assert len(ladders) >= 4
    for number, ladder in enumerate(ladders):
        assert violations(ladder, frame=number % 4 == 0) == [], ladder.tune.title
    rows = measure_ladders(ladders)
    for rung in range(2, 8):
        most = sized(20, 15)  # a small sample varies
        assert 100 * rows[rung].equal <= most * rows[rung].bars, (rung, rows[rung].equal, rows[rung].bars)


@pytest.mark.parametrize(("instrument", "idiom"), PICKED)
@settings(max_examples=sized(8, 60), deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(tunes())
def test_rules_hold_on_generated_tunes(instrument: str, idiom: str, found: Tune) -> None:
    """Any metre, key, tie, rest, triplet and chord that the instrument has the notes for."""
    row = find_instrument(instrument)
    way = find_idiom(idiom, row)
    try:
        fit = fit_tune(found, row, wished(way))
    except FitError:
        return
    assert violations(build_ladder(fit, way)) == []


def ladder(body: str, instrument: str, metre: str = "4/4", key: str = "G", idiom: str | None = None) -> Ladder:
    row = find_instrument(instrument)
    way = find_idiom(idiom, row)
    return build_ladder(fit_tune(tune(body, metre, key), row, wished(way)), way)


def shakes(found: Ladder, rung: int) -> list[Trembling]:
    return [stroke.shake.trembling for bar in found.rungs[rung - 1] for stroke in bar.strokes if stroke.shake]


#: Held notes on the mandolin's first string, where no roll has two strings above.
HELD = '"E"e8|"A"e4 ^c4|"E"e8|]'


def test_a_tremolo_takes_six_tenths_of_a_second() -> None:
    """Held notes without room for a roll are shaken from rung 5 on; at a tempo where they are short they are not."""
    row = find_instrument("mandolin")
    for bpm, wanted in ((80, True), (480, False)):
        found = replace(tune(HELD, "4/4", "E"), tempo=Tempo(Fraction(1, 4), bpm))
        played = build_ladder(fit_tune(found, row, Wish()), "plectrum")
        assert (Trembling.TREMOLO in shakes(played, 5)) == wanted and not shakes(played, 4)


def test_shakes_are_heard_written_and_drawn() -> None:
    """Ten strokes a second (common practice), a treble as two quick ones and one; slashes, and the ornament's name."""
    found = ladder(HELD, "mandolin", key="E")
    assert " R " in write_text(found, level_path(found, 5))
    assert '<tremolo type="single">3</tremolo>' in write_musicxml(found, level_path(found, 5))
    bar = found.rungs[4][0]
    stroke = next(stroke for stroke in bar.strokes if stroke.shake)
    pace, measure = Pace(found.fit.tune.bars[0].metre.length / 4, 60), found.fit.tune.bars[0].metre
    tones = tones_of([PlayedBar(bar, measure, stroke.onset * 0)], found.fit.setup, pace)
    seconds = float(stroke.duration) * pace.whole
    assert len([tone for tone in tones if tone.string == stroke.notes[0].place.string]) >= 9 * seconds
    treble = replace(stroke, shake=Shake(Trembling.TREBLE))
    tones = tones_of([PlayedBar(replace(bar, strokes=(treble,)), measure, stroke.onset * 0)], found.fit.setup, pace)
    first = [tone.at for tone in tones if tone.string == stroke.notes[0].place.string]
    assert [round((at - first[0]) / seconds, 2) for at in first] == [0, 0.25, 0.5]
    still = replace(bar, strokes=tuple(replace(stroke, shake=None) for stroke in bar.strokes))
    assert _polygons(found, bar) - _polygons(found, still) == 3 * sum(bool(stroke.shake) for stroke in bar.strokes)


def _polygons(found: Ladder, bar: ArrangedBar) -> int:
    return sum(isinstance(mark, Polygon) for mark in layout_cell(found, 0, bar).marks)


def test_time_keeping_notes_are_soft() -> None:
    """A filler sounds at 45 % of the melody, and what is struck for the melody at all of it (common practice)."""
    found = ladder('"G"G4 B4|"D"A4 F4|"G"G8|]', "mandolin")
    loud = {True: set(), False: set()}  # type: ignore[var-annotated]
    for bar in found.rungs[4]:
        for stroke in bar.strokes:
            for touch in stroke.touches:
                if touch.way in (Way.DOWN, Way.UP):
                    filler = all(note.role is Role.CHORD for note in touch.notes) and not _again(stroke, bar.strokes)
                    loud[filler].add(touch.loudness)
    assert loud == {True: {45}, False: {100}}


def _again(at: Stroke, strokes: tuple[Stroke, ...]) -> bool:
    """Is the melody's own place struck again?"""
    before = [note.place for one in strokes if one.onset < at.onset for note in one.notes if note.role is Role.MELODY]
    return bool(before) and any(note.place == before[-1] for note in at.notes)


def test_the_noter_stays_on_its_course_and_only_slides() -> None:
    """Drones ring open beside it; slurs are slides between stops of two frets at most, 6½ not counted (handbook §2)."""
    found = ladder('"D"d2 ed f2 gf|"A"e2 fe "D"d4|]', "dulcimer", key="D", idiom="noter")
    notes = [note for bars in found.rungs for bar in bars for stroke in bar.strokes for note in stroke.notes]
    assert {note.place.string for note in notes if note.role is Role.MELODY} == {1}
    assert {note.place.fret for note in notes if note.place.string > 1} == {0}
    slurs = [note for note in notes if note.slur]
    assert slurs and all(note.slur.start and note.place.fret for note in slurs if note.slur)
    setup = found.fit.setup
    assert all(
        setup.frets_apart(note.slur.start, note.place.fret) <= NOTER.left.slur_frets for note in slurs if note.slur
    )


def test_the_drones_sound_under_a_dotted_figure() -> None:
    """No row carries a dotted eighth in a jig; from the rung of drones on its two longer notes take the open courses
    along all the same, the short one between them does not (common practice).
    """
    found = arranged("dulcimer", "noter", '"D"d>ed d2 f|"A"e2 c A2 c|"D"d3 d3|]', "6/8", "D")
    for rung in range(4, 7):
        struck = {
            stroke.onset: {note.place.string for touch in stroke.touches if touch.by for note in touch.notes}
            for stroke in found.rungs[rung - 1][0].strokes
        }
        assert struck[Fraction(0)] == struck[Fraction(1, 4)] == {1, 2, 3}, rung
        assert struck[Fraction(3, 16)] <= {1}, rung
    assert {len(stroke.notes) for stroke in found.rungs[0][0].strokes} == {1}


def test_a_bar_cut_short_by_its_upbeat_is_played_to_its_end() -> None:
    """A jig with an eighth before it: the drones sound under the upbeat and under the last note of a part as under any
    other (common practice); the nail's last note is followed by its thumb as in a whole beat.
    """
    body = 'A|"D"d2 f a2 f|"A"e2 c A2 A|"D"d2 f "A"e2 c|"D"d3 d2|]'
    found = arranged("dulcimer", "noter", body, "6/8", "D")
    for rung in range(3, 8):
        for bar in (found.rungs[rung - 1][0], found.rungs[rung - 1][-1]):
            struck = [len(stroke.notes) for stroke in bar.strokes if stroke.touches and stroke.touches[0].struck]
            assert struck and set(struck) == {3}, (rung, bar.number)
    nail = arranged("banjo", "clawhammer", body, "6/8", "D")
    assert [letters(stroke) for stroke in nail.rungs[1][-1].strokes][-2:] == ["d", "T"]


def test_schools_of_the_third_stroke() -> None:
    """A jig goes out and out or out and in; three on the saz go down, up, up or down, up, down (common practice)."""

    def ways(instrument: str, idiom: str, body: str, metre: str, rung: int, **taken: str) -> set[tuple[Way, ...]]:
        row = find_instrument(instrument)
        way = find_idiom(idiom, row, options_of(taken))
        played = build_ladder(fit_tune(tune(body, metre, "D"), row, wished(way)), way)
        return {tuple(one.touches[0].way for one in bar.strokes) for bar in played.rungs[rung - 1]}

    down, up = Way.DOWN, Way.UP
    jig = '"D"d3 f3|"D"d3 a3|]'
    assert ways("dulcimer", "noter", jig, "6/8", 2) == {(down, down, down, down)}
    assert ways("dulcimer", "noter", jig, "6/8", 2, jig_stroke="in") == {(down, up, down, up)}
    three = '"D"d3 e2f2 a3|"D"a3 f2e2 d3|]'
    assert {one[:3] for one in ways("saz", "plectrum", three, "10/8", 5)} == {(down, up, up)}
    assert {one[:3] for one in ways("saz", "plectrum", three, "10/8", 5, third_stroke="down")} == {(down, up, down)}


def arranged(instrument: str, idiom: str, body: str, metre: str = "4/4", key: str = "G", **taken: str) -> Ladder:
    row = find_instrument(instrument)
    way = find_idiom(idiom, row, options_of(taken))
    return build_ladder(fit_tune(tune(body, metre, key), row, wished(way)), way)


@pytest.mark.parametrize("idiom", ["noter", "chord-melody"])
def test_a_hand_may_go_in_on_the_beat(idiom: str) -> None:
    """Where one school goes out the other goes in, on every rung; nothing else changes (common practice)."""
    body = '"D"d4 e2 f2|"G"g2 f2 e4|"A"e2 dc d2 e2|"D"d8|]'
    out, inward = (arranged("dulcimer", idiom, body, key="D", beat_stroke=way) for way in ("out", "in"))
    other = {Way.DOWN: Way.UP, Way.UP: Way.DOWN}

    def strokes(bar: ArrangedBar, way: Mapping[Way, Way]) -> list[object]:
        return [
            (stroke.onset, way.get(touch.way, touch.way), sorted(note.place for note in touch.notes))
            for stroke in bar.strokes
            for touch in stroke.touches
        ]

    for rung, mirrored in zip(out.rungs[:6], inward.rungs[:6], strict=True):
        for bar, back in zip(rung, mirrored, strict=True):
            assert strokes(bar, other) == strokes(back, {})


def test_the_noter_lies_on_its_string() -> None:
    """A thick line from each stopped note to the next, none from or to the open string; the key says so."""
    ladder = arranged("dulcimer", "noter", '"D"D2E2 F2D2|"D"E2F2 E2D2|]', key="D")
    cell = layout_cell(ladder, 0, ladder.rungs[0][0])
    heads = [mark.x for mark in cell.marks if isinstance(mark, Disc)]
    lines = [(mark.x1, mark.x2) for mark in cell.marks if isinstance(mark, Line) and mark.ink is Ink.MELODY]
    stopped = [bool(stroke.notes[0].place.fret) for stroke in ladder.rungs[0][0].strokes]
    assert lines == [
        (one, other) for (one, other), (a, b) in zip(pairwise(heads), pairwise(stopped), strict=True) if a and b
    ]
    sheet = layout_sheet(ladder, Arrangement(level_path(ladder, 2)))
    words = [mark.text for page in sheet.pages for mark in page.marks if isinstance(mark, Text)]
    assert "the noter stays on the string" in words


def test_a_roll_may_go_down_down_up() -> None:
    """On a held note: down, up, down, up or down, down, up, down over three strings (common practice)."""
    rolled = {}
    for way in ("alternating", "down down up"):
        ladder = arranged("mandolin", "plectrum", '"G"B4 G4|"G"G4 B4|]', rolls=way)
        rolled[way] = {
            tuple(stroke.touches[0].way for stroke in bar.strokes[at : at + 4])
            for bar in ladder.rungs[4]
            for at in (0, 4)
            if "roll" in bar.patterns and len(bar.strokes) >= at + 4
        }
    down, up = Way.DOWN, Way.UP
    assert (down, up, down, up) in rolled["alternating"]
    assert (down, down, up, down) in rolled["down down up"] and (down, up, down, up) not in rolled["down down up"]


def test_a_saz_melody_may_keep_to_one_course() -> None:
    """No stroke takes the drones along in that school; in the usual one most do from rung 3 on (common practice)."""
    body = '"Am"A3 B2 c2 d3|"Am"d3 c2 B2 A3|]'
    usual, alone = (
        arranged("saz", "plectrum", body, "10/8", "Am", courses=way) for way in ("through all courses", "on one course")
    )
    assert any(len(stroke.notes) == 3 for bar in usual.rungs[2] for stroke in bar.strokes)
    assert not any(len(stroke.notes) > 1 for bars in alone.rungs for bar in bars for stroke in bar.strokes)


def test_a_pick_does_not_slur_twice_running() -> None:
    """A plucked note dies: of two notes off the beat in a row one is struck (common practice)."""
    ladder = arranged("mandolin", "plectrum", '"A"A2Bc BAB|"A"c2BA B2A|"A"ABc BAB|"A"A3 A3|]', "6/8", "A")
    for bar in ladder.rungs[3]:
        slurred = [stroke.slurred for stroke in bar.strokes]
        assert not any(one and other for one, other in pairwise(slurred))


def test_a_cittern_gets_seven_rungs_from_rows_alone() -> None:
    """A teacher's own instrument of four courses with a way of playing of its own: the mandolin's, with another row."""
    cittern = built(OwnInstrument("cittern", "mandolin", 4, 480.0, 20, tuning=OwnTuning("low", "G2 D3 A3 D4")))
    rows = (Row("long and two", "dp . | d! u", 2, cost=-20, moving_from=2), *MANDOLIN.right.rows)
    own = replace(MANDOLIN, id="plectrum", right=replace(MANDOLIN.right, rows=rows))
    found = build_ladder(fit_tune(tune('"D"D4 FGAB|"A"c2 BA "D"d4|]', "4/4", "D"), cittern, Wish()), own)
    assert len(found.rungs) == 7 and violations(found) == []
    assert any("long and two" in bar.patterns for bar in found.rungs[1])
    played = [[bar.strokes for bar in bars] for bars in found.rungs]
    assert all(one != two for one, two in pairwise(played))


def test_no_branch_asks_for_an_instrument_or_a_way_of_playing() -> None:
    """All their differences are rows: nothing in core, sheet, formats or web compares with one of their names."""
    names = {*INSTRUMENTS, *(idiom.id for idiom in IDIOMS)}
    asks = re.compile(rf"(?:==|!=|\bin) *[\(\[{{]?[\"'](?:{'|'.join(names)})[\"']")
    root = Path(nailhead.__file__).parent
    for room in ("core", "sheet", "formats", "web"):
        for path in (root / room).rglob("*.py"):
            assert not asks.search(path.read_text(encoding="utf-8")), path


def test_the_second_course_of_a_saz_may_go_along_in_fifths() -> None:
    """Bottom and middle course at one fret lie a fifth apart in A-D-G (handbook §2): a school, not the usual way; the
    simple version has none.
    """
    body = "E4 D4|C4 D4|E8|A8|]"
    usual, along = (arranged("saz", "plectrum", body, key="Am", second_course=way) for way in FIFTHS)

    def stopped(ladder: Ladder, rung: int) -> list[tuple[Fraction, int]]:
        return [
            (melody.pitch.cents - note.pitch.cents, melody.place.fret - note.place.fret)
            for bar in ladder.rungs[rung - 1]
            for stroke in bar.strokes
            for note in stroke.notes
            for melody in stroke.notes
            if note.place.string == 2 and note.place.fret and melody.role is Role.MELODY and melody.place.string == 1
        ]

    assert not stopped(usual, 6) and not stopped(along, 3)
    found = stopped(along, 6)
    assert found and all(480 <= abs(cents) <= 720 and not frets for cents, frets in found)
    assert violations(along) == []


FIFTHS = ("open", "in fifths and fourths")


def test_a_shape_is_found_anew_under_each_strong_note() -> None:
    """Chord melody on D-A-D: F♯ over open courses, A and D with the chord's third under them, which one shape for the
    whole bar would not have (common practice); from the sixth rung a moving pair is struck in octaves.
    """
    row = find_instrument("dulcimer")
    setup = Setup(row, row.tuning("DAD"), 0, None)
    fit = try_octaves(tune('"D"F2 EF A4|"D"D4 F4|"D"D8|]', "4/4", "D"), setup, 0, (), (0,))
    assert fit
    found = build_ladder(fit, "chord-melody")
    for rung in (3, 4, 5):
        for bar in found.rungs[rung - 1][:2]:
            for stroke in bar.strokes:
                if len(stroke.notes) == 3:
                    assert {note.pitch.midi % 12 for note in stroke.notes} == {2, 6, 9}, (rung, stroke.onset)
    pair = found.rungs[5][0].strokes[2]
    low, high = (next(note for note in pair.notes if note.place.string == string) for string in (3, 1))
    assert setup.sounding_cents(high.place) - setup.sounding_cents(low.place) == 1200
    assert low.place.fret == high.place.fret and low.finger < high.finger


@pytest.mark.parametrize(
    ("taken", "quarters", "eighths"),
    [
        ({}, "d.d d.d", "dud dud"),
        ({"jig_quarter": "up"}, "d.u d.u", "dud dud"),
        ({"threes": "down and up through the bar"}, "d.d u.u", "dud udu"),
    ],
)
def test_schools_of_a_jig(taken: dict[str, str], quarters: str, eighths: str) -> None:
    """Groups of three begin down, or the pick goes on in turn; behind a quarter down, or up (common practice)."""
    found = arranged("mandolin", "plectrum", '"G"G2B d2g|"G"gdB gdB|"G"G6|]', "6/8", **taken)

    def ways(bar: ArrangedBar) -> str:
        """A letter a count: what is struck, `-` for the left hand, `.` where it rings."""
        row = ["."] * 6
        for stroke in bar.strokes:
            way = stroke.touches[0].way if stroke.touches else None
            row[int(stroke.onset * 8)] = {Way.DOWN: "d", Way.UP: "u", Way.LEFT: "-"}.get(way, ".")  # type: ignore[arg-type]
        return "".join(row[:3]) + " " + "".join(row[3:])

    assert ways(found.rungs[0][0]) == quarters
    full = ways(found.rungs[3][1])
    assert "d" in full and all(one in ("-", asked) for one, asked in zip(full, eighths, strict=True))


def test_chords_over_all_courses_are_a_school_of_the_saz() -> None:
    """From the sixth rung, of the chord's tones and open courses alone, no rule broken (common practice)."""
    body = '"Am"E4 C4|"Dm"D4 A4|"Am"E8|"Am"A8|]'
    plain, chords = (arranged("saz", "plectrum", body, key="Am", saz_chords=way) for way in ("none", "three courses"))
    assert plain.rungs[:5] == chords.rungs[:5]

    def stopped(ladder: Ladder) -> int:
        strokes = [stroke for bar in ladder.rungs[5] for stroke in bar.strokes]
        return sum(sum(note.place.fret > 0 for note in stroke.notes) > 1 for stroke in strokes)

    assert not stopped(plain) and stopped(chords)
    assert violations(chords) == []
