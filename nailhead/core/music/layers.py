"""The layers of a melody, as values: which notes are its core, where a thinner layer strikes them, and why.

Four layers lie in each other by identity of the note: bones, beat, pairs, full. No instrument is in here; which rung of
a ladder plays which layer is told by the way of playing.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property

from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch


class Layer(StrEnum):
    """How much of the melody is played, from the fewest notes to all."""

    BONES = "bones"
    BEAT = "beat"
    PAIRS = "pairs"
    FULL = "full"

    @property
    def rank(self) -> int:
        """0 for the bones to 3 for every note."""
        return _ORDER.index(self)

    def holds(self, other: Layer) -> bool:
        """Does a note whose lowest layer is `other` sound in this one?"""
        return other.rank <= self.rank

    @property
    def words(self) -> str:
        """What a rung that plays it is said to play."""
        return {"bones": "the bones", "beat": "the beats", "pairs": "pairs", "full": "every note"}[self.value]


_ORDER = tuple(Layer)

#: A note by where it stands: index of its written bar, its own onset in that bar.
NoteId = tuple[int, Time]
#: A teacher's word on notes of the core: True takes one in, False takes it out.
Decisions = Mapping[NoteId, bool]


@dataclass(frozen=True, slots=True)
class CoreNote:
    """A melody note (ties joined) and its lowest layer.

    `places` are where bones, beat and pairs strike it: its own onset, or the beat it stands for; `even` is the beat on
    which a hand strikes it that falls on beats alone, None where that is the same. `why` says why the note is in the
    core or out of it; `decided` is true where the teacher's word stands.
    """

    bar: int
    onset: Time
    duration: Time
    pitch: Pitch
    layer: Layer
    places: tuple[Time, Time, Time]
    why: str = ""
    decided: bool = False
    even: Time | None = None

    @property
    def id(self) -> NoteId:
        return self.bar, self.onset

    def at(self, layer: Layer) -> Time:
        """Where a layer strikes the note, within its bar."""
        return self.onset if layer is Layer.FULL else self.places[layer.rank]

    def evened(self, layer: Layer) -> Time:
        """Where a hand that falls on beats alone strikes the note of a layer."""
        at = self.at(layer)
        moves = self.even is not None and layer is not Layer.FULL and at == self.at(Layer.BEAT)
        return self.even if moves and self.even is not None else at


@dataclass(frozen=True)
class Core:
    """Every melody note of a tune with its layer, in order. `costs` are what the choice cost, by name, for bones and
    beat together.
    """

    notes: tuple[CoreNote, ...]
    costs: Mapping[str, int] = field(default_factory=dict)

    @cached_property
    def by_id(self) -> Mapping[NoteId, CoreNote]:
        return {note.id: note for note in self.notes}

    @cached_property
    def by_bar(self) -> Mapping[int, tuple[CoreNote, ...]]:
        """The notes that begin in each written bar; a bar without any is not there."""
        found: dict[int, list[CoreNote]] = {}
        for note in self.notes:
            found.setdefault(note.bar, []).append(note)
        return {bar: tuple(notes) for bar, notes in found.items()}

    def notes_of(self, bar: int) -> tuple[CoreNote, ...]:
        """The notes that begin in a written bar, as the tune has them."""
        return self.by_bar.get(bar, ())

    def of_layer(self, layer: Layer, bar: int) -> tuple[CoreNote, ...]:
        """The notes of a bar that a layer plays, in the order it strikes them."""
        found = (note for note in self.notes_of(bar) if layer.holds(note.layer))
        return tuple(sorted(found, key=lambda note: note.at(layer)))
