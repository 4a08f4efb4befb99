"""Models of what can be chosen for a bar, a note and a whole arrangement."""

from __future__ import annotations

from nailhead.web.models import MarkModel, Model, ReasonModel


class AlternativeModel(Model):
    """Another way to play a bar: `difference` in words, `price` in points above the ladder's own, drawn small."""

    difference: str
    price: int
    grade: int
    reasons: list[ReasonModel]
    patterns: list[str]
    strokes: str
    width: float
    marks: list[MarkModel]


class UnisonModel(Model):
    """A place of a melody note's pitch and what the whole placement costs more with the note there."""

    string: int
    fret: int
    fret_name: str
    price: int
    words: str


class ChoiceModel(Model):
    """One thing in which players differ: the ways there are, the usual one first, and the one taken."""

    name: str
    label: str
    ways: list[str]
    taken: str


class OptionChange(Model):
    """Take one way of one choice."""

    name: str
    way: str
