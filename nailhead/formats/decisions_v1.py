"""Decisions as the first version wrote them: one word for finger, manner and direction of a stroke."""

from __future__ import annotations

from typing import Any

from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.values import Finger, Way

Document = dict[str, Any]
#: The words that named a finger.
_FINGERS = {"thumb": Finger.THUMB, "index": Finger.INDEX, "middle": Finger.MIDDLE}
#: Those that named a way and left it to the idiom what goes; a brush went down over several strings.
_WAYS = {"down": (Way.DOWN, False), "up": (Way.UP, False), "brush": (Way.DOWN, True)}


def current_document(document: Document, right: RightHand) -> Document:
    """The same decisions as this version writes them, played by a right hand; nothing of them is lost."""
    return {
        **document,
        "version": 2,
        "cells": [{**row, "cell": _cell(row["cell"], right)} for row in document.get("cells", [])],
        "aside": [{**row, "cell": _cell(row["cell"], right)} for row in document.get("aside", [])],
    }


def _cell(cell: Document, right: RightHand) -> Document:
    return {**cell, "strokes": [_stroke(stroke, right) for stroke in cell["strokes"]]}


def _stroke(stroke: Document, right: RightHand) -> Document:
    kept = {name: value for name, value in stroke.items() if name not in ("hand", "notes")}
    notes = [{name: value for name, value in note.items() if name != "by"} for note in stroke["notes"]]
    hand = stroke.get("hand")
    if not notes:
        return {**kept, "touches": []}
    if hand is None:
        return {**kept, "touches": [{"way": Way.RINGS.value, "notes": notes}]}
    if hand == "left":
        return {**kept, "touches": [{"way": Way.LEFT.value, "notes": notes}]}
    if hand == "pinch":
        fingers = [_FINGERS.get(note.get("by", "thumb"), Finger.THUMB) for note in stroke["notes"]]
        return {**kept, "touches": [_touch(by, Way.PLUCK, [note]) for by, note in zip(fingers, notes, strict=True)]}
    return {**kept, "touches": [_touch(*_mover(hand, right), notes)]}


def _mover(hand: str, right: RightHand) -> tuple[Finger, Way]:
    """Who a word meant under this hand; a nail for a way that the hand does not go."""
    if hand in _FINGERS:
        return _FINGERS[hand], Way.PLUCK
    way, several = _WAYS[hand]
    row = right.touch(None, way, several) or right.touch(None, way)
    return (row.by, row.way) if row and row.by else (Finger.PICK if way is Way.UP else Finger.NAIL, way)


def _touch(by: Finger, way: Way, notes: list[Document]) -> Document:
    return {"by": by.value, "way": way.value, "notes": notes}
