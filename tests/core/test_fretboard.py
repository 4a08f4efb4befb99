"""Instruments, tunings, setups, fit and cautions, against the handbook's check values."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nailhead.core.errors import FitError, SetupError
from nailhead.core.fretboard.cautions import Retuning, caution_of, cautions, retunings
from nailhead.core.fretboard.fit import Fit, Wish, fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.setup import Place, Setup, default_drone
from nailhead.core.fretboard.strings import Gauge, stress_pa, tension_n
from nailhead.core.fretboard.tunings import TUNINGS, tuning_moved
from nailhead.core.music.key import parse_key, spell
from nailhead.core.music.pitch import hertz_of, parse_pitch
from tests.core.test_tune import tune

BANJO = find_instrument("banjo")


def setup(tuning: str = "gDGBD", capo: int = 0, fifth: str = "G4") -> Setup:
    return Setup(BANJO, BANJO.tuning(tuning), capo, parse_pitch(fifth))


def fitted(written: str, **wish: object) -> Fit:
    return fit_tune(tune("GABc d2ef|g4 G4|", key=written), BANJO, Wish(**wish))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("one", "other"), [(Place(3, 4), Place(2, 0)), (Place(2, 3), Place(1, 0)), (Place(4, 5), Place(3, 0))]
)
def test_unisons_of_open_g(one: Place, other: Place) -> None:
    """String 3 fret 4 = open 2; string 2 fret 3 = open 1; string 4 fret 5 = open 3 (handbook §2, common practice)."""
    assert setup().sounding_cents(one) == setup().sounding_cents(other)


@pytest.mark.parametrize("fret", [6, 7, 10, 12])
def test_the_short_fifth_string(fret: int) -> None:
    """Fretted at n > 5 it sounds n - 5 semitones above its open pitch (handbook §2)."""
    banjo = setup()
    assert banjo.sounding_cents(Place(5, fret)) == banjo.string(5).open_cents + 100 * (fret - 5)


@pytest.mark.parametrize(
    ("tuning", "capo", "fifth", "strings"),
    [
        ("gDGBD", 0, "G4", "D4 B3 G3 D3 G4"),
        ("gDGBD", 2, "A4", "E4 C#4 A3 E3 A4"),
        ("gCGCD", 2, "A4", "E4 D4 A3 D3 A4"),
    ],
)
def test_capo_raises_the_long_strings_only(tuning: str, capo: int, fifth: str, strings: str) -> None:
    """Capo 2 on double C gives double D; the fifth string has its own pitch (handbook §2, common practice)."""
    expected = [parse_pitch(name).cents for name in strings.split()]
    assert [string.open_cents for string in setup(tuning, capo, fifth).strings] == expected


@pytest.mark.parametrize(
    ("key", "tuning", "capo", "fifth", "shape"),
    [
        ("G", "gDGBD", 0, "G4", "G major"),
        ("A", "gDGBD", 2, "A4", "G major"),
        ("C", "gCGCD", 0, "G4", "C major"),
        ("D", "gCGCD", 2, "A4", "C major"),
        ("Dmix", "gCGCD", 2, "A4", "C mixolydian"),
    ],
)
def test_setups_players_choose(key: str, tuning: str, capo: int, fifth: str, shape: str) -> None:
    """G shapes with capo 2 sound A with the fifth at A; C shapes with capo 2 sound D (handbook §2, common practice)."""
    fit = fitted(key)
    chosen = fit.setup
    assert (chosen.tuning.id, chosen.capo, chosen.fifth) == (tuning, capo, parse_pitch(fifth))
    assert str(fit.shape_key) == shape
    assert fit.semitones % 12 == 0


def test_an_a_minor_shape_with_capo_2_is_b_minor() -> None:
    """Handbook §2, common practice."""
    from nailhead.core.music.chord import parse_chord, transpose_chord

    fit = fitted("D", tuning="gCGCD", capo=2)
    assert str(transpose_chord(parse_chord("Bm"), fit.shape_fifths)) == "Am"


@pytest.mark.parametrize(("key", "fifth"), [("G", "G4"), ("C", "G4"), ("A", "A4"), ("D", "A4"), ("E", "B4")])
def test_the_drone_is_tonic_or_fifth(key: str, fifth: str) -> None:
    """G for G and C; A for A and D (handbook §2, common practice)."""
    assert default_drone(TUNINGS["gDGBD"], BANJO, parse_key(key)) == parse_pitch(fifth)


@pytest.mark.parametrize(("key", "capo", "fifth"), [("Bb", 3, "Bb4"), ("A", 2, "A4"), ("B", 4, "B4"), ("D", 2, "A4")])
def test_the_fifth_string_follows_the_capo_where_it_belongs(key: str, capo: int, fifth: str) -> None:
    """In B flat with the capo at 3 it is B flat, not the nearer F (common practice)."""
    assert default_drone(TUNINGS["gDGBD"], BANJO, parse_key(key), capo) == parse_pitch(fifth)


@pytest.mark.parametrize("tonic", ["C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"])
@pytest.mark.parametrize("mode", ["", "m", "mix", "dor"])
def test_every_key_has_a_setup_at_its_own_pitch(tonic: str, mode: str) -> None:
    """All twelve tonics in four modes: no key is changed, and the drone suits it."""
    fit = fitted(tonic + mode)
    assert fit.semitones % 12 == 0
    assert fit.setup.fifth is not None
    assert (fit.setup.fifth.midi - fit.sounding_key.tonic.semitone) % 12 in (0, 7)


def test_a_wanted_key_moves_the_tune() -> None:
    """Asked for A, a tune in G is played from G shapes with capo 2 and sounds A."""
    fit = fitted("G", key="A")
    assert (str(fit.sounding_key), str(fit.shape_key), fit.setup.capo) == ("A major", "G major", 2)


def test_a_minor_tune_cannot_be_asked_to_sound_major() -> None:
    """A key of another mode is refused with the tonic as remedy."""
    with pytest.raises(SetupError, match="cannot sound"):
        fitted("Em", key="Ador")


def test_a_tune_too_wide_is_refused_with_its_notes() -> None:
    """The error names the lowest and the highest note, and what the setup holds."""
    wide = tune("C,,,2 c''''2 G4|")
    with pytest.raises(FitError) as refused:
        fit_tune(wide, BANJO, Wish(tuning="gDGBD", capo=0))
    assert (refused.value.lowest, refused.value.highest) == ("C1", "C9")
    assert "lowest note C1" in str(refused.value)
    assert "D3 to C6" in str(refused.value)


def test_a_tune_that_fits_no_octave_at_its_key_goes_to_the_nearest() -> None:
    """E♭3 to D♭6 is as wide as open G without capo, but stands a semitone too high: the answer says so."""
    wide = tune("_E,4 _d'4|", key="Eb")
    fit = fit_tune(wide, BANJO, Wish(tuning="gDGBD", capo=0))
    assert fit.semitones == -1
    assert "The tune does not fit at its own key; D major is the nearest, 1 semitone lower." in fit.remarks


@pytest.mark.parametrize(
    ("wish", "field"),
    [
        (Wish(tuning="gXXXX"), "tuning"),
        (Wish(capo=9), "capo"),
        (Wish(fifth=parse_pitch("C3")), "fifth"),
        (Wish(key="H"), "key"),
    ],
)
def test_impossible_setups_name_the_field(wish: Wish, field: str) -> None:
    """Each wrong wish says which one it is and what would do."""
    with pytest.raises(Exception) as refused:
        fit_tune(tune("G8|A8|"), BANJO, wish)
    assert refused.value.field == field  # type: ignore[attr-defined]
    assert refused.value.remedy  # type: ignore[attr-defined]


def test_the_hook_shortens_the_string() -> None:
    """A at capo 2 is made by the hook at fret 7; A♭ at capo 1 by the peg (handbook §2)."""
    assert setup(capo=2, fifth="A4").hook_fret == 7
    assert setup(capo=1, fifth="Ab4").hook_fret is None
    hooked = setup(capo=2, fifth="A4")
    assert hooked.sounding_cents(Place(5, 6)) == parse_pitch("Bb4").cents


@given(st.sampled_from([row.id for row in find_instrument("banjo").tunings]), st.integers(0, 7), st.integers(40, 90))
def test_every_place_sounds_what_was_asked(tuning: str, capo: int, midi: int) -> None:
    """places() and sounding_cents() are inverse, and no place is on the drone string."""
    chosen = Setup(BANJO, TUNINGS[tuning], capo, TUNINGS[tuning].pitches[4])
    for place in chosen.places(Fraction(100 * midi)):
        assert chosen.sounding_cents(place) == 100 * midi
        assert place.string != 5
        assert 0 <= place.fret <= 22 - capo


@given(st.integers(36, 96), st.sampled_from(["C", "G", "Bb", "F#m", "Ador", "Eb"]))
def test_spelling_keeps_the_sound(midi: int, key: str) -> None:
    """A spelled semitone sounds as it should, and scale notes have their scale names."""
    named = parse_key(key)
    pitch = spell(Fraction(100 * midi), named)
    assert pitch.midi == midi
    if midi % 12 in named.scale:
        assert pitch.alter == named.signature.get(pitch.step, 0)


def test_fret_distances_follow_the_rule() -> None:
    """Fret 12 halves the string; each fret takes 1 - 2^(-1/12) = 5.613 % of what is left (equal temperament)."""
    assert BANJO.fret_mm(12) == pytest.approx(667 / 2)
    assert BANJO.fret_mm(1) / 667 == pytest.approx(0.05613, abs=1e-5)


def test_tension_of_a_semitone_and_stress_of_the_first_string() -> None:
    """+12.2 % a semitone, +26 % two; D4 on 667 mm of steel stands at 1.2 GPa (handbook §2, Mersenne)."""
    up = {change.string: change for change in retunings(setup("gCGCD"))}
    assert up[2].semitones == 1
    assert up[2].tension_percent == pytest.approx(12.2, abs=0.05)
    assert pytest.approx(26, abs=0.1) == 100 * (2 ** (4 / 12) - 1)
    assert stress_pa(667, hertz_of(6200)) == pytest.approx(1.2e9, rel=0.01)


def test_the_tension_formula_gives_the_handbook_newtons() -> None:
    """A 0.254 mm plain steel string at D4 on 667 mm pulls 61 N (handbook §2)."""
    assert tension_n(Gauge(0.254), 667, hertz_of(6200)) == pytest.approx(61, abs=0.5)


def test_cautions_are_shown_where_they_apply() -> None:
    """Tuning up is cautioned, a hook is not, and a high raise sends to a luthier."""
    assert cautions(setup()) == ()
    assert cautions(setup(capo=2, fifth="A4")) == ()
    (said,) = cautions(setup("gCGCD"))
    assert "String 2 goes up 1 semitone: 12 % more" in said
    assert "luthier" not in said
    raised = cautions(setup(capo=3, fifth="Bb4"))
    assert any("luthier" in text for text in raised)


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_every_instrument_row_is_whole(instrument: str) -> None:
    """Each row has tunings with as many strings as it has, and rising frets."""
    row = find_instrument(instrument)
    assert find_instrument(instrument).tunings
    assert all(len(tuning.pitches) == row.strings for tuning in find_instrument(instrument).tunings)
    assert all(low < high for low, high in zip(row.fret_cents, row.fret_cents[1:], strict=False))
    with pytest.raises(SetupError, match="Choose one of"):
        find_instrument("kazoo")


def test_a_raise_too_high_for_steel_sends_to_a_luthier_whatever_the_instrument() -> None:
    """A dulcimer tuned from DAD to GDG: five semitones up on two strings (handbook §9)."""
    dulcimer = find_instrument("dulcimer")
    said = cautions(Setup(dulcimer, find_instrument("dulcimer").tuning("GDG")))
    assert len(said) == 3
    assert all("luthier" in text for text in said)
    assert cautions(Setup(dulcimer, find_instrument("dulcimer").tuning("DAD"))) == ()


def test_nylon_is_not_judged_by_the_strength_of_steel() -> None:
    """A ukulele in D tuning is two semitones up: a caution, but no word of the wire's limit (handbook §9)."""
    said = cautions(Setup(find_instrument("ukulele"), find_instrument("ukulele").tuning("aDF#B")))
    assert len(said) == 4
    assert not any("luthier" in text for text in said)


def test_a_string_that_wants_another_one_says_so() -> None:
    """Low G on a ukulele is a thicker string, not a slack one; a wire near its strength is likely to break (§9)."""
    ukulele, dulcimer = find_instrument("ukulele"), find_instrument("dulcimer")
    (low,) = cautions(Setup(ukulele, ukulele.tuning("GCEA")))
    assert "another, thicker string" in low and "up" not in low.split("a peg")[0]
    high = Retuning(1, 4, parse_pitch("F#4"), 59, 2.4e9, True)
    assert "likely to break" in caution_of(high)
    assert "likely to break" not in caution_of(replace(high, steel=False))
    # Where an instrument takes no capo, none is advised.
    without = replace(dulcimer, highest_capo=0)
    said = cautions(Setup(without, without.tuning("GDG")))
    assert said and not any("capo" in text for text in said)


def test_a_saz_tuned_far_up_is_cautioned() -> None:
    """Its strings are chosen for its pitch; three semitones above it they are not (§9)."""
    saz = find_instrument("saz-short")
    assert cautions(Setup(saz, saz.tunings[0])) == ()
    assert cautions(Setup(saz, tuning_moved(saz.tunings[0], 2))) == ()
    assert any("luthier" in text for text in cautions(Setup(saz, tuning_moved(saz.tunings[0], 3))))


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_octaves_lie_where_the_string_is_halved(instrument: str) -> None:
    """On every instrument the fret of the octave divides the string in two, whatever the frets between."""
    row = find_instrument(instrument)
    octave = next(fret for fret, cents in enumerate(row.fret_cents) if cents == 1200)
    assert row.fret_mm(octave) == pytest.approx(row.scale_mm / 2)
    assert row.fret_name(octave) in ("12", "7", "17")
