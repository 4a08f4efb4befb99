"""The planner: the handbook's setups come out by themselves, costs are named, refusals say why."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nailhead.core.arrange.fit.planned import asked
from nailhead.core.arrange.left.melody import count_shifts
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.errors import FitError, NailheadError, SetupError
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.necks import Ask
from nailhead.core.fretboard.plan import Plan, rank_setups, why_not
from nailhead.core.fretboard.weighing import COSTS, WEIGHTS, lowest_plain
from nailhead.core.music.pitch import parse_pitch
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book
from tests.core.test_fretboard import BANJO
from tests.core.test_tune import tune
from tests.corpora import sample, sized
from tests.demo import all_demo_tunes, demo_tunes
from tests.plan_report import wrong_with

REEL = next(found for found in demo_tunes() if found.rhythm == "reel")
#: A D tune that comes down to its low tonic and never below it.
LOW_D = tune("D2F2 A2d2|f2e2 d2A2|B2d2 A2F2|E2G2 F2E2|D2F2 A2d2|f2e2 d2A2|B2AF E2F2|D4 D4|]", key="D")
#: One that keeps above its tonic d, as a tune from 0 to 7 on a melody course does.
HIGH_D = tune("d2f2 a2f2|g2e2 f2d2|d2f2 a2b2|c'2b2 d'4|d'2a2 f2d2|e2f2 d4|]", key="D")
MODAL = "D2G2 GABc|d2d2 c2A2|F2F2 GFD2|D2G2 G4|d2f2 dcAG|F2A2 c2A2|d2dc BAGF|D2G2 G4|]"
G_MINOR, A_DORIAN = tune(MODAL, key="Gm"), tune(MODAL.translate(str.maketrans("CDFGABcdf", "DEGABcdeg")), key="Ador")
D_MIX = tune("d2e2 ^f2g2|a2g2 f2e2|=c2d2 e2f2|d4 d4|]", key="Dmix")


def ranked(found: Tune, instrument: str, idiom: str | None = None, **wanted: object) -> tuple[Plan, ...]:
    way = find_idiom(idiom, find_instrument(instrument))
    ask = asked(way, **wanted)  # type: ignore[arg-type]
    return rank_setups(found, find_instrument(instrument), ask, lambda fit: count_shifts(fit, way))


def first(found: Tune, instrument: str, **wanted: object) -> tuple[str, int, str]:
    """(tuning, capo, fifth string) of the first answer."""
    setup = ranked(found, instrument, **wanted)[0].fit.setup
    return setup.tuning.id, setup.capo, str(setup.fifth.pitch_class) if setup.fifth else ""


@pytest.mark.parametrize(
    ("found", "instrument", "wanted", "expected"),
    [
        (REEL, "banjo", {"key": "A"}, ("gDGBD", 2, "A")),
        (REEL, "banjo", {}, ("gDGBD", 0, "G")),
        (LOW_D, "banjo", {}, ("gCGCD", 2, "A")),
        (G_MINOR, "banjo", {"idiom": "clawhammer"}, ("gDGCD", 0, "G")),
        (A_DORIAN, "banjo", {"idiom": "clawhammer"}, ("gDGCD", 2, "A")),
        (D_MIX, "dulcimer", {}, ("DAD", 0, "")),
        (HIGH_D, "dulcimer", {}, ("DAD", 0, "")),
        (LOW_D, "mandolin", {}, ("GDAE", 0, "")),
        (REEL, "guitar", {}, ("EADGBE", 0, "")),
        (REEL, "guitar", {"key": "A"}, ("EADGBE", 2, "")),
        (REEL, "ukulele", {}, ("gCEA", 0, "")),
    ],
    ids=lambda value: value.title if isinstance(value, Tune) else None,
)
def test_the_setups_players_choose_come_first(
    found: Tune, instrument: str, wanted: dict[str, object], expected: tuple[str, int, str]
) -> None:
    """G wanted in A: open G, capo 2, fifth string A; D with its low tonic: double C, capo 2; Mixolydian D: DAD; G in
    the minor or Dorian mode with the nail: the modal tuning, A with capo 2.

    Handbook §2 and common practice.
    """
    assert first(found, instrument, **wanted) == expected


@pytest.mark.parametrize(
    ("body", "key"), [('"D"D2F2 A2F2|"A"E2A2 "D"D4|]', "D"), ('"G"G2B2 d2B2|"D"A2F2 "G"G4|]', "G")]
)
def test_rolls_are_played_in_open_g(body: str, key: str) -> None:
    """Open G and open D come first; D in open G has the fifth string at A and no capo. Double C is rare for three
    fingers, not for the nail (common practice).
    """
    found = tune(body, key=key)
    rolls, nail = (find_idiom(name, BANJO) for name in ("three-finger", "clawhammer"))
    asked = Ask(drones=rolls.drones, everyday=rolls.tunings)
    plans = [plan.fit.setup for plan in rank_setups(found, BANJO, asked, lambda fit: count_shifts(fit, rolls))]
    assert plans[0].tuning.id in ("gDGBD", "aDF#AD")
    in_g = next(setup for setup in plans if setup.tuning.id == "gDGBD")
    assert (in_g.capo, str(in_g.fifth)) == (0, "A4" if key == "D" else "G4")
    double = rank_setups(found, BANJO, replace(asked, tunings=("gCGCD",)), lambda fit: count_shifts(fit, rolls))
    assert all(plan.points("rare tuning") for plan in double)
    plain = Ask(tunings=("gCGCD",), drones=nail.drones, everyday=nail.tunings)
    assert not any(plan.points("rare tuning") for plan in rank_setups(found, BANJO, plain, lambda _: 0))


def test_two_octaves_and_wound_strings_are_dear() -> None:
    """A melody under the plain strings of a guitar sounds dull, two octaves from where it is written is far."""
    assert [lowest_plain(find_instrument(name)) for name in ("guitar", "mandolin", "banjo", "ukulele")] == [2, 2, 0, 0]
    ask = Ask(tunings=("EADGBE",), highest_capo=0, most_down=0)
    low = tune('"C"E,2C,2 E,2F,2|"C"C,8|]', key="C")
    (best,) = rank_setups(low, find_instrument("guitar"), ask, lambda _: 0)
    assert best.points("another octave") and not best.points("wound strings")
    wide = tune('"C"C,2E,2 c\'4|]', key="C")
    (kept,) = rank_setups(wide, find_instrument("guitar"), ask, lambda _: 0)
    assert kept.points("wound strings") == COSTS["wound strings"] * 2 // 3
    assert COSTS["two octaves"] > 2 * COSTS["another octave"]


def test_a_major_tune_on_the_dulcimer_goes_by_its_range() -> None:
    """Around its tonic it lies on DAA (tonic at fret 3); from the tonic up on DAD with 6½ (handbook §2)."""
    around = tune("A2d2 f2e2|d2B2 A2B2|A2B2 d2e2|d4 d4|]", key="D")
    assert first(around, "dulcimer")[0] == "DAA"
    assert first(HIGH_D, "dulcimer")[0] == "DAD"


def test_a_singer_a_tone_lower_gets_ranked_ways_with_reasons() -> None:
    """G sung in F: every answer sounds F, the costs say what each asks."""
    plans = ranked(REEL, "banjo", key="F")
    assert {str(plan.fit.sounding_key) for plan in plans} == {"F major"}
    assert len({(plan.fit.setup.tuning.id, plan.fit.setup.capo) for plan in plans}) >= 4
    assert all(plan.terms for plan in plans)


def test_costs_are_named_and_add_up() -> None:
    """Every term is a row of the table with a sentence; the best few count shifts; the order is by the sum."""
    plans = ranked(REEL, "banjo", key="any")
    for plan in plans:
        assert plan.cost == sum(term.points for term in plan.terms)
        assert all(term.name in COSTS and term.points > 0 and term.sentence.endswith(".") for term in plan.terms)
    assert [plan.cost for plan in plans] == sorted(plan.cost for plan in plans)
    assert any(plan.points("shifts") for plan in plans)
    ways = {(plan.fit.setup.tuning.id, plan.fit.setup.capo, str(plan.fit.sounding_key)) for plan in plans}
    assert len(ways) == len(plans)


@pytest.mark.parametrize("name", WEIGHTS)
def test_a_weight_moves_its_terms_and_no_others(name: str) -> None:
    """Twice as heavy: the terms of the group double, the rest stay."""
    usual = {(plan.fit.setup.label, plan.fit.semitones): plan for plan in ranked(REEL, "banjo", key="A")}
    heavy = {
        (plan.fit.setup.label, plan.fit.semitones): plan for plan in ranked(REEL, "banjo", key="A", weights={name: 8})
    }
    both = set(usual) & set(heavy)
    assert both
    for label in both:
        for term in usual[label].terms:
            factor = 2 if term.name in WEIGHTS[name] else 1
            assert abs(heavy[label].points(term.name) - factor * term.points) <= 1 or term.name == "shifts"


def test_no_retuning_keeps_the_tuning() -> None:
    """Only the tuning the banjo is in, with any capo."""
    plans = ranked(LOW_D, "banjo", may_retune=False, current="gDGBD")
    assert {plan.fit.setup.tuning.id for plan in plans} == {"gDGBD"}
    assert all(not plan.points("retuning") for plan in plans)


def test_retuning_is_counted_from_what_the_instrument_is_in() -> None:
    """From double C, double C costs nothing."""
    plans = ranked(LOW_D, "banjo", current="gCGCD")
    double_c = next(plan for plan in plans if plan.fit.setup.tuning.id == "gCGCD")
    assert not double_c.points("retuning")


def test_capo_and_tunings_are_limited() -> None:
    """Nothing above the limit, nothing but what is allowed."""
    plans = ranked(REEL, "guitar", key="any", highest_capo=0, most_down=0, tunings=("DADGAD",))
    assert {(plan.fit.setup.capo, plan.fit.setup.tuning.id) for plan in plans} == {(0, "DADGAD")}


def test_a_voice_bounds_the_sounding_notes() -> None:
    """Every answer can be sung within the range, octaves free; one too narrow is refused with the tune's span."""
    voice = (parse_pitch("A3"), parse_pitch("D5"))
    for plan in ranked(REEL, "guitar", key="any", voice=voice):
        low, high = plan.fit.tune.range
        assert any(
            voice[0].cents <= low.cents + 1200 * o and high.cents + 1200 * o <= voice[1].cents for o in range(-3, 4)
        )
    with pytest.raises(FitError, match="spans 17 semitones") as refused:
        ranked(REEL, "guitar", key="any", voice=(parse_pitch("C4"), parse_pitch("D4")))
    assert refused.value.field == "voice"


@pytest.mark.parametrize(
    ("wanted", "field"),
    [
        ({"voice": (parse_pitch("D5"), parse_pitch("A3"))}, "voice"),
        ({"weights": {"loudness": 4}}, "weights"),
        ({"weights": {"ringing": 99}}, "weights"),
        ({"highest_capo": -1}, "highest_capo"),
        ({"tunings": ("nonsense",)}, "tunings"),
        ({"current": "nonsense", "may_retune": False}, "current"),
        ({"key": "H"}, "key"),
    ],
)
def test_silly_wishes_are_refused_at_their_field(wanted: dict[str, object], field: str) -> None:
    """A voice upside down, weights that are none, a capo below the nut, tunings nobody knows."""
    with pytest.raises(SetupError if field != "key" else NailheadError) as refused:
        ranked(REEL, "banjo", **wanted)
    assert refused.value.field == field and refused.value.remedy


def test_why_not_tells_the_reason() -> None:
    """The first answer says so; a dearer one names what it costs more; an impossible one why it is so."""
    banjo, ask = find_instrument("banjo"), Ask(key="A")
    told = [why_not(REEL, banjo, ask, *expected, lambda fit: 0) for expected in (("gDGBD", 2), ("gCGCD", 2))]
    assert told[0] == "It is the first answer."
    assert "away from home" in told[1] and "the first answer" in told[1]
    dulcimer = find_instrument("dulcimer")
    sharp = tune("D^DE=F ^FG^GA|]", key="D")
    with pytest.raises(FitError, match="no fret for"):
        rank_setups(sharp, dulcimer, Ask(most_down=0), lambda fit: 0)


def test_the_same_question_gets_the_same_answer() -> None:
    """H7: no chance in it."""
    assert ranked(REEL, "guitar", key="any") == ranked(REEL, "guitar", key="any")


@pytest.mark.parametrize("name", INSTRUMENTS)
def test_corpus_tunes_are_answered_or_explained_on_every_instrument(name: str) -> None:
    """A fixed sample of real tunes in any key: plans that hold every note, the first of them on the strings, or a
    reason with a remedy (300 tunes of it: `make corpus`).
    """
    answered = explained = 0
    for chosen in sample(sized(5, 24)):
        found = read_book(chosen.text)[0].tune
        if found is None:
            continue
        wrong, why = wrong_with(found, name)
        assert not wrong, f"{chosen}: {wrong}"
        explained += bool(why)
        answered += not why
    # A dulcimer has no chromatic frets; the others refuse hardly anything.
    assert answered >= (answered + explained) * (0.35 if INSTRUMENTS[name].fret_names else 0.8)


# -- the whole instrument tuned down, and the saz at whatever pitch


def test_double_c_a_tone_down() -> None:
    """Lowering double C by a whole tone sounds F B♭ F B♭ C (handbook §2, common practice)."""
    lower = find_instrument("banjo").tuning("gCGCD↓2")
    assert lower.letters == "F B♭ F B♭ C"
    assert lower.name == "double C down a tone"
    assert find_instrument("banjo").tuning("double C down 2") == lower
    assert [pitch.midi for pitch in lower.pitches] == [60, 58, 53, 46, 65]


def test_a_singer_a_tone_lower() -> None:
    """G shapes let down a tone, and a capo in other shapes: both are on the list, each with its reason."""
    plans = ranked(REEL, "banjo", key="F")
    first = plans[0].fit
    assert first.setup.tuning.id == "gDGBD↓2" and first.setup.capo == 0
    assert str(first.shape_key) == "G major" and str(first.sounding_key) == "F major"
    assert plans[0].points("tuned down") == 3 * COSTS["tuned down"]
    capoed = next(plan for plan in plans if plan.fit.setup.capo)
    assert capoed.points("capo") and not capoed.points("tuned down")
    still = ranked(REEL, "banjo", key="F", most_down=0)
    assert all(not plan.fit.setup.tuning.moved for plan in still)


def test_a_saz_keeps_its_names_and_sounds_where_it_is_wanted() -> None:
    """A written A that sounds C: the same frets under the same names (handbook §2: the written name is relative)."""
    found = next(found for found in all_demo_tunes() if found.title == "Walnut Court")
    written = ranked(found, "saz-short")[0].fit
    moved = ranked(found, "saz-short", key="C")[0].fit
    assert moved.setup.tuning.moved in (3, -9)
    assert moved.shape_key.tonic == written.shape_key.tonic == found.key.tonic
    assert str(moved.sounding_key.tonic) == "C"
    lowest = [[fit.setup.places(fit.setup.cents_of(pitch)) for pitch in fit.tune.pitches] for fit in (written, moved)]
    assert lowest[0] == lowest[1]


@pytest.mark.parametrize(("name", "field"), [("gCGCD↓9", "tuning"), ("zz↓1", "tuning"), ("gCGCD up 1", "tuning")])
def test_an_instrument_is_not_let_down_without_end(name: str, field: str) -> None:
    """Beyond what the instrument bears, upwards, or from a tuning nobody knows: refused at the field."""
    with pytest.raises(SetupError) as refused:
        find_instrument("banjo").tuning(name)
    assert refused.value.field == field and refused.value.remedy


@pytest.mark.parametrize(("name", "idiom"), [("mandolin", "plectrum"), ("ukulele", "strum"), ("dulcimer", "noter")])
def test_no_answer_is_strange(name: str, idiom: str) -> None:
    """Real tunes in any key: nobody takes D♭ or G♭ shapes first, lets the strings down for a key that lies as it is, or
    raises strings by a fourth; a chord's drones are in the key (common practice).
    """
    answered = 0
    for chosen in sample(16):
        found = read_book(chosen.text)[0].tune
        assert found
        try:
            plan = ranked(found, name, idiom, key="any")[0]
        except FitError as refused:
            assert "another key" not in refused.remedy
            continue
        answered += 1
        setup = plan.fit.setup
        assert plan.fit.shape_key.tonic.semitone not in (1, 6), str(chosen)
        assert not setup.tuning.moved or name == "dulcimer", str(chosen)
        made_for = setup.instrument.tunings[0].pitches
        assert not any(new.midi - old.midi > 2 for new, old in zip(setup.tuning.pitches, made_for, strict=True))
        if name == "dulcimer":
            opens = {int(string.open_cents // 100) % 12 for string in setup.strings}
            assert opens <= set(plan.fit.sounding_key.scale), str(chosen)
    assert answered >= 8


def test_a_dulcimer_takes_a_capo_where_players_do() -> None:
    """G on DAD with the capo at the third fret; C on DAD a tone down, an everyday tuning; E minor with the capo at the
    first (common practice).
    """
    g = tune("G2A2 B2c2|d2e2 f2g2|a2g2 f2e2|d2B2 G4|]", key="G")
    assert first(g, "dulcimer", idiom="noter")[:2] == ("DAD", 3)
    c = tune("c2d2 e2f2|g2a2 b2c'2|b2a2 g2f2|e2d2 c4|]", key="C")
    assert first(c, "dulcimer", idiom="noter")[:2] == ("CGC", 0)
    e = tune("e2f2 g2a2|b2c'2 d'2e'2|d'2b2 a2g2|f2g2 e4|]", key="Em")
    assert first(e, "dulcimer", idiom="noter")[:2] == ("DAD", 1)


@pytest.mark.parametrize("name", ["gDGBD↓1", "gCGCD↓2"])
def test_a_tuning_that_is_let_down_already_is_weighed_with_every_capo(name: str) -> None:
    """Asked for by name, with a capo that takes the tune back up to where it was: each way holds the melody."""
    nail = find_idiom("clawhammer", BANJO)
    for given in demo_tunes()[:4]:
        plans = rank_setups(given, BANJO, asked(nail, tunings=(name,), key="any"), lambda fit: count_shifts(fit, nail))
        assert plans
        for plan in plans:
            setup = plan.fit.setup
            assert setup.tuning.id.startswith(name[:5]) and setup.tuning.moved <= -1
            assert all(setup.places(setup.cents_of(pitch)) for pitch in plan.fit.tune.pitches)
