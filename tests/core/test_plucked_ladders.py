"""The ladders under fingers and thumb: ukulele and guitar, what the hands do on them, what may be left out."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import wished
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.rows.ways import find_idiom, options_of
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.leaving_out import without_fillers
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Finger, Role, Shake, Stroke, Trembling, Way
from nailhead.core.fretboard.fit import fit_tune, try_octaves
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.chord import parse_chord
from nailhead.core.sound.playing import Pace, PlayedBar, tones_of
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.text_tab import write_text
from nailhead.sheet.ladder_view import layout_cell
from nailhead.sheet.marks import Curve, Text
from nailhead.sheet.page import layout_sheet
from tests.arrange_report import PLUCKED, ladders_of
from tests.core.test_picked_ladders import ladder, shakes
from tests.core.test_tune import tune
from tests.corpora import sized
from tests.ladder_measures import measure_ladders
from tests.rules import violations


@pytest.mark.parametrize(("instrument", "idiom", "tuning"), PLUCKED)
def test_rules_hold_under_fingers_and_thumb(instrument: str, idiom: str, tuning: str | None) -> None:
    """Real tunes: the melody on top, its own strings for what accompanies, no finger twice running but in chords; and
    every rung is a step.
    """
    ladders = ladders_of(sized(4, 300), idiom, instrument, tuning)
    assert len(ladders) >= 3
    for number, found in enumerate(ladders):
        assert violations(found, frame=number % 4 == 0) == [], found.tune.title
    rows = measure_ladders(ladders)
    for rung in range(2, 8):
        most = sized(25, 20)  # a small sample varies; the strum under a dense tune has the least to add
        assert 100 * rows[rung].equal <= most * rows[rung].bars, (rung, rows[rung].equal, rows[rung].bars)


@pytest.mark.parametrize("tuning", ["gCEA", "GCEA"])
def test_without_its_fillers_a_bar_is_the_melody_with_its_chords(tuning: str) -> None:
    """On the fifth rung: what may be left out, left out, is the rung below to the note; what is left out is soft."""
    row = find_instrument("ukulele")
    body = '"C"E2FG c4|"F"A2GF "C"E4|"G7"D2EF G4|"C"C8|]'
    fit = try_octaves(tune(body, "4/4", "C"), Setup(row, row.tuning(tuning), 0, None), 0, (), (0,))
    assert fit
    found = build_ladder(fit, "fingerstyle")
    bare, left = without_fillers(found), 0
    for below, bar, plain in zip(found.rungs[3][:3], found.rungs[4][:3], bare.rungs[4][:3], strict=True):
        kept = [stroke for stroke in bar.strokes if not all(note.optional for note in stroke.notes)]
        left += len(bar.strokes) - len(kept)
        assert sum(stroke.duration for stroke in plain.strokes) == bar.length  # what was struck before rings on

        def played(strokes: Sequence[Stroke]) -> list[object]:
            return [(one.onset, sorted((note.place, bool(note.slur)) for note in one.notes)) for one in strokes]

        assert played(plain.strokes) == played(kept) == played(below.strokes)
        assert all(touch.loudness == 45 for one in bar.strokes for touch in one.touches if one not in kept)
    assert left > 4
    framed = [bar for frame in (bare.kick_off, bare.ending) if frame for bar in frame.bars]
    for bar in (*itertools.chain.from_iterable(bare.rungs), *bare.second.values(), *framed):
        assert not any(note.optional for stroke in bar.strokes for note in stroke.notes)


def test_the_thumb_goes_through_the_basses_of_a_chord() -> None:
    """Root, third, fifth and third of C: for the fifth the ring finger hops from string 5 to 6 (common practice)."""
    found = ladder('"C"c8|"C"e8|]', "guitar", key="C", idiom="fingerstyle")
    strokes = found.rungs[5][0].strokes
    basses = [note for one in strokes for note in one.notes if note.place.string > 3]
    assert [tuple(note.place) for note in basses] == [(5, 3), (4, 2), (6, 3), (4, 2)]
    assert [note.finger for note in basses] == [3, 2, 3, 2]


def test_two_basses_go_to_and_fro() -> None:
    """D in standard tuning has its root and its fifth on open strings: D A D A, never D A A A (common practice)."""
    found = ladder('"D"fdfa fdfa|"D"dfad fafd|"D"d8|]', "guitar", key="D", idiom="fingerstyle")
    for rung in (3, 5, 6, 7):
        for bar in found.rungs[rung - 1][:2]:
            basses = [tuple(note.place) for one in bar.strokes for note in one.notes if note.place.string > 3]
            assert basses == [(4, 0), (5, 0), (4, 0), (5, 0)], rung


def test_a_steady_bass_stays_on_the_root() -> None:
    """The other school of the thumb: root on every beat (common practice)."""
    row = find_instrument("guitar")
    way = find_idiom("fingerstyle", row, options_of({"bass": "steady"}))
    found = build_ladder(fit_tune(tune('"C"c8|"C"e8|]', "4/4", "C"), row, wished(way)), way)
    basses = {tuple(note.place) for one in found.rungs[2][0].strokes for note in one.notes if note.place.string > 3}
    assert basses == {(5, 3)}


def schooled(instrument: str, body: str, metre: str = "4/4", key: str = "C", **taken: str) -> Ladder:
    row = find_instrument(instrument)
    way = find_idiom("fingerstyle", row, options_of(taken))
    return build_ladder(fit_tune(tune(body, metre, key), row, wished(way)), way)


LINE = '"C"E2 F2 G2 c2|"G"B2 G2 "C"E4|"F"A2 F2 A2 c2|"C"G4 E4|]'


@pytest.mark.parametrize("instrument", ["guitar", "ukulele"])
def test_a_hand_may_pluck_with_two_fingers_and_thumb(instrument: str) -> None:
    """The ring finger does nothing on any rung, and all rules hold (common practice)."""
    usual = schooled(instrument, LINE)
    found = schooled(instrument, LINE, plucking_fingers="thumb and two")
    assert Finger.RING in fingers(usual) and Finger.RING not in fingers(found)
    assert violations(found) == []


def fingers(found: Ladder) -> set[Finger | None]:
    strokes = (stroke for rung in found.rungs for bar in rung for stroke in bar.strokes)
    return {touch.by for stroke in strokes for touch in stroke.touches}


def test_a_ukulele_chord_may_be_the_thumbs_strum() -> None:
    """One movement towards string 1 that ends on the melody's string, which is the highest (handbook §4)."""
    found = schooled("ukulele", LINE, uke_chords="strummed with the thumb")
    for bar in found.rungs[2]:
        (sweep,) = bar.strokes[0].touches
        assert (sweep.by, sweep.way) == (Finger.THUMB, Way.DOWN) and len(sweep.notes) > 1
        last = sweep.notes[-1]
        assert last.role is Role.MELODY and last.place.string == min(note.place.string for note in sweep.notes)
    assert violations(found) == []


def test_the_thumb_may_have_string_3_as_well() -> None:
    """The chord of D then has its bass in turn on strings 4 and 3; else it goes down to string 5 (common practice)."""
    body = '"D"f8|"D"a8|"D"f4 a4|"D"d8|]'
    for taken, strings in ({}, {4, 5}), ({"thumb_strings": "string 3 as well"}, {4, 3}):
        found = schooled("guitar", body, key="D", **taken)
        bar = found.rungs[2][1]
        basses = {
            note.place.string
            for stroke in bar.strokes
            for touch in stroke.touches
            for note in touch.notes
            if touch.by is Finger.THUMB and note.role is Role.CHORD
        }
        assert basses == strings, taken


def test_the_bass_is_damped_or_rings() -> None:
    """Under the palm a bass is short and the melody rings; a T with a dot on the page (common practice)."""
    for taken, short in ({}, True), ({"damping": "left to ring"}, False):
        found = schooled("guitar", LINE, **taken)
        played = [PlayedBar(bar, found.tune.bars[0].metre, Fraction(0)) for bar in found.rungs[2]]
        tones = tones_of(played, found.fit.setup, Pace(Fraction(1, 4), 60))
        longest = max(tone.seconds for tone in tones if tone.string > 3)
        assert (longest < 0.5) == short
        assert max(tone.seconds for tone in tones if tone.string <= 3) > 1
        sheet = layout_sheet(found, Arrangement(level_path(found, 3)))
        texts = {mark.text for page in sheet.pages for mark in page.marks if isinstance(mark, Text)}
        assert ("T." in texts) == short


def test_a_slap_is_heard_written_and_drawn() -> None:
    """Damped on a bass string, on the second beat of the half bar; ×, and K in a text (common practice)."""
    found = ladder('"G"d8|"C"e8|"D"d8|"G"g8|]', "guitar", key="G", idiom="fingerstyle")
    slaps = [
        (rung, touch)
        for rung, bars in enumerate(found.rungs, 1)
        for bar in bars
        for stroke in bar.strokes
        for touch in stroke.touches
        if touch.way is Way.SLAP
    ]
    assert slaps and min(rung for rung, _ in slaps) == 6
    assert all(touch.muted and touch.notes[0].place.string > 3 for _, touch in slaps)
    assert re.search(r"\bK\b", write_text(found, level_path(found, 6)))


LOW = {"ukulele": '"G"G,2 A,2 B,2 D2|"C"C4 "G"B,4|"D"A,2 D2 B,2 A,2|"G"G,8|]', "guitar": '"D"D,2 E,2 F,2 A,2|"G"G,8|]'}


@pytest.mark.parametrize(
    ("instrument", "other", "tuning"), [("ukulele", "strum", "GCEA"), ("guitar", "plectrum", "EADGBE")]
)
def test_the_melody_leaves_the_strings_of_the_thumb(instrument: str, other: str, tuning: str) -> None:
    """A tune that lies on the bass strings goes up an octave; under thumb or pick alone it stays (common practice)."""
    row, found = find_instrument(instrument), tune(LOW[instrument], "4/4", "G")
    fits = []
    for idiom in ("fingerstyle", other):
        way = find_idiom(idiom, row)
        fits.append(fit_tune(found, row, wished(way, tuning, 0)))
        strings = {spot.place.string for spot in build_ladder(fits[-1], way).placement.spots}
        assert (max(strings) <= 3) == (idiom == "fingerstyle")
    assert fits[0].semitones == fits[1].semitones + 12


def test_the_last_chord_of_a_part_is_rolled() -> None:
    """From rung 6 on, from the bass to the treble: heard so, with the sign of an arpeggio on page and in the score
    (common practice).
    """
    found = ladder('"C"E2FG c4|"G7"d4 "C"c4|]', "ukulele", key="C", idiom="fingerstyle")
    assert Trembling.ROLLED not in shakes(found, 5)
    bar = found.rungs[5][-1]
    stroke = next(stroke for stroke in bar.strokes if stroke.shake)
    assert stroke.shake == Shake(Trembling.ROLLED) and len(stroke.touches) >= 3
    metre = found.fit.tune.bars[0].metre
    tones = tones_of([PlayedBar(bar, metre, stroke.onset * 0)], found.fit.setup, Pace(metre.length / 4, 60))
    begun = [tone for tone in tones if 0 <= tone.at - 4 * float(stroke.onset) < 0.2]
    strings = [tone.string for tone in sorted(begun, key=lambda tone: tone.at)]
    assert strings == sorted(strings, reverse=True) and len({tone.at for tone in begun}) == len(stroke.notes)
    score = write_musicxml(found, level_path(found, 6))
    assert score.count("<arpeggiate") == len(stroke.notes) and "rolled" in score
    assert "~P" in write_text(found, level_path(found, 6))
    plain = replace(bar, strokes=tuple(replace(one, shake=None) for one in bar.strokes))
    curves = [sum(isinstance(mark, Curve) for mark in layout_cell(found, 1, one).marks) for one in (bar, plain)]
    assert curves[0] > curves[1]


def test_a_finger_that_makes_room_says_why() -> None:
    """D on string 2 over a held C: the ring finger is on string 5, so the little finger takes it (common practice)."""
    found = ladder('"C"e2 d2 c4|"C"c8|]', "guitar", key="C", idiom="fingerstyle")
    bar = found.rungs[2][0]
    note = next(note for stroke in bar.strokes for note in stroke.notes if tuple(note.place) == (2, 3))
    assert note.finger == 4
    said = "The little finger takes fret 3 of string 2 at beat 2, because the ring finger holds string 5."
    assert said in bar.remarks and said not in found.rungs[0][0].remarks


@pytest.mark.parametrize(("instrument", "tuning"), [("ukulele", "gCEA"), ("guitar", "EADGBE"), ("guitar", "DADGAD")])
@given(data=st.data())
@settings(max_examples=sized(12, 200), deadline=None)
def test_no_other_shape_is_cheaper_under_a_melody(instrument: str, tuning: str, data: st.DataObject) -> None:
    """The shape held under melody notes is the cheapest of all that a search without short cuts finds, and holds them
    in reach or says what it lets go.
    """
    row = find_instrument(instrument)
    setup = Setup(row, row.tuning(tuning), 0, None)
    book = ShapeBook(setup, find_idiom("fingerstyle", row).left)
    chord = parse_chord(data.draw(st.sampled_from(("C", "G", "Am", "F", "D7", "Em", "Bb", "A7"))))
    pitches = st.integers(6200, 7700).map(lambda cents: Fraction(cents // 100 * 100))
    heard = data.draw(st.lists(pitches, min_size=1, max_size=4))
    places = [min(setup.places(cents), key=lambda place: place.fret) for cents in heard if setup.places(cents)]
    every = {shape: shape.cost + sum(book.hold_cost(shape, place) for place in places) for shape in book.of(chord)}
    found = book.cheapest(chord, places)
    assert found is not None and every[found] == min(every.values())
    for place in places:
        together = book.together(found, place)
        if together:
            frets = [fret for fret in together.frets.values() if fret]
            assert not frets or setup.distance_mm(min(frets), max(frets)) <= row.span_mm
            assert len({*together.fingers.values()}) <= 4


def test_a_campanella_note_rings_on_the_high_fourth_string() -> None:
    """G behind F of string 2 is the open fourth string from the sixth rung on, with its reason; never below."""
    row = find_instrument("ukulele")
    setup = Setup(row, row.tuning("gCEA"), 0, None)
    fit = try_octaves(tune('"C"E2FG c4|"F"A2GF "C"E4|]', "4/4", "C"), setup, 0, (), (0,))
    assert fit
    found = build_ladder(fit, "fingerstyle")

    def on_fourth(rung: int) -> list[object]:
        return [
            stroke.onset
            for bar in found.rungs[rung - 1]
            for stroke in bar.strokes
            for note in stroke.notes
            if note.role is Role.MELODY and note.place.string == 4
        ]

    assert not any(on_fourth(rung) for rung in range(1, 6)) and len(on_fourth(6)) == 2
    assert all("open string" in moved.why for bar in found.rungs[5] for moved in bar.moved)
