"""What belongs to a chord, a scale and a drone, in cents: on frets of semitones as by arithmetic, on a saz by name."""

from __future__ import annotations

from fractions import Fraction

import pytest

from nailhead.core.arrange.tones import Tones, tones_on
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.setup import Place, plain_setup
from nailhead.core.music.chord import QUALITIES, Chord, parse_chord
from nailhead.core.music.key import MODES, Key, parse_key
from nailhead.core.music.pitch import COMMA_CENTS, Pitch, PitchClass

NAMES = [PitchClass.from_fifths(fifths) for fifths in range(-5, 7)]


def on(instrument: str, tuning: str) -> Tones:
    found = find_instrument(instrument)
    return tones_on(plain_setup(found, found.tuning(tuning)))


@pytest.mark.parametrize("quality", QUALITIES)
def test_chord_tones_on_semitones_are_those_of_the_published_intervals(quality: str) -> None:
    """Every root and quality against sums of semitones modulo twelve, in three octaves."""
    tones = on("banjo", "gDGBD")
    for root in NAMES:
        chord = Chord(root, quality)
        for midi in range(48, 84):
            wanted = (midi - root.semitone) % 12 in {interval % 12 for interval in QUALITIES[quality]}
            assert tones.in_chord(Fraction(100 * midi), chord) == wanted
    assert not tones.in_chord(Fraction(6000), None)


@pytest.mark.parametrize("mode", MODES)
def test_scales_on_semitones_are_those_of_the_signature(mode: str) -> None:
    """Every tonic; seven of twelve."""
    tones = on("mandolin", "GDAE")
    for tonic in NAMES:
        key = Key(tonic, mode)
        found = {midi for midi in range(12) if tones.in_scale(Fraction(100 * (60 + midi)), key)}
        assert found == set(key.scale) and len(found) == 7


def test_a_drone_is_tonic_or_fifth_and_no_semitone_from_the_root() -> None:
    """Common practice: G and D ring in G over anything but A♭ and F♯; other notes only where they are chord tones."""
    tones, key = on("banjo", "gDGBD"), parse_key("G")
    for root in NAMES:
        chord = Chord(root)
        for midi in (67, 74):
            clash = (midi - root.semitone) % 12 in (1, 11)
            assert tones.drones(Fraction(100 * midi), chord, key) == (not clash)
        assert tones.drones(Fraction(7100), chord, key) == (11 in chord.tones)
    assert tones.drones(Fraction(6700), None, key) and not tones.drones(Fraction(7100), None, key)


def test_a_long_saz_has_the_tones_of_a_minor() -> None:
    """A, C and E by name lie on every course; counted in semitones only five of 75 places did."""
    tones, chord = on("saz", "A-D-G"), parse_chord("Am")
    places = [Place(course, fret) for course in (1, 2, 3) for fret in range(25)]
    belong = [place for place in places if tones.in_chord(tones.setup.sounding_cents(place), chord)]
    wanted = {int(tones.setup.cents_of(Pitch(name, 0, 4))) % 1200 for name in "ACE"}
    assert [p for p in places if int(tones.setup.sounding_cents(p)) % 1200 in wanted] == belong
    assert len(belong) == 14 and {place.string for place in belong} == {1, 2, 3}


def test_a_saz_scale_has_its_commas_and_not_the_semitone_beside_them() -> None:
    """In A minor with B♭², that note is of the scale and plain B is not; handbook §2 counts commas of 1200/53 cents."""
    tones = on("saz", "A-D-G")
    key = Key(PitchClass("A"), "minor", (("B", 0),), (("B", -2),))
    b = tones.setup.cents_of(Pitch("B", 0, 4))
    assert tones.in_scale(b - 2 * COMMA_CENTS, key)
    assert not tones.in_scale(b, key)


@pytest.mark.parametrize(("instrument", "tuning"), [("saz", "A-D-G"), ("saz-short", "D-G-A"), ("dulcimer", "DAD")])
def test_every_place_has_a_name_that_sounds_as_it_does(instrument: str, tuning: str) -> None:
    """The name a sheet writes is the height of the fret, commas and all."""
    tones, key = on(instrument, tuning), parse_key("Am")
    for string in tones.setup.strings:
        for fret in range(string.last_fret + 1):
            cents = tones.setup.sounding_cents(Place(string.number, fret))
            assert tones.setup.cents_of(tones.name(cents, key)) == cents


def test_the_open_courses_of_a_saz_drone_in_their_keys() -> None:
    """The fifth of the key counts in commas: 31 of them are no 700 cents."""
    tones, key = on("saz", "A-D-G"), parse_key("D")
    heights = {name: tones.setup.cents_of(Pitch(name, 0, 4)) for name in "ADG"}
    assert tones.drones(heights["A"], None, key) and tones.drones(heights["D"], None, key)
    assert not tones.drones(heights["G"], None, key)
    assert tones.is_root(heights["D"], parse_chord("D7")) and not tones.is_root(heights["A"], parse_chord("D7"))
