"""The teacher's own word on the core of a tune, written into the tune: it goes wherever the tune's text goes.

One field of the tune's header holds it, an instruction as ABC has them for programs (ABC standard 2.1, §3.1, field I):
`I:nailhead-core +3@1/8:5 -7@0:1` takes the note of bar 3 that begins an eighth into it into the core and the first one
of bar 7 out of it. The figure behind the colon is the note's degree above the tonic (0 to 6), so that a text that has
changed under a decision is noticed, and transposing the tune is not.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from nailhead.core.errors import TuneError
from nailhead.core.music.layers import Decisions, NoteId
from nailhead.core.music.metre import Time, parse_time
from nailhead.core.music.structure import beat_words
from nailhead.core.music.tune import SoundingNote, Tune, sounding_notes

FIELD, WORD = "I", "nailhead-core"
_ITEM = re.compile(r"([+-])(\d{1,6})@(\d{1,6}(?:/[1-9]\d{0,5})?):([0-6])")


@dataclass(frozen=True, slots=True)
class Told:
    """What a tune says of its core: decisions by note, and those that wait aside, each with the reason."""

    kept: Mapping[NoteId, bool]
    aside: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class _Item:
    taken: bool
    number: int
    onset: Time
    degree: int

    def __str__(self) -> str:
        return f"{'+' if self.taken else '-'}{self.number}@{self.onset}:{self.degree}"


def decisions_of(tune: Tune) -> Told:
    """The decisions that a tune carries."""
    notes = _notes(tune)
    kept: dict[NoteId, bool] = {}
    aside = []
    for item in _items(tune):
        found = notes.get((item.number, item.onset))
        if found and _degree(tune, found) == item.degree:
            kept[found.bar, found.onset] = item.taken
        else:
            where = beat_words(item.onset, Time(0), tune.metre.unit)
            what = "another note is there now" if found else "no note begins there any more"
            did = "taken into" if item.taken else "taken out of"
            aside.append(f"The note of bar {item.number} {where} was {did} the core; it waits: {what}.")
    return Told(kept, tuple(aside))


def decide(tune: Tune, note: NoteId, taken: bool | None) -> Tune:
    """The tune with a note taken into its core (True), out of it (False), or left to the engine (None).

    Raises TuneError where no note begins. What waits aside stays.
    """
    bar, onset = note
    found = next((one for one in sounding_notes(tune) if (one.bar, one.onset) == note), None)
    if found is None:
        raise TuneError("No note begins there.", field="onset", remedy="Choose a note of the tune.")
    number = tune.bars[bar].number
    items = [item for item in _items(tune) if (item.number, item.onset) != (number, onset)]
    if taken is not None:
        items.append(_Item(taken, number, onset, _degree(tune, found)))
    items.sort(key=lambda item: (item.number, item.onset))
    fields = tuple(row for row in tune.fields if not _is_ours(*row))
    if items:
        fields += ((FIELD, " ".join([WORD, *map(str, items)])),)
    return replace(tune, fields=fields)


def written(decisions: Decisions, tune: Tune) -> str:
    """Decisions as the field writes them, for exports."""
    notes = {(note.bar, note.onset): note for note in sounding_notes(tune)}
    items = [
        _Item(taken, tune.bars[bar].number, onset, _degree(tune, notes[bar, onset]))
        for (bar, onset), taken in sorted(decisions.items())
    ]
    return " ".join(map(str, items))


def _is_ours(letter: str, text: str) -> bool:
    return letter == FIELD and text.split()[:1] == [WORD]


def _items(tune: Tune) -> list[_Item]:
    """What the field says; a word that is none of ours is passed over."""
    found = []
    for letter, text in tune.fields:
        for match in _ITEM.finditer(text) if _is_ours(letter, text) else ():
            sign, number, onset, degree = match.groups()
            found.append(_Item(sign == "+", int(number), parse_time(onset), int(degree)))
    return found


def _notes(tune: Tune) -> dict[tuple[int, Time], SoundingNote]:
    """Notes by bar number and onset."""
    return {(tune.bars[note.bar].number, note.onset): note for note in sounding_notes(tune)}


def _degree(tune: Tune, note: SoundingNote) -> int:
    """Steps of the staff above the tonic."""
    return (note.pitch.diatonic - "CDEFGAB".index(tune.key.tonic.step)) % 7
