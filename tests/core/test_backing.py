"""Chord parts: the rows a second player strums, what they strike, and that they are printed and heard."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import pytest
from mingus.core import chords as mingus_chords

from nailhead.core.arrange.fit.backing import CLOSED, backing_part
from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.left.bass import bass_place
from nailhead.core.arrange.rows.backing import BACKING, backing_of
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import ArrangedBar, Role
from nailhead.core.fretboard.fingering import finger_stops
from nailhead.core.fretboard.fit import fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.chord import parse_chord
from nailhead.core.music.tune import Tune
from nailhead.sheet.marks import Text
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.page import layout_sheet
from tests.core.test_tune import tune
from tests.corpora import sized
from tests.demo import demo_tunes
from tests.sheet.test_layout import overlapping
from tests.struck import letters

BODY = '"C"C2E2 G2E2|"G7"D2F2 B2G2|'


def ladder_on(instrument: str, found: Tune, tuning: str | None = None, capo: int | None = None) -> Ladder:
    """A ladder of one rung: a chord part stands on the tune and the setup alone."""
    row = find_instrument(instrument)
    way = find_idiom(None, row)
    way = replace(way, rungs=way.rungs[:1])
    return build_ladder(fit_tune(found, row, planned(found, row, way, wished(way, tuning, capo))), way)


def played(bar: ArrangedBar) -> str:
    """(onset in eighths) places of each stroke: "0:5.3" is string 5, fret 3."""
    return " ".join(
        f"{int(stroke.onset * 8)}:" + "+".join(f"{n.place.string}.{n.place.fret}" for n in stroke.notes)
        for stroke in bar.strokes
        if stroke.notes
    )


def test_a_guitar_walks_between_root_and_fifth() -> None:
    """`vb. Sa. vf. Sa sa` over C as players hold it: A string fret 3, chord, low G, chord, chord (common practice)."""
    bar, g7 = backing_part(ladder_on("guitar", tune(BODY, key="C"), "EADGBE", 0), "bass and strum")
    c = "1.0+2.1+3.0+4.2+5.3"
    assert played(bar) == f"0:5.3 2:{c} 4:6.3 6:{c} 7:{c}"
    assert played(g7).startswith("0:6.3 2:") and " 4:4.0 6:" in played(g7)


def test_a_mandolin_chops_closed_shapes_on_two_and_four() -> None:
    """`.. X... X.`: silent on one and three, three courses or more under fingers, damped (common practice)."""
    for bar in backing_part(ladder_on("mandolin", tune(BODY, key="C")), "chop"):
        struck = [stroke for stroke in bar.strokes if stroke.notes]
        assert [int(stroke.onset * 8) for stroke in struck] == [2, 6]
        for stroke in struck:
            assert all(touch.muted for touch in stroke.touches) and len(stroke.notes) >= CLOSED
            assert all(note.place.fret for note in stroke.notes)


@pytest.mark.parametrize(
    ("metre", "body", "onsets"),
    [
        ("3/4", '"G"G2B2d2|', [0, 2, 4, 5]),
        ("6/8", '"G"GBd gdB|', [0, 2, 3, 5]),
        ("7/8", '"G"GBdgdBG|', [0, 2, 4]),
        ("9/8", '"G"GBd gdB GBd|', [0, 3, 6]),
    ],
)
def test_each_metre_has_its_figure(metre: str, body: str, onsets: list[int]) -> None:
    """Waltz `vb. Sa. Sa sa`, jig `vb. Sa vf. Sa` (common practice); where no text fills the bar, one strum a group."""
    (bar,) = backing_part(ladder_on("guitar", tune(body, metre)), "bass and strum")
    assert [int(stroke.onset * 8) for stroke in bar.strokes if stroke.notes] == onsets


@pytest.mark.parametrize("instrument", [name for name in INSTRUMENTS if not name.startswith("saz")])
def test_only_chord_tones_are_struck_and_a_hand_holds_them(instrument: str) -> None:
    """Every pattern on demo tunes: bars filled, chord tones as mingus spells them, four fingers."""
    for found in demo_tunes()[: sized(4, 99)]:
        ladder = ladder_on(instrument, found)
        setup = ladder.fit.setup
        holdable = cache(lambda stops, setup=setup: finger_stops(dict(stops), setup) is not None)
        for row in backing_of(setup.instrument.kind):
            for written, harmony, bar in zip(
                ladder.tune.bars, ladder.structure.harmony, backing_part(ladder, row.name), strict=True
            ):
                assert sum(stroke.duration for stroke in bar.strokes) == written.length
                for stroke in bar.strokes:
                    chord = next(span.chord for span in reversed(harmony) if span.onset <= stroke.onset)
                    stops = {note.place.string: note.place.fret for note in stroke.notes if note.place.fret}
                    assert holdable(tuple(sorted(stops.items())))
                    for note in stroke.notes:
                        assert chord and note.role is Role.CHORD
                        assert int(setup.sounding_cents(note.place) // 100) % 12 in _tones(str(chord))


@cache
def _tones(chord: str) -> set[int]:
    """The semitones of a chord as mingus spells it."""
    return {_semitone(name) for name in mingus_chords.from_shorthand(chord.replace("♯", "#").replace("♭", "b"))}


def _semitone(name: str) -> int:
    return (dict(zip("CDEFGAB", (0, 2, 4, 5, 7, 9, 11), strict=True))[name[0]] + name.count("#") - name.count("b")) % 12


def test_the_last_bar_is_cut_where_the_upbeat_begins() -> None:
    """A jig with an upbeat of an eighth: the bar of five eighths is strummed as far as it goes."""
    ladder = ladder_on("guitar", tune('"G"d|GBd gdB|"D"A3 A2|]', "6/8"))
    upbeat, full, last = backing_part(ladder, "bass and strum")
    assert not any(stroke.notes for stroke in upbeat.strokes)
    assert [int(stroke.onset * 8) for stroke in full.strokes if stroke.notes] == [0, 2, 3, 5]
    assert [int(stroke.onset * 8) for stroke in last.strokes if stroke.notes] == [0, 2, 3]
    assert sum(stroke.duration for stroke in last.strokes) == ladder.tune.bars[2].length


def test_a_chord_over_another_bass_has_it_lowest() -> None:
    """D/F♯: the bass that the name asks for, then the fifth."""
    setup = ladder_on("guitar", tune(BODY, key="C"), "EADGBE", 0).fit.setup
    assert bass_place(setup, parse_chord("D/F#"), other=False) == Place(6, 2)
    assert bass_place(setup, parse_chord("D"), other=True) == Place(5, 0)


@pytest.mark.parametrize("row", BACKING, ids=lambda row: row.name)
def test_a_part_is_printed_in_place_of_the_tune(row) -> None:  # type: ignore[no-untyped-def]
    """The heading names it, no melody head is on the page, nothing lies on another."""
    ladder = ladder_on(next(iter(row.kinds), "dulcimer"), demo_tunes()[0])
    sheet = layout_sheet(ladder, Arrangement(level_path(ladder, 1)), SheetOptions(part=row.name))
    texts = [mark.text for page in sheet.pages for mark in page.marks if isinstance(mark, Text)]
    assert f"Chords: {row.name}" in texts and "melody" not in texts
    assert all(overlapping(page.marks) == [] for page in sheet.pages)
    assert not any("T" in letters(stroke) for bar in backing_part(ladder, row.name) for stroke in bar.strokes)
