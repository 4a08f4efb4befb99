"""The core of a melody: what its layers keep, that they lie in each other, and that every decision says why.

What players keep of a tune is common practice; the choice is compared with an exhaustive search, and with settings of
one tune in several public-domain collections (the figures of all of them: `make corpus`).
"""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from itertools import pairwise, product

import pytest

from nailhead.core.errors import TuneError
from nailhead.core.music.core_melody import COSTS, _alone, _solve, _step, _Task, core_of, find_core, motifs_of
from nailhead.core.music.core_options import beat_window
from nailhead.core.music.decisions import decide, decisions_of
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.layers import Layer
from nailhead.core.music.melody_facts import read_facts
from nailhead.core.music.structure import read_structure
from nailhead.core.music.transpose import transpose_tune
from nailhead.core.music.tune import Tempo, Tune, sounding_notes
from nailhead.core.music.windows import beat_windows, running_gap, stroke_units, ticks_of
from nailhead.formats.abc import read_tune
from tests.core.test_tune import tune
from tests.corpora import sample
from tests.demo import demo_tunes
from tests.setting_pairs import agreement, setting_pairs


def layer_text(found: Tune, layer: Layer, bar: int = 0) -> str:
    """The notes of a bar on a layer, as "G3@0 B3@1/4"."""
    return " ".join(f"{note.pitch}@{note.at(layer)}" for note in find_core(found).of_layer(layer, bar))


#: What is asked for -> (metre, tune, layer) and the notes of its first bar with where they are struck.
WORKED = {
    "a run keeps its beats": (("4/4", '"G"GABc dBAG|G8|]', Layer.BEAT), "G4@0 B4@1/4 D5@1/2 A4@3/4"),
    "and of those the bones": (("4/4", '"G"GABc dBAG|G8|]', Layer.BONES), "G4@0 D5@1/2"),
    "a pair between quarters comes back with the pairs": (
        ("4/4", '"G"G2BA G2D2|G8|]', Layer.PAIRS),
        "G4@0 B4@1/4 A4@3/8 G4@1/2 D4@3/4",
    ),
    "not with the beats": (("4/4", '"G"G2BA G2D2|G8|]', Layer.BEAT), "G4@0 B4@1/4 G4@1/2 D4@3/4"),
    "quarters are their own core": (("4/4", '"G"G2B2 d2B2|G8|]', Layer.BEAT), "G4@0 B4@1/4 D5@1/2 B4@3/4"),
    "a jig's eighths have one note a beat": (("6/8", '"G"GBd gdB|G6|]', Layer.BEAT), "G4@0 G5@3/8"),
    "long and short stay": (("6/8", '"G"G2B d2B|G6|]', Layer.BEAT), "G4@0 B4@1/4 D5@3/8 B4@5/8"),
    "in two the beat is an eighth": (("2/4", '"G"G/A/B/c/ dB|G4|]', Layer.BEAT), "G4@0 B4@1/8 D5@1/4 B4@3/8"),
    "a waltz's first beat is its bone": (("3/4", '"G"A2B2A2|B2c2B2|G6|]', Layer.BONES), "A4@0"),
    "and its third where the line turns": (("3/4", '"G"G2B2d2|G6|]', Layer.BONES), "G4@0 D5@1/2"),
    "a group of an additive bar has one": (("7/8", '"G"GAB cdef|G7|]', Layer.BONES), "G4@0 B4@1/4 D5@1/2"),
    "a syncopation is evened out": (("4/4", '"G"GB2d G4|G2B2 d4|"D"A4 F4|"G"G8|]', Layer.BEAT), "G4@0 B4@1/4 G4@1/2"),
}


@pytest.mark.parametrize("name", WORKED)
def test_worked_layer(name: str) -> None:
    """A bar, note by note, at the moments its layer strikes them (common practice)."""
    (metre, body, layer), notes = WORKED[name]
    assert layer_text(tune(body, metre), layer) == notes


#: A bar of a tune that has the figure in most of its bars -> where a hand strikes it that falls on beats alone.
EVENED = {
    "a dotted eighth in two": ("2/4", '"G"G>Bd>B|d>Bd>A|G4|]', "G4@0 B4@1/8 D5@1/4 B4@3/8"),
    "a dotted quarter": ("4/4", '"G"G3B d3B|G3B d4|G8|]', "G4@0 B4@1/4 D5@1/2 B4@3/4"),
    "what follows a rest on the beat": ("4/4", '"G"G2zB d2zB|G2zB d4|G8|]', "G4@0 B4@1/4 D5@1/2 B4@3/4"),
    "what is held over the bar line too": ("4/4", '"G"G2B2 d2zB-|B2zB d2zB|G8|]', "G4@0 B4@1/4 D5@1/2 B4@3/4"),
}


@pytest.mark.parametrize("name", EVENED)
def test_a_figure_is_evened_out_for_a_hand_that_falls_on_beats(name: str) -> None:
    """The short note goes to its beat (common practice); a slow hand has time and leaves it where it is."""
    metre, body, notes = EVENED[name]
    found = tune(body, metre)
    core = find_core(found)
    assert " ".join(f"{n.pitch}@{n.evened(Layer.BEAT)}" for n in core.of_layer(Layer.BEAT, 0)) == notes
    assert all(note.evened(Layer.FULL) == note.onset for note in core.notes)
    assert any(note.even for note in core.notes)
    slow = find_core(replace(found, tempo=Tempo(Fraction(1, 4), 30)))
    assert not any(note.even for note in slow.notes)


def test_a_slow_air_keeps_its_eighths() -> None:
    """Where notes come slower than two and a half a second there is nothing to thin."""
    slow = tune('"G"GABc dBAG|G8|]')
    assert len(find_core(slow).of_layer(Layer.BEAT, 0)) == 4
    assert len(find_core(replace(slow, rhythm="slow air")).of_layer(Layer.BEAT, 0)) == 8


def test_a_syllable_is_never_left_out() -> None:
    """What is sung is hummed."""
    sung = read_tune("X:1\nT:a song\nM:4/4\nL:1/8\nK:G\nGABc d4|\nw:one two three four five\n").tune
    assert sung and len(find_core(sung).of_layer(Layer.BEAT, 0)) == 5


@pytest.mark.parametrize("found", demo_tunes(), ids=lambda found: found.title)
def test_every_note_says_why_and_the_layers_lie_in_each_other(found: Tune) -> None:
    """By identity: what is in a layer is in the next, at its own onset or moved to its beat; nothing is invented."""
    core = find_core(found)
    assert [note.id for note in core.notes] == [(note.bar, note.onset) for note in sounding_notes(found)]
    for bar in range(len(found.bars)):
        layers = [{note.id for note in core.of_layer(layer, bar)} for layer in Layer]
        assert all(few <= more for few, more in pairwise(layers))
    for note in core.notes:
        assert note.why.endswith(".") and note.at(Layer.FULL) == note.onset
        assert all(0 <= at < found.bars[note.bar].length for at in note.places)


def test_layers_of_real_tunes_hold_their_windows() -> None:
    """At most one bone for a stroke unit but at a phrase's end, at most two notes in a beat of three, in every bar."""
    for chosen in sample(24):
        found = read_tune(chosen.text).tune
        assert found
        found = suggest_chords(found)
        structure, ticks = read_structure(found), ticks_of(found)
        core = core_of(found, structure, {})
        for bar in range(len(found.bars)):
            windows = beat_windows(found, structure, bar, ticks)
            struck = [int(note.at(Layer.BEAT) * ticks) for note in core.of_layer(Layer.BEAT, bar)]
            assert len(struck) == len(set(struck)), (chosen, bar)
            fast = running_gap(found, ticks) > (windows[0].end - windows[0].start if windows else 0) / 2
            for window in windows if fast and not any(e.words for e in found.bars[bar].events) else ():
                inside = [at for at in struck if window.start <= at < window.end]
                assert len(inside) <= 2, (chosen, bar)
            for unit in stroke_units(found, structure, bar, windows):
                bones = [int(note.at(Layer.BONES) * ticks) for note in core.of_layer(Layer.BONES, bar)]
                assert sum(unit[0].start <= at < unit[-1].end for at in bones) <= 2, (chosen, bar)


def test_equal_bars_and_motifs_keep_the_same() -> None:
    """The same bar again, and the same steps from another note, keep the same places of their notes."""
    found = tune('"G"GABc d2B2|"Am"ABcd e2c2|"G"GABc d2B2|"G"G8|]')
    core = find_core(found)
    kept = [[note.onset for note in core.of_layer(Layer.BEAT, bar)] for bar in range(3)]
    assert kept[0] == kept[1] == kept[2]


def test_a_pickup_is_no_motif_of_a_short_bar() -> None:
    """Two quarters before a bar line and two behind one lie over other beats, so each is chosen for itself."""
    found = read_tune("X:1\nM:3/4\nL:1/8\nK:C\nc2d2|c6|c2d2|]\n").tune
    assert found and found.bars[0].length == found.bars[2].length
    assert [len(find_core(found).of_layer(Layer.BONES, bar)) for bar in range(3)] == [2, 1, 2]


def test_the_choice_is_that_of_an_exhaustive_search() -> None:
    """All ways through three bars are tried, priced by the published table; none is cheaper."""
    found = suggest_chords(tune('"G"GBAc dBGA|"C"cedc "D"AFGA|"G"Bd3 G2z2|]'))
    structure = read_structure(found)
    facts = read_facts(found, structure)
    gap = running_gap(found, facts.ticks)
    rows = tuple(
        tuple(beat_window(facts, bar, window, gap, False) for window in facts.windows[bar]) for bar in range(3)
    )
    task = _Task(facts, motifs_of(facts, structure, found), False, rows)
    flat = [(bar, start, begun, options) for bar in range(3) for start, begun, options in rows[bar]]

    def price(choice: tuple) -> int | None:  # type: ignore[type-arg]
        total, last = 0, None
        for (bar, start, begun, _), option in zip(flat, choice, strict=True):
            total += sum(COSTS[name] for name in _alone(task, start, begun, option, bar))
            for pick in option:
                note = facts.bars[bar][pick.place]
                if last and last[0].bar == bar and (note.place <= last[0].place or pick.at <= last[1]):
                    return None
                total += _step(facts, last[0], note) if last else 0
                last = (note, pick.at)
        return total

    best = min(cost for choice in product(*(row[3] for row in flat)) if (cost := price(choice)) is not None)
    picks, costs = _solve(task)
    assert sum(costs.values()) == best
    assert len(picks) == 3


# -- the teacher's word


def test_a_decision_holds_in_equal_bars_and_moves_nothing_else() -> None:
    """B of bar 1 comes into the core, in bar 3 too; all other notes stay as they were."""
    found = tune('"G"GBAc dBGA|"C"c4 e4|"G"GBAc dBGA|"G"G8|]')
    before = {note.id: note.layer for note in find_core(found).notes}
    taken = decide(found, (0, Fraction(1, 8)), True)
    after = find_core(taken)
    changed = {note.id for note in after.notes if before[note.id] is not note.layer}
    assert changed == {(0, Fraction(1, 8)), (2, Fraction(1, 8))}
    assert all(after.by_id[one].decided and after.by_id[one].why == "You took it into the core." for one in changed)
    assert find_core(decide(taken, (0, Fraction(1, 8)), None)).notes == find_core(found).notes


def test_a_decision_goes_with_the_tune_and_waits_where_its_note_is_gone() -> None:
    """Through its text and another key; set aside with the reason when another note stands there, and back with it."""
    from nailhead.formats.abc import write_tune

    found = decide(tune('"G"GBAc dBGA|"G"G8|]'), (0, Fraction(3, 8)), True)
    again = read_tune(write_tune(found)).tune
    assert again and decisions_of(again).kept == {(0, Fraction(3, 8)): True}
    assert decisions_of(transpose_tune(found, 2)).kept == {(0, Fraction(3, 8)): True}
    other = read_tune(write_tune(found).replace("GBAc", "GBAd")).tune
    assert other and decisions_of(other).kept == {}
    assert "it waits: another note is there now" in decisions_of(other).aside[0]
    gone = read_tune(write_tune(found).replace("GBAc", "GBA2")).tune
    assert gone and "no note begins there any more" in decisions_of(gone).aside[0]
    with pytest.raises(TuneError, match="No note begins there"):
        decide(found, (0, Fraction(1, 16)), True)


# -- settings of one tune


def test_settings_of_a_tune_share_their_core() -> None:
    """A fixed part of the pairs of settings that differ (music21's O'Neill, Ryan, Aird and Nottingham collections): the
    cores agree as often as the notes on the beats, and more often than the longest notes or any drawn at random.
    """
    found = agreement(setting_pairs()[::12])
    assert found["core"] >= found["beat"] - 0.005
    assert found["core"] > found["longest"] > found["random"]
