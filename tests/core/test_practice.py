"""Learning what is arranged: material, plan, loops, tempo, counting, turns, drills."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import pytest

from nailhead.cli import main
from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import wished
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement, set_rungs
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Ornament, Way
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.metre import parse_metre
from nailhead.core.practice.backing import backing_of, rows_for
from nailhead.core.practice.counting import count_in, counts_of
from nailhead.core.practice.drills import Kind as DrillKind
from nailhead.core.practice.drills import drills_of
from nailhead.core.practice.material import Material, Spot, material_of
from nailhead.core.practice.plan import Kind, Order, plan_of
from nailhead.core.practice.spans import cut, join_span, loop_of, whole
from nailhead.core.practice.tempo import Progress, Said, TempoSteps, after, begun
from nailhead.core.practice.turns import turns_of
from nailhead.formats.practice_text import write_plan
from tests.arrange_report import ladders_of
from tests.core.test_tune import tune
from tests.corpora import sized
from tests.demo import demo_tunes
from tests.practice_report import faults, material_at

BODY = 'D|"G"G2 B2 d2 B2|"D"A2 F2 D2 F2|"G"G2 B2 d2 B2|"D"A2 F2 "G"G3:||:B|"G"d2 B2 "C"c2 e2|"D"d2 F2 "G"G3:|'


def ladder_for(
    body: str = BODY, instrument: str = "banjo", metre: str = "4/4", key: str = "G", idiom: str = ""
) -> Ladder:
    row = find_instrument(instrument)
    way = find_idiom(idiom or None, row)
    return build_ladder(fit_tune(tune(body, metre, key), row, wished(way)), way)


@pytest.fixture(scope="module")
def ladder() -> Ladder:
    return ladder_for()


@pytest.fixture(scope="module")
def material(ladder: Ladder) -> Material:
    return material_at(ladder, 3)


# -- what there is to learn


def test_what_returns_is_not_new(material: Material) -> None:
    """Bar 3 is bar 1: the plan learns it once and says where it comes back; upbeats ride with their bars."""
    plan = plan_of(material)
    bars = [step for step in plan.steps if step.kind is Kind.BAR]
    assert [step.title for step in bars[:3]] == ["Bar 1 with its upbeat", "Bar 2", "Bar 4"]
    assert bars[0].returns == (3,)
    assert (plan.new, plan.written, plan.words) == (5, 6, "Learn 5 bars of 6.")


@pytest.mark.parametrize("idiom", ["clawhammer", "three-finger"])
def test_plans_of_real_tunes_cover_every_bar_and_join_once(idiom: str) -> None:
    """Whatever the order: all bars of the path, each once as new, all joins in playing order, the whole at the end."""
    for found in ladders_of(sized(6, 300), idiom):
        for rung in (1, 7):
            learnt = material_at(found, rung)
            for order in Order:
                assert list(faults(learnt, plan_of(learnt, order))) == [], (found.tune.title, rung, order)


def test_the_report_would_notice_a_plan_with_a_hole(material: Material) -> None:
    """A plan without a bar, a join or the whole is told of."""
    plan = plan_of(material)
    for kind in (Kind.JOIN, Kind.WHOLE, Kind.BAR):
        fewer = type(plan)(
            plan.order, tuple(step for step in plan.steps if step.kind is not kind), plan.new, plan.written
        )
        assert list(faults(material, fewer)), kind


def test_orders(material: Material) -> None:
    """Hardest first: bars by falling grade, joins, then what is longer. Easiest part first: the shorter one."""
    hardest = [step for step in plan_of(material, Order.HARDEST).steps if step.kind is Kind.BAR]
    assert [step.grade for step in hardest] == sorted((step.grade for step in hardest), reverse=True)
    kinds = [step.kind for step in plan_of(material, Order.HARDEST).steps]
    assert kinds.index(Kind.JOIN) > max(at for at, kind in enumerate(kinds) if kind is Kind.BAR)
    first = next(step for step in plan_of(material, Order.EASIEST).steps if step.kind is Kind.BAR)
    assert first.title == "Bar 6 with its upbeat"


def test_what_is_learnt_survives_an_edit_elsewhere(ladder: Ladder) -> None:
    """A step is known by what the hands do: raising bar 2 leaves the steps of the second part as they are."""
    before = Arrangement(level_path(ladder, 2))
    raised = set_rungs(ladder, before, (2,), 4)
    old, new = (plan_of(material_of(ladder, one)) for one in (before, raised))
    ids = {step.id for step in old.steps}
    changed = {step.title for step in new.steps if step.id not in ids}
    assert "Bar 2" in changed and "Bar 6 with its upbeat" not in changed and "Bar 4" not in changed


def test_a_hard_bar_is_taken_in_halves_first() -> None:
    """From grade 5 on, the halves cut at a beat and together the bar (handbook §8)."""
    row = find_instrument("banjo")
    found = material_at(build_ladder(fit_tune(demo_tunes()[1], row, Wish()), "clawhammer"), 6)
    steps = plan_of(found).steps
    hard = {step.title for step in steps if step.kind is Kind.BAR and step.grade >= 5}
    assert hard
    for at, step in enumerate(steps):
        if step.kind is Kind.BAR:
            first, second = steps[max(0, at - 2)], steps[max(0, at - 1)]
            halved = first.kind is second.kind is Kind.HALF
            assert halved == (step.title in hard), step
            if halved:
                (left,), (right,) = first.spans, second.spans
                assert left.spot == right.spot == step.spans[-1].spot
                assert (left.start, left.end, right.end) == (0, right.start, step.spans[-1].length)


# -- loops


def test_a_part_with_its_upbeat_leads_back_by_itself(material: Material) -> None:
    """The last bar gives the upbeat its eighth: a round is four whole bars, and begins with the upbeat once."""
    loop = loop_of(material, [whole(material, Spot(index)) for index in range(1, 5)])
    assert loop.pickup and loop.length == 4
    assert [span.spot.index for span in loop.lead_in] == [0] and loop.spans[-1].spot.index == 0


def test_a_full_bar_with_beats_to_spare_holds_the_upbeat(material: Material) -> None:
    """The pickup trick (handbook §8): looping a bar cuts its end for the upbeat only where no note begins there."""
    busy = loop_of(material, [whole(material, Spot(1))])
    assert busy.length == 1
    spare = material_at(ladder_for('D|"G"G2 B2 d4|"G"G8|]'), 1)
    loop = loop_of(spare, [whole(spare, Spot(1))])
    assert loop.pickup and loop.length == 1 and loop.spans[0].length == Fraction(7, 8)
    running = material_at(ladder_for('D|"G"G2 B2 dcBA|"G"G7|]', "mandolin"), 5)
    kept = loop_of(running, [whole(running, Spot(1))])
    assert not kept.pickup and kept.spans[0].length == 1 and kept.lead_in


def test_a_join_is_half_a_bar_on_either_side(material: Material) -> None:
    """Cut at beats, and what is cut adds up and begins at 0."""
    left, right = join_span(material, Spot(1), Spot(2))
    assert (left.start, left.end, right.start, right.end) == (Fraction(1, 2), 1, 0, Fraction(1, 2))
    bar = cut(material.bars[Spot(1)], left.start, left.end)
    assert bar.strokes[0].onset == 0 and bar.length == Fraction(1, 2)
    inner = cut(material.bars[Spot(1)], Fraction(1, 16), Fraction(1, 2))
    assert not inner.strokes[0].touches, "what was struck before does not begin again"


# -- tempo, counting, turns


def test_the_tempo_rises_only_when_clean() -> None:
    """Three times clean running: a step up; again: from the beginning; at the goal: done; back: a step down."""
    steps = TempoSteps(start=60, step=20, goal=100, clean=2)
    at = begun(steps)
    for said, percent, clean in (
        (Said.CLEAN, 60, 1),
        (Said.AGAIN, 60, 0),
        (Said.CLEAN, 60, 1),
        (Said.CLEAN, 80, 0),
        (Said.BACK, 60, 0),
        (Said.CLEAN, 60, 1),
        (Said.CLEAN, 80, 0),
        (Said.CLEAN, 80, 1),
        (Said.CLEAN, 100, 0),
        (Said.CLEAN, 100, 1),
    ):
        at = after(at, said, steps)
        assert (at.percent, at.clean, at.done) == (percent, clean, False)
    at = after(at, Said.CLEAN, steps)
    assert at == Progress(100, 2, 11, done=True)
    assert after(at, Said.BACK, steps) == Progress(80, 0, 12)
    assert after(Progress(30), Said.BACK, TempoSteps(start=30)).percent == 30, "never slower than the slowest"


@pytest.mark.parametrize(("field", "given"), [("start", 29), ("goal", 151), ("step", 0), ("clean", 11), ("goal", 59)])
def test_tempo_steps_out_of_bounds_are_refused(field: str, given: int) -> None:
    """The field and the bounds are named."""
    with pytest.raises(PathError) as told:
        TempoSteps(**{field: given})
    assert told.value.field == field and told.value.remedy


@pytest.mark.parametrize(
    ("metre", "said", "strong"),
    [
        ("4/4", "1 2 3 4", {0}),
        ("3/4", "1 2 3", {0}),
        ("6/8", "1 2", {0}),
        ("2+2+2+3/8", "1 2 1 2 1 2 1 2 3", {0, 2, 4, 6}),
        ("7/8", "1 2 1 2 1 2 3", {0, 2, 4}),
    ],
)
def test_a_metre_is_counted_as_it_is_grouped(metre: str, said: str, strong: set[int]) -> None:
    """Beats, dotted ones in compound time; every unit in additive time, groups from one (handbook §8)."""
    clicks = counts_of(parse_metre(metre))
    assert " ".join(click.said for click in clicks) == said
    assert {at for at, click in enumerate(clicks) if click.strong} == strong
    assert [click.onset for click in clicks] == sorted({click.onset for click in clicks})
    assert clicks[-1].onset < parse_metre(metre).length


def test_the_count_in_leaves_room_for_the_upbeat() -> None:
    """A bar, and the next one up to where the upbeat begins: 1 2 3 4 1 2 3, then the quarter before the bar."""
    clicks, length = count_in(parse_metre("4/4"), Fraction(1, 4))
    assert [click.said for click in clicks] == ["1", "2", "3", "4", "1", "2", "3"] and length == Fraction(7, 4)
    assert count_in(parse_metre("6/8")) == (counts_of(parse_metre("6/8")), Fraction(3, 4))


def test_my_turn_your_turn(material: Material) -> None:
    """Each phrase is heard and then left, all of the performance, upbeats with their phrase."""
    turns = turns_of(material)
    assert [turn.heard for turn in turns] == [True, False] * (len(turns) // 2)
    assert [span.spot for turn in turns[::2] for span in turn.spans] == list(material.order)
    assert turns[0].spans == turns[1].spans and turns[0].spans[0].spot == Spot(0)


# -- drills


@pytest.mark.parametrize(
    ("instrument", "idiom"),
    [("banjo", "clawhammer"), ("banjo", "three-finger"), ("mandolin", "plectrum"), ("guitar", "fingerstyle")],
)
def test_drills_can_be_played(instrument: str, idiom: str) -> None:
    """Each says whom it serves, adds up, and keeps to the neck; every kind that the path has is there."""
    found = ladder_for(f"{BODY}|GABc dedB|AFDF A2F2|]", instrument, idiom=idiom)
    numbers = {bar.number for bar in found.tune.bars}
    setup = found.fit.setup
    for rung in (1, 4, 6):
        for drill in drills_of(material_at(found, rung)):
            assert drill.serves and set(drill.serves) <= numbers and drill.title and drill.said
            for bar in drill.bars:
                at = Fraction(0)
                for stroke in bar.strokes:
                    assert stroke.onset == at
                    at = stroke.end
                    strings = [note.place.string for note in stroke.notes]
                    assert len(set(strings)) == len(strings)
                    for note in stroke.notes:
                        assert 0 <= note.place.fret <= setup.string(note.place.string).last_fret
    kinds = {drill.kind for rung in (4, 6) for drill in drills_of(material_at(found, rung))}
    assert {DrillKind.HAND, DrillKind.NOTES, DrillKind.JOIN} <= kinds
    assert (DrillKind.CROSSING in kinds) == found.idiom.clocked


def test_each_slur_and_chord_change_has_its_drill(ladder: Ladder) -> None:
    """Open, chord, open, chord; a slur's two places, the second by the left hand alone, four times."""
    found = material_at(ladder, 4)
    drills = drills_of(found)
    slurs = {
        (note.slur.ornament, note.place.string, note.slur.start, note.place.fret)
        for spot in found.new
        for stroke in found.bars[spot].strokes
        for note in stroke.notes
        if note.slur and note.slur.ornament is not Ornament.BEND
    }
    drilled = [drill for drill in drills if drill.kind is DrillKind.SLUR]
    assert slurs and len(drilled) == len(slurs)
    for drill in drilled:
        ways = [touch.way for bar in drill.bars for stroke in bar.strokes for touch in stroke.touches]
        assert ways[1::2] == [Way.LEFT] * 4
    guitar = drills_of(material_at(ladder_for(instrument="guitar", idiom="plectrum"), 3))
    changes = [drill for drill in guitar if drill.kind is DrillKind.CHANGE]
    assert {"C and D", "D and G"} <= {drill.title for drill in changes}
    for drill in changes:
        assert len(drill.bars) == 2
        frets = [[note.place.fret for note in stroke.notes] for bar in drill.bars for stroke in bar.strokes]
        assert [any(row) for row in frets] == [False, True] * 4


def test_the_notes_of_the_tune_go_up_and_down(ladder: Ladder) -> None:
    """Every pitch of the tune once up and once down, the highest once (handbook §11)."""
    drill = next(one for one in drills_of(material_at(ladder, 1)) if one.kind is DrillKind.NOTES)
    heard = [note.pitch.cents for bar in drill.bars for stroke in bar.strokes for note in stroke.notes]
    scale = sorted({pitch.cents for pitch in ladder.tune.pitches})
    assert heard == [*scale, *scale[-2::-1]] and f"All {len(scale)} notes" in drill.said


# -- as text


def test_a_plan_is_written(material: Material, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Steps with minutes and reasons, drills with their bars; the command writes the same."""
    guitar = drills_of(material_at(ladder_for(instrument="guitar"), 3))
    assert "Chord change:" in write_plan("", plan_of(material), guitar)
    text = write_plan("Test", plan_of(material), drills_of(material))
    assert "Learn 5 bars of 6." in text and "comes back in 3" in text and "The whole, as it is played" in text
    assert "Right hand alone:" in text and "Basic stroke" in text
    file = tmp_path / "tune.abc"
    file.write_text(f"X:1\nT:Test\nM:4/4\nL:1/8\nK:G\n{BODY}\n")
    assert main(["practice", str(file), "--rung", "3", "--order", "hardest"]) == 0
    out = capsys.readouterr().out
    assert out.startswith("Test\n") and "hardest first" in out
    assert main(["practice", str(file), "--rung", "9"]) == 2


# -- company


def heard(found: Ladder, name: str) -> list[list[tuple[Fraction, str, tuple[int, ...]]]]:
    """(onset, part, keys of the pitches) of each bar; a key is a hundred cents."""
    return [
        [(note.onset, str(note.part), tuple(int(cents / 100) for cents in note.cents)) for note in bar]
        for bar in backing_of(found, name)
    ]


def test_boom_chuck_goes_root_chord_fifth_chord(ladder: Ladder) -> None:
    """In the key that sounds: G2, the chord of G above it, D, again (common practice); an upbeat rests."""
    bars = heard(ladder, "boom-chuck")
    assert bars[0] == []
    chord = (55, 59, 62)
    assert bars[1] == [
        (Fraction(0), "bass", (43,)),
        (Fraction(1, 4), "chord", chord),
        (Fraction(1, 2), "bass", (50,)),
        (Fraction(3, 4), "chord", chord),
    ]
    assert [part for _, part, _ in bars[4]] == ["bass", "chord", "bass", "chord"]
    assert bars[4][2][2] == (50,) and bars[4][0][2] == (50,)  # D its root, then G its fifth


def test_every_metre_has_company_that_fits_it() -> None:
    """The usual row first; where groups differ drone and drum alone; every note inside its bar, drums without pitch."""
    for metre, usual in (("4/4", "boom-chuck"), ("3/4", "waltz"), ("6/8", "jig"), ("2/4", "boom-chuck")):
        assert rows_for(parse_metre(metre))[0].name == usual, metre
    for metre in ("2+2+2+3/8", "5/8", "10/8"):
        assert {row.name for row in rows_for(parse_metre(metre))} == {"drone", "frame drum"}, metre
    found = ladder_for('"Am"A2B2c2B2A|"Am"A2B2c2BAB|]', "saz", "2+2+2+3/8", "Am", "plectrum")
    for row in rows_for(found.tune.metre):
        for bar, written in zip(backing_of(found, row.name), found.tune.bars, strict=True):
            assert bar
            for note in bar:
                assert 0 <= note.onset < note.onset + note.duration <= written.length
                assert bool(note.cents) == (note.part in ("drone", "bass", "chord"))
    drum = backing_of(found, "frame drum")[0]
    assert [note.onset * 8 for note in drum if note.part == "drum"] == [0, 2, 4, 6]
    with pytest.raises(PathError, match="no backing"):
        backing_of(found, "brass band")


def test_a_phrase_inside_the_tune_has_its_upbeat() -> None:
    """Two phrases of four bars, both begun on the last quarter: bars 5 to 8 go round by that of bar 4, the first phrase
    by its own, though another phrase's upbeat stands where the room is.
    """
    phrases = (
        'D2|"G"G2 B2 d2 B2|"D"A2 F2 D2 F2|"G"G2 B2 d2 B2|"D"A2 F2 D2 A2|',
        '"G"B2 G2 D2 G2|"C"E2 c2 e2 c2|"D"d2 c2 A2 F2|"G"G6|]',
    )
    material = material_at(ladder_for("".join(phrases)), 2)
    second = loop_of(material, [whole(material, Spot(at)) for at in range(5, 9)])
    assert second.pickup and [(span.spot.index, span.start, span.end) for span in second.lead_in] == [
        (4, Fraction(3, 4), Fraction(1))
    ]
    first = loop_of(material, [whole(material, Spot(at)) for at in range(1, 5)])
    assert first.pickup and (first.spans[-2].end, first.spans[-1].spot.index) == (Fraction(3, 4), 0)
    assert first.length == second.length == 4
    inside = loop_of(material, [whole(material, Spot(2)), whole(material, Spot(3))])
    assert not inside.lead_in and not inside.pickup
