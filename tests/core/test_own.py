"""A teacher's own instruments and tunings, strings as wire, and the key table."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.fit.planned import asked
from nailhead.core.arrange.left.melody import count_shifts
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.errors import NailheadError, SetupError
from nailhead.core.fretboard.cautions import caution_of, retuned
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.key_table import key_table
from nailhead.core.fretboard.necks import Ask
from nailhead.core.fretboard.own import (
    OwnInstrument,
    OwnTuning,
    build_instrument,
    build_tuning,
    homes_of,
    with_tuning,
)
from nailhead.core.fretboard.plan import rank_setups
from nailhead.core.fretboard.setup import plain_setup
from nailhead.core.fretboard.strings import Gauge, gauges_text, parse_gauges, tension_n
from nailhead.core.fretboard.tunings import TUNINGS
from nailhead.core.music.key import MODES
from nailhead.core.music.pitch import hertz_of, parse_pitch
from tests.core.test_tune import tune
from tests.demo import demo_tunes

REEL = next(found for found in demo_tunes() if found.rhythm == "reel")
LONG_NECK = OwnInstrument("long neck", "banjo", 5, 813.0, 25, tuning=OwnTuning("low E", "E4 B2 E3 G#3 B3"))


def built(own: OwnInstrument):  # type: ignore[no-untyped-def]
    return build_instrument(own, "own-1", find_instrument(own.kind))


# -- own instruments


def test_a_long_neck_banjo_is_planned_and_played() -> None:
    """Its own scale, frets and first tuning; the idioms of a banjo; the same planner and ladder."""
    banjo = built(LONG_NECK)
    assert banjo.frets == 25 and banjo.fret_mm(12) == pytest.approx(813 / 2)
    assert [row.name for row in banjo.tunings][:2] == ["low E", "open G"]
    idiom = find_idiom("clawhammer", banjo)
    fit = rank_setups(REEL, banjo, Ask(key="any"), lambda fit: count_shifts(fit, idiom))[0].fit
    ladder = build_ladder(fit, "clawhammer")
    assert len(ladder.rungs) == 7 and ladder.fit.setup.instrument is banjo


def test_a_dulcimer_with_more_half_frets_has_more_notes() -> None:
    """1½ is a minor third and 8½ a minor tenth above the open string (handbook §2); without 6½ no leading note."""
    row = built(OwnInstrument("cherry", "dulcimer", 3, 700.0, 14, ("1½", "6½", "8½")))
    named = {name: int(cents) for name, cents in zip(row.fret_names, row.fret_cents, strict=True)}
    assert named["1½"] == 300 and named["8½"] == 1500 and named["6½"] == 1100 and "13½" not in named
    assert list(row.fret_cents) == sorted(row.fret_cents)
    minor_third = tune("D2F2 A2d2|]", key="Dm")
    assert fit_tune(minor_third, row, Wish(tuning="DAD", key="D", strings=(1,)))
    old = built(OwnInstrument("old", "dulcimer", 3, 700.0, 14))
    with pytest.raises(NailheadError, match="no fret for"):
        fit_tune(tune("d2f2 a2^c'2|d'4|]", key="D"), old, Wish(tuning="DAD", key="D", strings=(1,)))


def test_another_number_of_strings_needs_a_tuning_and_gets_ways_to_play() -> None:
    """Seven strings on a guitar, four on a dulcimer: nothing of the kind's own tunings is kept."""
    with pytest.raises(SetupError) as refused:
        built(OwnInstrument("seven", "guitar", 7, 650.0, 20))
    assert refused.value.field == "open" and refused.value.remedy
    seven = built(OwnInstrument("seven", "guitar", 7, 650.0, 20, tuning=OwnTuning("sevens", "B1 E2 A2 D3 G3 B3 E4")))
    assert [row.name for row in seven.tunings] == ["sevens"]
    four = built(OwnInstrument("four", "dulcimer", 4, 700.0, 14, tuning=OwnTuning("wide", "D3 A3 D4 D4")))
    assert find_idiom("noter", four).drones == (2, 3, 4)
    assert find_idiom("noter", find_instrument("dulcimer")).drones == (2, 3)
    for row in (seven, four):
        idiom = find_idiom(None, row)
        ask = asked(idiom, key="any")
        fit = rank_setups(tune("D2E2 F2A2|d8|]", key="D"), row, ask, lambda fit, idiom=idiom: count_shifts(fit, idiom))
        assert build_ladder(fit[0].fit, idiom.id).rungs


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": " "}, "name"),
        ({"strings": 0}, "strings"),
        ({"strings": 4}, "strings"),
        ({"scale_mm": 0.0}, "scale_mm"),
        ({"scale_mm": 9000.0}, "scale_mm"),
        ({"frets": -40}, "frets"),
        ({"frets": 5}, "frets"),
        ({"half_frets": ("6½",)}, "half_frets"),
        ({"gauges": "0.25 0.3"}, "gauges"),
        ({"gauges": "thin thin thin thin thin"}, "gauges"),
        ({"gauges": "9 9 9 9 9"}, "gauges"),
        ({"courses": (1, 1)}, "courses"),
        ({"tuning": OwnTuning("x", "E4 B2")}, "open"),
        ({"tuning": OwnTuning("x", "E4 B2 E3 G#3 H3")}, "open"),
        ({"tuning": OwnTuning("x", "E4 B2 E3 G#3 B9")}, "open"),
        ({"tuning": OwnTuning("x", "E4 B2 E3 G#3 B5")}, "open"),
    ],
)
def test_impossible_instruments_are_refused_at_the_field(change: dict[str, object], field: str) -> None:
    """No strings, frets below zero, a scale of nothing, strings that would break: what and how to mend it."""
    with pytest.raises(NailheadError) as refused:
        built(replace(LONG_NECK, **change))  # type: ignore[arg-type]
    assert refused.value.field == field and refused.value.remedy


# -- own tunings


def test_an_own_tuning_is_found_fitted_and_named() -> None:
    """By letters and by name, let down as a whole, and first where it suits best."""
    banjo = with_tuning(find_instrument("banjo"), OwnTuning("old G", "G4 D3 G3 D4 D4"))
    row = banjo.tuning("old G")
    assert row.id == "gDGDD" and banjo.tuning("gDGDD") == row
    assert banjo.tuning("old G down 2").letters == "F C F C C"
    assert fit_tune(REEL, banjo, Wish(tuning="old G")).setup.tuning == row


@pytest.mark.parametrize(
    ("own", "field"),
    [
        (OwnTuning("again", "G4 D3 G3 B3 D4"), "open"),
        (OwnTuning("double C", "G4 C3 G3 C4 C4"), "name"),
        (OwnTuning("", "G4 C3 G3 C4 C4"), "name"),
        (OwnTuning("four", "C3 G3 C4 C4"), "open"),
    ],
)
def test_tunings_that_are_there_or_cannot_be_are_refused(own: OwnTuning, field: str) -> None:
    """The same strings, the same name, no name, a string short."""
    with pytest.raises(SetupError) as refused:
        build_tuning(own, find_instrument("banjo"))
    assert refused.value.field == field and refused.value.remedy


@pytest.mark.parametrize("tuning", ["gDGBD", "gCGCD", "DAD", "DADF#AD", "DGDGBD", "GDGD", "AEAE", "CGC", "gDGBbD"])
def test_homes_by_the_rule_hold_those_of_the_table(tuning: str) -> None:
    """Tonic and fifth open, and no third of the other mode: the first home of each open tuning is among them."""
    row = TUNINGS[tuning]
    major, minor = homes_of(row.pitches)
    for table, rule in ((row.homes_major[:1], major), (row.homes_minor[:1], minor)):
        assert {tonic.semitone for tonic, _ in table} <= {tonic.semitone for tonic, _ in rule}


# -- strings


def test_gauges_are_read_and_written() -> None:
    """Millimetres, w for wound, n for nylon; every row of the table has one for each string."""
    assert parse_gauges("0.254 0.51w 0.71n 0.8nw") == (
        Gauge(0.254),
        Gauge(0.51, "wound steel"),
        Gauge(0.71, "nylon"),
        Gauge(0.8, "wound nylon"),
    )
    assert gauges_text(parse_gauges("0.254 0.51w 0.71n 0.8nw")) == "0.254 0.51w 0.71n 0.8nw"
    assert all(len(row.gauges) == row.strings for row in INSTRUMENTS.values())


@pytest.mark.parametrize("name", INSTRUMENTS)
def test_strings_pull_as_strings_do(name: str) -> None:
    """Each string of the first tuning between 15 and 145 N: what instruments are built for (common practice)."""
    row = INSTRUMENTS[name]
    for number, (gauge, pitch) in enumerate(zip(row.gauges, row.tunings[0].pitches, strict=True), start=1):
        assert 15 < tension_n(gauge, row.speaking_mm(number), hertz_of(pitch.cents)) < 145


def test_retuning_is_told_in_newtons() -> None:
    """From open G to double C: string 4 a tone down, string 2 a semitone up, 12.2 % more (handbook §2 and §9)."""
    banjo = find_instrument("banjo")
    changes = {c.string: c for c in retuned(plain_setup(banjo, banjo.tuning("gCGCD")), banjo.tuning("gDGBD"))}
    assert {string: change.semitones for string, change in changes.items()} == {4: -2, 2: 1}
    up = changes[2]
    assert up.tension_n and up.before_n and up.tension_n / up.before_n == pytest.approx(1.122, abs=0.001)
    assert "12 % more" in caution_of(up) and "luthier" not in caution_of(up)
    assert caution_of(changes[4]) == ""


def test_nylon_is_not_judged_by_steel() -> None:
    """A ukulele in D tuning goes up a tone: a caution, but no breaking stress of steel (handbook §9)."""
    ukulele = find_instrument("ukulele")
    changes = retuned(plain_setup(ukulele, ukulele.tuning("aDF#B")), ukulele.tuning("gCEA"))
    assert {change.semitones for change in changes} == {2}
    assert not any(change.strained for change in changes)


# -- the key table


def cell(instrument: str, tuning: str, key: str, mode: str = "major") -> list[tuple[str, int, str, str]]:
    """(tuning, capo, shape key, fifth string) of the ways into a key."""
    row = find_instrument(instrument)
    table = {str(line.key.tonic): line.ways[0] for line in key_table(row, mode, [row.tuning(tuning)])}
    return [
        (way.tuning.id, way.capo, str(way.shape.tonic), str(way.fifth.pitch_class) if way.fifth else "")
        for way in table[key]
    ]


def test_the_key_table_has_the_handbooks_facts() -> None:
    """G shapes with capo 2 sound A with the fifth at A; double C with capo 2 is D; capo 2 makes C shapes D."""
    assert cell("banjo", "gDGBD", "A")[0] == ("gDGBD", 2, "G", "A")
    assert cell("banjo", "gCGCD", "D")[0] == ("gCGCD", 2, "C", "A")
    assert cell("banjo", "gCGCD", "B♭")[0] == ("gCGCD↓2", 0, "C", "F")
    assert cell("banjo", "gDGBD", "G")[0] == ("gDGBD", 0, "G", "G")
    assert cell("guitar", "EADGBE", "F")[0][1:3] == (1, "E")
    # An A-minor shape with capo 2 is B minor (handbook §2, common practice).
    assert ("EADGBE", 2, "A", "") in cell("guitar", "EADGBE", "B", "minor")


def test_open_g_reaches_d_and_c_without_a_capo() -> None:
    """D with the fifth string at A, C with it as it is: dearer than the home key, but there (common practice)."""
    banjo = find_instrument("banjo")
    table = {str(line.key.tonic): line.ways[0] for line in key_table(banjo, "major", [banjo.tuning("gDGBD")])}
    for key, fifth in (("D", "A4"), ("C", "G4")):
        (way, *_) = [way for way in table[key] if way.capo == 0 and not way.tuning.moved]
        assert str(way.fifth) == fifth and str(way.shape.tonic) == key
        assert way.cost > table["G"][0].cost
    # As the tuning stands: nobody lets the whole banjo down to take shapes that it is not made for.
    assert all(str(way.shape.tonic) == "G" for ways in table.values() for way in ways if way.tuning.moved or way.capo)


def test_the_key_table_tells_where_a_dulcimers_tonic_lies() -> None:
    """Fret 3 on DAA, the open string on DAD, fret 4 for Dorian on DAG, fret 1 for Aeolian on DAC (handbook §2)."""
    row = find_instrument("dulcimer")
    for tuning, mode, tonic in (
        ("DAA", "major", "string 1 fret 3"),
        ("DAD", "mixolydian", "string 1 open"),
        ("DAG", "dorian", "string 1 fret 4"),
        ("DAC", "minor", "string 1 fret 1"),
    ):
        table = {str(line.key.tonic): line.ways[0] for line in key_table(row, mode, [row.tuning(tuning)])}
        assert table["D"][0].tonic == tonic


@pytest.mark.parametrize("name", INSTRUMENTS)
@pytest.mark.parametrize("mode", MODES)
def test_every_way_of_the_table_sounds_its_key(name: str, mode: str) -> None:
    """Shape key and capo (or the whole instrument moved) add up to the sounding key, for all twelve."""
    row = INSTRUMENTS[name]
    table = key_table(row, mode, row.tunings)
    assert len({line.key.tonic.semitone for line in table}) == 12
    for line in table:
        for way in (way for ways in line.ways for way in ways):
            raised = int(row.fret_cents[way.capo] // 100 if row.fret_names else way.capo) + way.tuning.moved
            assert (way.shape.tonic.semitone + raised - line.key.tonic.semitone) % 12 == 0
            assert way.fifth is None or way.fifth == parse_pitch(str(way.fifth))


@pytest.mark.parametrize(
    ("letters", "pitches"),
    [
        ("gCGCD", "G4 C3 G3 C4 D4"),
        ("gDGCD", "G4 D3 G3 C4 D4"),
        ("aEAC#E", "A4 E3 A3 C♯4 E4"),
        ("f#BEAB", "F♯4 B2 E3 A3 B3"),
        ("g D G B D", "G4 D3 G3 B3 D4"),
    ],
)
def test_a_tuning_is_read_as_players_spell_it(letters: str, pitches: str) -> None:
    """Letters alone lie in the octave next to the banjo's first tuning (G4 D3 G3 B3 D4)."""
    bare = replace(find_instrument("banjo"), tunings=find_instrument("banjo").tunings[:1])
    if pitches == "G4 D3 G3 B3 D4":
        with pytest.raises(SetupError, match="is there already"):
            build_tuning(OwnTuning("mine", letters), bare)
        return
    assert [str(pitch) for pitch in reversed(build_tuning(OwnTuning("mine", letters), bare).pitches)] == pitches.split()


@pytest.mark.parametrize(
    ("given", "said"),
    [("G4", "1 pitch for 5 strings"), ("G4 D3", "2 pitches for 5 strings"), ("gDGB", "1 pitch for 5 strings")],
)
def test_pitches_are_counted_in_words(given: str, said: str) -> None:
    with pytest.raises(SetupError, match=said):
        build_tuning(OwnTuning("mine", given), find_instrument("banjo"))
