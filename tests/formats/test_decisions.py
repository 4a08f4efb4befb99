"""Decisions written and read back are the same decisions, on every instrument and rung."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import wished
from nailhead.core.arrange.rows.clawhammer import CLAWHAMMER
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement, Aside, KeptCell, Kind, melody_onsets
from nailhead.core.arrange.teacher.cells import bring_along, with_kept
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Finger, Grade
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.formats.abc import read_tune
from nailhead.formats.decisions_json import DecisionsError, bar_document, decisions_document, read_bar, read_decisions
from tests.core.test_alternatives import ladder
from tests.demo import demo_tunes
from tests.struck import letters


def everything_kept(found: Ladder) -> Arrangement:
    """Every cell of a ladder kept as it is."""
    cells = {
        (index, bar.rung): KeptCell(Kind.LOCKED, bar, "as it was", melody_onsets(found, index))
        for rung in found.rungs
        for index, bar in enumerate(rung)
    }
    return Arrangement(level_path(found, 1), cells=cells)


def bare(arrangement: Arrangement) -> Arrangement:
    """Without what is worked out again: numbers, grades and reported moves."""
    cells = {
        key: replace(cell, bar=replace(cell.bar, number=0, grade=Grade(1), join=Grade(1), moved=(), plainer=""))
        for key, cell in arrangement.cells.items()
    }
    return replace(arrangement, cells=cells)


@pytest.mark.parametrize("way", ["banjo clawhammer", "banjo three-finger", "guitar", "dulcimer", "saz-short"])
def test_every_cell_of_the_shelf_survives(way: str) -> None:
    """Through JSON text and back: strokes, slurs, pinches, tuplets, commas, shapes, kept fingers."""
    name, _, idiom = way.partition(" ")
    instrument, seen = find_instrument(name), 0
    for tune in demo_tunes():
        try:
            fit = fit_tune(tune, instrument, wished(find_idiom(idiom or None, instrument)))
        except FitError:
            continue
        found = build_ladder(fit, idiom or None)
        kept = everything_kept(found)
        read = read_decisions(json.loads(json.dumps(decisions_document(kept))), found.idiom.right)
        assert read == bare(kept)
        home = bring_along(found, read)
        assert not home.aside
        again = with_kept(found, home)
        assert [[bar.strokes for bar in rung] for rung in again.rungs] == [
            [bar.strokes for bar in rung] for rung in found.rungs
        ]
        seen += 1
    assert seen


def test_everything_else_survives() -> None:
    """Second time, splits, locks, what is aside; equal cells are written once."""
    found = ladder()
    cell = KeptCell(Kind.EDITED, found.cell(1, 4), "edited by hand", melody_onsets(found, 1))
    whole = Arrangement(
        (2, 3, 4, 5, 6),
        (0, 4, 0, 0, 0),
        frozenset({2}),
        frozenset({1}),
        {(1, 4): cell, (3, 4): cell},
        (Aside(9, 2, cell, "gone."),),
        ("1 0:700", "1 0:0", "1 0:0", "1 0:0", "1 0:200"),
    )
    document = decisions_document(whole)
    assert [row["bars"] for row in document["cells"]] == [[1, 3]]
    read = read_decisions(json.loads(json.dumps(document)), found.idiom.right)
    assert replace(read, cells={}, aside=()) == replace(whole, cells={}, aside=())
    assert read.aside[0].why == "gone." and read.cells[1, 4].said == "edited by hand"


@pytest.mark.parametrize(
    "broken",
    [
        {},
        {"rungs": "x"},
        {"rungs": [1], "cells": [{"bars": [0], "rung": 1}]},
        {"rungs": [1], "cells": [{"bars": [0], "rung": 1, "cell": {"kind": "odd", "melody": []}}]},
        {"rungs": [1], "aside": [7]},
        {"version": 3, "rungs": [1]},
        {"version": 2, "rungs": [1], "cells": [{"bars": [0], "rung": 1, "cell": {"kind": "edited", "melody": []}}]},
    ],
)
def test_what_cannot_be_read_is_refused(broken: dict) -> None:  # type: ignore[type-arg]
    """A typed error with the field and a remedy."""
    with pytest.raises(DecisionsError) as refused:
        read_decisions(broken, CLAWHAMMER.right)
    assert refused.value.field == "decisions" and refused.value.remedy


def test_a_bar_read_alone_has_no_number_yet() -> None:
    """Number and grade belong to the ladder it is put on."""
    found = ladder()
    bar = read_bar(bar_document(found.cell(2, 5)))
    assert (bar.number, bar.grade, bar.strokes) == (0, Grade(1), found.cell(2, 5).strokes)


# -- decisions of the first version

OLD = json.loads((Path(__file__).parent / "data" / "decisions_v1.json").read_text(encoding="utf-8"))


def old_ladder(row: dict) -> Ladder:  # type: ignore[type-arg]
    tune = read_tune(OLD["abc"]).tune
    assert tune
    return build_ladder(fit_tune(tune, find_instrument(row["instrument"]), Wish(tuning=row["tuning"])), row["idiom"])


#: The words of the first version -> letters of a tab.
WORDS = {"down": "d", "up": "u", "brush": "B", "thumb": "T", "index": "I", "middle": "M", "left": "-", "": ""}


@pytest.mark.parametrize("row", OLD["arrangements"], ids=lambda row: row["idiom"])
def test_decisions_of_the_first_version_lose_nothing(row: dict) -> None:  # type: ignore[type-arg]
    """Written by the last version that knew one word for finger and manner: path, splits, locks, every stroke of every
    kept cell with what struck it; and all of it is at home on today's ladder.
    """
    found = old_ladder(row)
    old = row["decisions"]
    read = read_decisions(old, found.idiom.right)
    assert list(read.rungs) == old["rungs"] and sorted(read.locked) == old["locked"]
    assert sorted(read.split) == old["split"] and read.bars == ()
    assert {f"{index},{rung}" for index, rung in read.cells} == set(row["struck"])
    for (index, rung), cell in read.cells.items():
        for stroke, (onset, word, notes) in zip(cell.bar.strokes, row["struck"][f"{index},{rung}"], strict=True):
            assert str(stroke.onset) == onset
            assert sorted([n.place.string, n.place.fret] for n in stroke.notes) == [[s, f] for s, f, _ in notes]
            if word == "pinch":
                assert letters(stroke) == "".join(f"{WORDS[by]}{string}" for string, _, by in notes)
            else:
                assert letters(stroke) == WORDS[word]
    home = bring_along(found, read)
    assert home.aside == () and set(home.cells) == set(read.cells) and home.rungs == read.rungs
    assert len(home.bars) == len(found.tune.bars)
    again = read_decisions(json.loads(json.dumps(decisions_document(home))), found.idiom.right)
    assert bare(again) == bare(home)


def test_what_struck_is_the_hand_s_own() -> None:
    """ "down" was the nail's in clawhammer and the pick's on a mandolin."""
    rows = {row["idiom"]: row for row in OLD["arrangements"]}
    for idiom, finger in (("clawhammer", Finger.NAIL), ("plectrum", Finger.PICK)):
        found = old_ladder(rows[idiom])
        read = read_decisions(rows[idiom]["decisions"], found.idiom.right)
        fingers = {touch.by for cell in read.cells.values() for stroke in cell.bar.strokes for touch in stroke.touches}
        assert finger in fingers and fingers <= {finger, Finger.THUMB, None}


def test_cells_kept_before_there_were_layers_stay_as_they_are() -> None:
    """A document of the version before: every note of its bars is played, no cell is set aside, none is changed."""
    every = ladder(every_note=True)
    old = decisions_document(everything_kept(every))
    for row in old["cells"]:
        del row["cell"]["layer"], row["cell"]["early"]
    new = ladder()
    read = read_decisions(json.loads(json.dumps(old)), new.idiom.right)
    brought = bring_along(new, read)
    assert not brought.aside and brought.cells.keys() == read.cells.keys()
    shown = with_kept(new, brought)
    for (index, rung), cell in brought.cells.items():
        assert shown.rungs[rung - 1][index].strokes == cell.bar.strokes == every.rungs[rung - 1][index].strokes
