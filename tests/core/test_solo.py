"""The solo: walks between phrases, what may be left out, the second time through, kick-off and ending."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise, product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nailhead.core.arrange.fit.fills import LEAP, OUTSIDE, STEPS, TURN, scale_on, walk_between, with_figures, with_fill
from nailhead.core.arrange.fit.frame import ending, kick_off
from nailhead.core.arrange.fit.grid import BarContext
from nailhead.core.arrange.fit.ladder import Ladder, build_ladder, lay_ground
from nailhead.core.arrange.fit.second_time import written_again
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.rows.figures import FIGURES, Figure
from nailhead.core.arrange.rows.frames import ENDINGS, KICK_OFFS, FrameRow, frame_row
from nailhead.core.arrange.rows.ways import find_idiom, options_of
from nailhead.core.arrange.values import Role
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.form import played_bars
from nailhead.core.music.structure import chord_at
from nailhead.core.music.tune import Tune
from tests.core.test_fretboard import BANJO
from tests.core.test_fretboard import setup as banjo_setup
from tests.core.test_tune import tune
from tests.demo import demo_tunes
from tests.rules import violations

IDIOMS = ("clawhammer", "three-finger")
NECK = frozenset(banjo_setup().reachable)
PHRASE = '|:"G"G2B2 d4|"C"e2c2 "G"d4|"D"A2F2 A4|"G"G8:|]'


def contexts(body: str, metre: str = "4/4", key: str = "G") -> dict[int, BarContext]:
    fit = fit_tune(tune(body, metre, key), BANJO, Wish(tuning="gDGBD"))
    return dict(lay_ground(fit, find_idiom("clawhammer", BANJO), ShapeBook(fit.setup)).contexts)


def solo(body: str, idiom: str = "clawhammer", metre: str = "4/4", key: str = "G") -> Ladder:
    return build_ladder(fit_tune(tune(body, metre, key), BANJO, Wish(tuning="gDGBD")), idiom)


# -- fills


@lru_cache(maxsize=8)
def _scale(context: BarContext) -> list[Fraction]:
    return scale_on(context)


def price(
    context: BarContext, start: Fraction, goal: Fraction, walk: tuple[Fraction, ...], onsets: list[Fraction]
) -> int:
    """What a walk costs, reckoned note by note from the published table of steps."""
    scale = _scale(context)
    places = [scale.index(cents) for cents in (start, *walk, goal)]
    moves = [after - before for before, after in pairwise(places)]
    total = sum(STEPS.get(abs(move), LEAP) for move in moves)
    ways = [(move > 0) - (move < 0) for move in moves[:-1]]
    total += sum(TURN for one, two in pairwise(ways) if one and two and one != two)
    beats = set(context.bar.metre.beat_onsets)
    return total + sum(
        OUTSIDE
        for onset, cents in zip(onsets, walk, strict=True)
        if onset in beats and not context.tones.in_chord(cents, chord_at(context.harmony, onset))
    )


@settings(max_examples=30, deadline=None)
@given(st.sampled_from([50, 55, 57, 59, 62]), st.sampled_from([50, 54, 57, 60, 64]), st.integers(2, 3))
def test_a_walk_is_the_smoothest_of_all(start: int, goal: int, notes: int) -> None:
    """Every row of scale notes in reach is tried; none is cheaper."""
    context = _CADENCE
    onsets = [Fraction(4 + note, 8) for note in range(notes)]
    low, high = Fraction(100 * start), Fraction(100 * goal)
    walk = walk_between(context, low, high, onsets)
    assert walk is not None and len(walk) == notes
    near = [c for c in _scale(context) if min(low, high) - 700 <= c <= max(low, high) + 700]
    best = min(price(context, low, high, way, onsets) for way in product(near, repeat=notes))
    assert price(context, low, high, walk, onsets) == best


_CADENCE = contexts(PHRASE)[3]


def test_a_fill_needs_a_held_note_at_the_end_of_a_phrase() -> None:
    """Bar 4 holds its note; bars 1 to 3 end no phrase."""
    found = contexts(PHRASE)
    assert [with_fill(found[index]) is not None for index in range(4)] == [False, False, False, True]
    filled = with_fill(found[3])
    assert filled
    first, *rest = filled.segments
    assert not first.fill and first.duration == Fraction(1, 4)
    assert all(part.fill for part in rest) and len(rest) == 6
    assert sum((part.duration for part in filled.segments), Fraction(0)) == found[3].bar.length


@pytest.mark.parametrize("body", ['"G"G2B2 d4|"C"e2c2 "G"d4|"D"A2F2 A4|"G"G4 G2G2|]', '"G"G2B2 d4|"D"A4 z4|]'])
def test_no_fill_without_room_or_over_a_rest(body: str) -> None:
    """A last note of a quarter, or a rest at the end, is left as it is."""
    assert all(with_fill(context) is None for context in contexts(body).values())


@pytest.mark.parametrize("figure", FIGURES, ids=lambda figure: figure.name)
def test_a_figure_belongs_to_its_chord(figure: Figure) -> None:
    """Four or six counts in open G; chord tones, the key's notes between them, and the blue third before the third."""
    open_g = banjo_setup()
    assert len(figure.notes) in (4, 6) and figure.tuning == open_g.tuning.id
    tones = [int(open_g.sounding_cents(place) // 100) % 12 for place, *_ in figure.notes]
    root = int(open_g.sounding_cents(figure.root) // 100) % 12
    chord = {root, (root + 4) % 12, (root + 7) % 12}
    scale = {7, 9, 11, 0, 2, 4, 6}
    blue = [at for at, tone in enumerate(tones) if tone not in scale]
    assert all(tones[at] == (root + 3) % 12 and tones[at + 1] == (root + 4) % 12 for at in blue)
    assert 2 * sum(tone in chord for tone in tones) >= len(tones)
    for place, slur, _ in figure.notes:
        assert slur is None or (0 < abs(slur.start - place.fret) <= 2 and slur.grace)


def test_figures_fill_in_where_their_chord_is_held() -> None:
    """Six counts of G before a B: those that end within a third of it. Over a minor chord there is none."""
    body = '|:"G"B2d2 B4|"C"e2c2 "G"d4|"D"A2F2 A4|"G"G8:|]'
    last = contexts(body)[3]
    assert {figure.name for figure, _ in with_figures(last)} == {"G, up and out", "G, tag"}
    for figure, filled in with_figures(last):
        fill = [part for part in filled.segments if part.fill]
        assert [(part.spot.place, part.grace, part.bend) for part in fill if part.spot] == list(figure.notes)
        assert sum(part.duration for part in filled.segments) == 1
    assert not list(with_figures(contexts('|:"Em"B2d2 B4|"C"e2c2 "G"d4|"D"A2F2 A4|"Em"G8:|]')[3]))
    capo = fit_tune(tune(body), BANJO, Wish(tuning="gDGBD", capo=2, key="A"))
    ground = lay_ground(capo, find_idiom("three-finger", BANJO), ShapeBook(capo.setup))
    assert len(list(with_figures(ground.contexts[3]))) == 2


# -- what may be left out


@pytest.mark.parametrize("idiom", IDIOMS)
def test_a_solo_says_what_it_leaves_out(idiom: str) -> None:
    """Each written bar of a solo plays what the rung below plays of the melody, or a sentence says that it does not."""
    for found in (solo('|:"G"GABc dBAG|"C"cBAG EDEG|"D"FGAB cBAF|"G"G8:|]', idiom), solo(PHRASE, idiom)):
        for below, bar in zip(found.rungs[5], found.rungs[6], strict=True):
            gone = len(below.tune_onsets - bar.tune_onsets)
            words = "a melody note" if gone == 1 else f"{gone} melody notes"
            assert not gone or any(f"Leaves {words} of the rung below" in remark for remark in bar.remarks)


# -- the second time through


@pytest.mark.parametrize("idiom", IDIOMS)
@pytest.mark.parametrize("tune_", demo_tunes(), ids=lambda tune_: tune_.title)
def test_only_what_comes_again_is_varied_and_its_joins_work(tune_, idiom: str) -> None:  # type: ignore[no-untyped-def]
    """Bars played once stay; no finger strikes twice at speed on the way through (checked from the outside)."""
    found = build_ladder(fit_tune(tune_, BANJO, Wish(tuning="gDGBD")), idiom)
    order = list(played_bars(found.tune))
    assert all(order.count(index) > 1 for index in found.second)
    assert bool(found.second) == any(order.count(index) > 1 for index in order)
    assert [text for text in violations(found, frame=False) if text.startswith("second")] == []
    for index, bar in found.second.items():
        assert bar.strokes != found.rungs[6][index].strokes
        assert bar.length == found.tune.bars[index].length


@pytest.mark.parametrize("idiom", IDIOMS)
def test_the_very_last_bar_rests_on_its_note(idiom: str) -> None:
    """The first time it walks on to the repeat, the second time it does not."""
    found = solo(PHRASE, idiom)
    assert any(n.role is Role.FILL for s in found.rungs[6][3].strokes for n in s.notes)
    assert not any(n.role is Role.FILL for s in found.second[3].strokes for n in s.notes)


def test_a_tune_without_repeats_has_no_second_time() -> None:
    """Nothing comes again, so nothing is varied."""
    assert solo('"G"G2B2 d4|"C"e2c2 "G"d4|"D"A2F2 A4|"G"G8|]').second == {}


def test_a_part_that_is_written_out_again_is_varied_where_it_stands() -> None:
    """Two equal parts in a row: on the solo the second is otherwise, on all other rungs they are alike (§5)."""
    part = '"G"G2B2 d4|"C"e2c2 "G"d4|"D"A2F2 A4|"G"G8||'
    for idiom in IDIOMS:
        found = solo(part + part, idiom)
        assert written_again(found.tune, found.structure) == {4: 0, 5: 1, 6: 2, 7: 3}
        for rung, bars in enumerate(found.rungs, 1):
            alike = [bars[index].strokes == bars[index + 4].strokes for index in range(4)]
            assert all(alike) == (rung < 7)
        assert found.second == {} and violations(found) == []


# -- kick-off and ending


@pytest.mark.parametrize(
    ("key", "away"), [("G", "D"), ("Gm", "F"), ("GMix", "F"), ("GDor", "F"), ("D", "A"), ("EDor", "D")]
)
def test_the_chord_that_leads_home_follows_the_mode(key: str, away: str) -> None:
    """The dominant under a leading note, the flat seventh where there is none (handbook §7)."""
    made = ending(tune("G4 G4|", key=key), NECK, frame_row(ENDINGS, "four bars"))
    home = made.key.tonic
    roots = [str(bar.chords[0].chord.root) for bar in made.bars]
    assert roots == [away, str(home), away, str(home)]
    assert made.bars[1].chords[0].chord.minor == made.key.minor_third


@pytest.mark.parametrize("metre", ["4/4", "C|", "2/4", "3/4", "6/8", "9/8", "7/8", "3/8", "12/8"])
@pytest.mark.parametrize("row", [*KICK_OFFS, *ENDINGS], ids=lambda row: row.name)
def test_frames_fill_their_bars_in_every_metre(row: FrameRow, metre: str) -> None:
    """Their bars are full, lie on the neck, and can be read as a tune; an ending closes on the tonic and stops."""
    source = tune("G4|", metre, unit="1/8")
    made = (ending if row in ENDINGS else kick_off)(source, NECK, row)
    assert len(made.bars) == (len(row.bars) or 1)
    assert all(bar.length == sum(event.duration for event in bar.events) for bar in made.bars)
    assert not row.bars or all(bar.length == source.metre.length for bar in made.bars)
    assert all(event.pitch is None or event.pitch.cents in NECK for b in made.bars for event in b.events)
    if row in ENDINGS:
        sounded = [event.pitch for event in made.bars[-1].events if event.pitch]
        assert sounded[-1].pitch_class == source.key.tonic
        assert made.bars[-1].events[-1].pitch is None or metre == "3/8"  # three counts leave no room for silence


def rhythm(made: Tune, bar: int) -> str:
    """A bar's notes as "G3/2" in eighths, z for silence."""
    return " ".join(f"{event.pitch or 'z'}/{event.duration * 8}" for event in made.bars[bar].events)


def test_a_kick_off_is_the_shuffle_and_walks_into_the_tune() -> None:
    """Long, short, short on tonic and fifth, then steps to the note that begins (common practice)."""
    made = kick_off(tune('"G"D4 G,4|', "4/4"), NECK, KICK_OFFS[0])
    assert rhythm(made, 0) == "G3/2 G3/1 G3/1 D3/2 D3/1 D3/1"
    assert rhythm(made, 3) == "G3/2 G3/1 G3/1 B3/2 C4/2"
    jig = kick_off(tune('"G"D3 G,3|', "6/8"), NECK, KICK_OFFS[0])
    assert rhythm(jig, 0) == "G3/2 G3/1 D3/2 D3/1"


def test_the_last_phrase_leads_in_as_it_is() -> None:
    """The four bars that close the tune, note by note."""
    source = tune("G2B2 d4|e2c2 d4|A2F2 A4|G8|g2b2 d4|e2c2 d4|A2F2 D4|G8|]")
    made = kick_off(source, NECK, frame_row(KICK_OFFS, "the last phrase"))
    assert [rhythm(made, bar) for bar in range(4)] == [rhythm(source, bar) for bar in range(4, 8)]


@pytest.mark.parametrize("idiom", IDIOMS)
def test_an_ending_stops(idiom: str) -> None:
    """The two-bar tag: two beats struck and stopped, silence around them, whatever the hand does before."""
    fit = fit_tune(tune(PHRASE), BANJO, Wish(tuning="gDGBD"))
    found = build_ladder(fit, idiom, options_of({"ending": "two bars"}))
    assert found.ending
    strokes = found.ending.bars[-1].strokes
    assert [(stroke.onset * 4, bool(stroke.touches)) for stroke in strokes] == [
        (0, False),
        (1, True),
        (2, True),
        (3, False),
    ]


@pytest.mark.parametrize("idiom", IDIOMS)
def test_kick_off_and_ending_are_the_teachers_choice(idiom: str) -> None:
    """Every row is a way of the choice; another one is other bars, and the rules hold in all."""
    seen = set()
    for lead, close in zip(KICK_OFFS, ENDINGS, strict=True):
        fit = fit_tune(tune(PHRASE), BANJO, Wish(tuning="gDGBD"))
        found = build_ladder(fit, idiom, options_of({"kick_off": lead.name, "ending": close.name}))
        assert found.kick_off and found.ending
        assert len(found.ending.bars) == len(close.bars)
        assert violations(found) == []
        seen |= {tuple(bar.strokes for bar in found.kick_off.bars), tuple(bar.strokes for bar in found.ending.bars)}
    assert len(seen) == len(KICK_OFFS) + len(ENDINGS)


def test_the_count_goes_on_through_a_pickup() -> None:
    """The kick-off leaves the pickup's beats free, the ending fills those that the last bar has lent."""
    source = tune("D2|G4 G4|G6|]")
    before, after = kick_off(source, NECK, KICK_OFFS[0]), ending(source, NECK, ENDINGS[0])
    assert before.bars[-1].length + source.bars[0].length == 1
    assert source.bars[-1].length + after.bars[0].length == 1
    assert after.bars[0].number == 0 and len(after.bars) == 5


def test_a_tune_that_brings_its_own_frame_keeps_it() -> None:
    """Parts called kick-off or ending are not made a second time."""
    found = solo('P:kick-off\n"G"G8|\nP:A\n"G"G2B2 d4|"G"G8|]')
    assert found.kick_off is None and found.ending is not None


def test_an_idiom_without_a_solo_has_no_frame() -> None:
    """A way of playing that has the bare rung alone."""
    way = find_idiom("three-finger", BANJO)
    bare = replace(way, rungs=way.rungs[:1])
    found = build_ladder(fit_tune(tune("G4 B4|]"), BANJO, Wish(tuning="gDGBD")), bare)
    assert found.kick_off is None and found.ending is None and found.second == {}


def test_a_guitar_steps_through_the_bass_to_a_new_chord() -> None:
    """On the solo, behind a note of half a bar and more, the last two counts lead by scale steps to the root of what
    comes, and nothing does so where the chord stays or on a lower rung (common practice).
    """
    guitar = find_instrument("guitar")
    found = tune('"C"E2G2 c4|"F"A2c2 f4|"F"A2c2 A4|"C"G2E2 C4|]', "4/4", "C")
    ladder = build_ladder(fit_tune(found, guitar, Wish(tuning="EADGBE", capo=0)), "plectrum")
    setup, scale = ladder.fit.setup, ladder.tune.key.scale
    solo = ladder.rungs[6]
    assert "Steps to the F chord." in solo[0].remarks
    assert not any("Steps to" in remark for bar in (solo[1], *ladder.rungs[5]) for remark in bar.remarks)
    fills = [note for stroke in solo[0].strokes for note in stroke.notes if note.role is Role.FILL]
    assert len(fills) == 2 and all(note.pitch.pitch_class.semitone in scale for note in fills)
    root = setup.sounding_cents(Place(6, 1))
    one, two = (setup.sounding_cents(note.place) for note in fills)
    assert 0 < abs(two - root) <= 200 and 0 < abs(one - two) <= 200 and (one > two) == (two > root)


def test_a_bass_run_may_go_by_semitones() -> None:
    """The other school: whatever the scale has, the last two steps to the new root are semitones (common practice)."""
    guitar = find_instrument("guitar")
    found = tune('"C"E2G2 c4|"F"A2c2 f4|"C"G2E2 C4|]', "4/4", "C")
    way = find_idiom("plectrum", guitar, options_of({"runs": "chromatic"}))
    ladder = build_ladder(fit_tune(found, guitar, Wish(tuning="EADGBE", capo=0)), way)
    fills = [note for stroke in ladder.rungs[6][0].strokes for note in stroke.notes if note.role is Role.FILL]
    root = ladder.fit.setup.sounding_cents(Place(6, 1))
    assert [abs(ladder.fit.setup.sounding_cents(note.place) - root) for note in fills] == [200, 100]
