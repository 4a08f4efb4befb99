"""Six instruments: their frets and tunings against the handbook and mingus, and the bare melody on each of them."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import networkx as nx
import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.left.placing import (
    IMPOSSIBLE,
    UNHURRIED,
    NoteToPlace,
    place_melody,
    spots_of,
    static_cost,
    step_cost,
)
from nailhead.core.arrange.rows.ways import IDIOMS, find_idiom, idioms_of, options_of
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Finger, Role, Way
from nailhead.core.errors import FitError, PathError, SetupError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.fretboard.tunings import TUNINGS
from nailhead.core.music.key import Key, move_key, spell
from nailhead.core.music.pitch import COMMA_CENTS, Pitch, parse_pitch
from nailhead.core.music.tune import Tune, sounding_notes
from nailhead.formats.arrangement_json import arrangement_document
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.text_tab import write_text
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.page import layout_sheet
from tests.core.test_tune import tune
from tests.demo import all_demo_tunes, demo_tunes
from tests.rules import in_tune

#: Rung 1 with the melody as brought in.
EVERY_NOTE = options_of({"melody": "every note"})


def setup_of(tuning: str) -> Setup:
    row = TUNINGS[tuning]
    instrument = find_instrument(row.instrument)
    fifth = row.pitches[instrument.short_strings[0][0] - 1] if instrument.short_strings else None
    return Setup(instrument, row, 0, fifth)


def bare(found: Tune, instrument: str, idiom: str | None = None, **wish: object) -> Ladder:
    """The first rung alone, with every note."""
    way = find_idiom(idiom, find_instrument(instrument), EVERY_NOTE)
    fit = fit_tune(found, find_instrument(instrument), Wish(strings=way.strings, **wish))  # type: ignore[arg-type]
    return build_ladder(fit, replace(way, rungs=way.rungs[:1]))


# -- frets and tunings


def test_dulcimer_frets_are_the_handbook_row() -> None:
    """Semitones of frets 1 to 14 with 6½ and 13½ (handbook §2)."""
    row = find_instrument("dulcimer")
    named = {row.fret_name(fret): int(cents // 100) for fret, cents in enumerate(row.fret_cents)}
    assert named == {
        "0": 0, "1": 2, "2": 4, "3": 5, "4": 7, "5": 9, "6": 10, "6½": 11, "7": 12, "8": 14, "9": 16, "10": 17,
        "11": 19, "12": 21, "13": 22, "13½": 23, "14": 24,
    }  # fmt: skip


@pytest.mark.parametrize(
    ("mode", "start", "steps"),
    [
        ("major", "3", "3 4 5 6 7 8 9 10"),
        ("mixolydian", "0", "0 1 2 3 4 5 6 7"),
        ("dorian", "4", "4 5 6 7 8 9 10 11"),
        ("minor", "1", "1 2 3 4 5 6 7 8"),
        ("major", "0", "0 1 2 3 4 5 6½ 7"),
    ],
)
def test_modes_of_the_dulcimer(mode: str, start: str, steps: str) -> None:
    """The tonic lies at fret 3, 0, 4 or 1; with 6½ major starts on 0 too (mode theory; handbook §2, from memory)."""
    from nailhead.core.music.key import parse_key

    row = find_instrument("dulcimer")
    cents = {row.fret_name(fret): cents for fret, cents in enumerate(row.fret_cents)}
    scale = parse_key({"minor": "Am", "major": "C", "mixolydian": "Gmix", "dorian": "Ddor"}[mode]).scale
    wanted = [(tone - scale[0]) % 12 for tone in scale] + [12]
    assert [int(cents[name] - cents[start]) // 100 for name in steps.split()] == wanted


def test_a_capo_on_a_dulcimer_leaves_another_mode() -> None:
    """Capos at 1, 3 and 4 (common practice): each mode that the table names has all its notes on the melody string, and
    frets are counted from the capo, the half fret among them.
    """
    row = find_instrument("dulcimer")
    assert row.capos == (0, 1, 3, 4)
    for tuning in row.tunings:
        for capo, homes in tuning.capo_homes or ():
            string = Setup(row, tuning, capo).string(1)
            heard = {int(Setup(row, tuning, capo).sounding_cents(Place(1, f)) // 100) % 12 for f in range(13)}
            assert string.last_fret == row.frets - capo and homes
            for tonic, mode in homes:
                sounding = move_key(Key(tonic, mode), row.capo_semitones(capo))[0]
                assert set(sounding.scale) <= heard, (tuning.id, capo, mode)
    under = Setup(row, row.tuning("DAD"), 1)
    assert [under.fret_name(fret) for fret in range(8)] == ["0", "1", "2", "3", "4", "5", "5½", "6"]
    assert str(spell(under.sounding_cents(Place(1, 6)), Key(parse_pitch("E4").pitch_class))) == "C♯5"
    with pytest.raises(SetupError, match="0, 1, 3 or 4"):
        Setup(row, row.tuning("DAD"), 2)


@pytest.mark.parametrize(
    ("string", "fret", "name"), [(2, 5, "B♭²"), (1, 5, "F♯³"), (2, 7, "C"), (1, 7, "G"), (3, 10, "E"), (3, 17, "A")]
)
def test_saz_places_of_d_g_a(string: int, fret: int, name: str) -> None:
    """With courses D-G-A fret 5 gives B♭2 and F♯3, fret 7 C and G (handbook §2, common practice)."""
    setup = setup_of("D-G-A")
    sounding = setup.sounding_cents(Place(string, fret))
    named = [
        Pitch(step, alter, octave, commas)
        for step in "ABCDEFG"
        for alter, commas in ((0, 0), (0, -2), (0, 3), (1, 0), (-1, 0))
        for octave in (3, 4, 5)
    ]
    assert name in {pitch.name for pitch in named if setup.cents_of(pitch) == sounding}


def test_saz_frets_are_seventeen_to_the_octave_of_53_commas() -> None:
    """B♭ B♭2 B C C♯3 C♯ D E♭ E♭2 E E♯ … at 4 7 9 13 … 53 commas above an open A (handbook §2, from memory)."""
    row = find_instrument("saz")
    commas = [cents / COMMA_CENTS for cents in row.fret_cents[:18]]
    assert commas == [0, 4, 7, 9, 13, 16, 18, 22, 26, 29, 31, 35, 38, 40, 44, 47, 49, 53]
    names = {
        4: ("B", -1, 0), 7: ("B", 0, -2), 9: ("B", 0, 0), 13: ("C", 0, 0), 16: ("C", 0, 3), 18: ("C", 1, 0),
        22: ("D", 0, 0), 26: ("E", -1, 0), 29: ("E", 0, -2), 31: ("E", 0, 0), 35: ("F", 0, 0), 38: ("F", 0, 3),
        40: ("F", 1, 0), 44: ("G", 0, 0), 47: ("G", 0, 3), 49: ("G", 1, 0),
    }  # fmt: skip
    a = row.cents_of(parse_pitch("A3"))
    for count, (step, alter, more) in names.items():
        octave = 3 if step in "AB" else 4
        assert (row.cents_of(Pitch(step, alter, octave, more)) - a) / COMMA_CENTS == count


@pytest.mark.parametrize(
    ("instrument", "description", "ours"),
    [
        ("Guitar", "Standard", "EADGBE"),
        ("Guitar", "Drop D", "DADGBE"),
        ("Guitar", "Open G major", "DGDGBD"),
        ("Banjo (5-string)", "Open G", "gDGBD"),
        ("Mandolin", "Standard", "GDAE"),
        ("Ukulele", "Standard C6", "gCEA"),
    ],
)
def test_tunings_are_those_of_mingus(instrument: str, description: str, ours: str) -> None:
    """A general-purpose library's table of tunings has the same pitches, octaves included."""
    from mingus.extra import tunings

    theirs = tunings.get_tuning(instrument, description).tuning
    notes = [course[0] if isinstance(course, list) else course for course in theirs]
    # mingus counts C-0 as 0, MIDI as 12.
    assert [int(note) + 12 for note in notes] == [pitch.midi for pitch in reversed(TUNINGS[ours].pitches)]


@pytest.mark.parametrize("tuning", TUNINGS)
def test_every_tuning_is_named_after_its_strings(tuning: str) -> None:
    """The letters of a tuning, last string first, are the pitch classes of its strings."""
    import re

    letters = re.findall(r"[A-Ga-g][#b]?", TUNINGS[tuning].id)
    names = [str(pitch.pitch_class).replace("♯", "#").replace("♭", "b") for pitch in TUNINGS[tuning].pitches]
    shown = names if "-" in tuning else list(reversed(names))
    assert [letter[0].upper() + letter[1:] for letter in letters] == shown


# -- the bare melody on every instrument


@pytest.mark.parametrize("idiom", IDIOMS, ids=lambda row: row.id)
@pytest.mark.parametrize("found", demo_tunes(), ids=lambda found: found.title)
def test_the_bare_melody_of_every_demo_tune(found: Tune, idiom) -> None:  # type: ignore[no-untyped-def]
    """H1, H3, H4 on each instrument: every note at its onset and pitch, one string each, bars that add up."""
    for instrument in idiom.instruments:
        try:
            ladder = bare(found, instrument, idiom.id)
        except FitError as error:
            assert error.remedy
            continue
        setup = ladder.fit.setup
        for written, bar in zip(ladder.tune.bars, ladder.rungs[0], strict=True):
            assert bar.length == written.length
            struck = [(s.onset, n) for s in bar.strokes for n in s.notes if not n.held]
            assert all(in_tune(setup, n.place, n.pitch) for _, n in struck)
            assert all(n.role is Role.MELODY and (n.finger > 0) == (n.place.fret > 0) for _, n in struck)
            assert all(not idiom.strings or n.place.string in idiom.strings for _, n in struck)
        count = sum(not n.held for bar in ladder.rungs[0] for s in bar.strokes for n in s.notes)
        assert count == len(sounding_notes(ladder.tune))


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_every_output_writes_every_instrument(instrument: str) -> None:
    """Text, JSON, MusicXML and the printed sheet, with as many lines as strings."""
    from xml.etree.ElementTree import fromstring

    ladder = bare(next(found for found in demo_tunes() if found.rhythm == "reel"), instrument)
    path = level_path(ladder, 1)
    strings = INSTRUMENTS[instrument].strings
    text = write_text(ladder, path)
    system = text.split("\n\n")[1].splitlines()
    assert sum("|" in line for line in system) == strings
    assert arrangement_document(ladder, path)["setup"]["instrument"] == instrument
    root = fromstring(write_musicxml(ladder, path).split("\n", 2)[2])
    assert root.findtext(".//staff-details/staff-lines") == str(strings)
    assert layout_sheet(ladder, Arrangement(path), SheetOptions("A4")).pages


def test_the_dulcimer_writes_its_half_fret() -> None:
    """A leading note on DAD is fret 6½ in text, JSON and on the sheet."""
    ladder = bare(tune("D2F2 A2d2|c2c2 d4|]", key="D"), "dulcimer", tuning="DAD")
    path = level_path(ladder, 1)
    assert "6½" in write_text(ladder, path)
    notes = [note["fret_name"] for bar in arrangement_document(ladder, path)["bars"] for note in bar["notes"]]
    assert notes == ["0", "2", "4", "7", "6½", "6½", "7"]


def test_the_noter_keeps_to_the_melody_course() -> None:
    """A note that only another course has is refused by name; chord melody takes it."""
    low = tune("A,2D2 d2a2|G4 D4|]", key="D")
    with pytest.raises(FitError) as refused:
        bare(low, "dulcimer", "noter", tuning="DAD", key="D")
    assert refused.value.remedy
    chords = fit_tune(low, find_instrument("dulcimer"), Wish(tuning="DAD", key="D"))
    with pytest.raises(FitError, match="A3 in bar 1 lies on no melody string of noter and drone"):
        build_ladder(chords, "noter")
    ladder = bare(low, "dulcimer", "chord-melody", tuning="DAD", key="D")
    assert {n.place.string for bar in ladder.rungs[0] for s in bar.strokes for n in s.notes} == {1, 2}


def test_a_chromatic_note_has_no_fret_on_a_dulcimer() -> None:
    """G♯ in a D tune lies between the frets of DAD; the answer names it."""
    with pytest.raises(FitError, match="no fret for G♯"):
        bare(tune("D2^G2 A2d2|]", key="D"), "dulcimer", tuning="DAD", key="D")


def test_a_saz_takes_the_next_fret_where_none_is_in_tune() -> None:
    """C♯ on D-G-A is exact on the top course alone, which no finger stops: a comma low on the middle one, with a
    remark, and nothing is stopped on the top (common practice).
    """
    ladder = bare(tune("A2^c2 d2^c2|A4|]", key="A"), "saz-short", tuning="D-G-A", key="A")
    notes = [(note.pitch.name, note.place) for s in ladder.rungs[0][0].strokes for note in s.notes]
    setup = ladder.fit.setup
    sharps = [place for name, place in notes if name == "C♯"]
    assert sharps == [Place(2, 8)] * 2
    assert setup.sounding_cents(sharps[0]) == setup.cents_of(parse_pitch("C#4")) - COMMA_CENTS
    assert "C♯ is a comma low on string 2 fret 8: no fret has it in tune." in ladder.rungs[0][0].remarks
    assert all(place.fret == 0 for _, place in notes if place.string == 3)


def test_commas_lie_on_the_saz_and_nowhere_else() -> None:
    """The demo tune in commas: on its frets on both sazes, refused by name on the others."""
    found = next(found for found in all_demo_tunes() if found.title == "Walnut Court")
    for name in INSTRUMENTS:
        if name.startswith("saz"):
            ladder = bare(found, name)
            assert len({n.place for bar in ladder.rungs[0] for s in bar.strokes for n in s.notes}) >= 6
        else:
            with pytest.raises(FitError, match="no fret for B♭²"):
                bare(found, name)


@pytest.mark.parametrize(
    ("metre", "body", "hands"),
    [
        ("4/4", "G2AB cdef", "d d u d u d u".replace("d d u", "d d u")),
        ("6/8", "GAB cde", "d u d d u d"),
        ("4/4", "G3A zBcd", "d u u d u"),
        ("7/8", "GABcdef", "d u d u d u d"),
    ],
)
def test_a_pick_follows_the_clock(metre: str, body: str, hands: str) -> None:
    """Down on the beat, up behind it, after a rest too; jigs go ↓↑↓ ↓↑↓ (handbook §4, common practice)."""
    ladder = bare(tune(body + "|]", metre, unit="1/8"), "mandolin")
    struck = [touch for s in ladder.rungs[0][0].strokes for touch in s.touches]
    assert {touch.by for touch in struck} == {Finger.PICK}
    assert " ".join({Way.DOWN: "d", Way.UP: "u"}[touch.way] for touch in struck) == hands


def test_three_fingers_keep_to_their_strings() -> None:
    """Middle on the first string, index on the second, thumb below (handbook §4)."""
    ladder = bare(tune("D2G2 B2d2|]"), "banjo", "three-finger")
    struck = [(n.place.string, t.by) for s in ladder.rungs[0][0].strokes for t in s.touches for n in t.notes]
    assert all(by is {1: Finger.MIDDLE, 2: Finger.INDEX}.get(string, Finger.THUMB) for string, by in struck)


def test_idioms_belong_to_instruments() -> None:
    """A wrong pair is refused with those there are; each instrument has a usual one."""
    for name in INSTRUMENTS:
        assert idioms_of(find_instrument(name))
    with pytest.raises(PathError, match="not played") as refused:
        find_idiom("clawhammer", find_instrument("guitar"))
    assert "plectrum" in refused.value.remedy


@pytest.mark.parametrize("tuning", ["GDAE", "DAD", "gCEA", "EADGBE", "D-G-A", "gCGCD"])
def test_placement_is_the_shortest_path_of_networkx(tuning: str) -> None:
    """On every instrument Dijkstra's algorithm finds no cheaper way than ours."""
    setup = setup_of(tuning)
    scale = [found for found in range(60, 78) if setup.places(Fraction(100 * found))] or [0]
    cents = [Fraction(100 * midi) for midi in scale]
    if setup.instrument.commas:
        cents = [setup.cents_of(parse_pitch(name)) for name in ("D4", "E4", "G4", "A4", "B4", "A4", "D5", "C5")]
    notes = [
        NoteToPlace(sound, Fraction(1, 8 + 4 * (at % 2)), setup.places(sound)) for at, sound in enumerate(cents[:10])
    ]
    assert len(notes) >= 6
    graph = nx.DiGraph()
    layers = [[spot for place in note.places for spot in spots_of(place, setup)] for note in notes]
    for spot in layers[0]:
        graph.add_edge("start", (0, spot), weight=static_cost(spot, setup))
    for index in range(1, len(layers)):
        for before in layers[index - 1]:
            for after in layers[index]:
                step = step_cost(before, after, notes[index - 1].gap >= UNHURRIED)
                if step < IMPOSSIBLE:
                    graph.add_edge((index - 1, before), (index, after), weight=step + static_cost(after, setup))
    for spot in layers[-1]:
        graph.add_edge((len(layers) - 1, spot), "end", weight=0)
    assert place_melody(notes, setup).cost == nx.dijkstra_path_length(graph, "start", "end")


def test_tunings_are_offered_whole() -> None:
    """Every tuning of the handbook is there, and at least one usual one for each instrument."""
    for name in INSTRUMENTS:
        assert any(row.usual for row in find_instrument(name).tunings)
    assert find_instrument("ukulele").tuning("low G").pitches[3] == parse_pitch("G3")
    assert len(TUNINGS) >= 30
