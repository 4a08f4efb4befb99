"""Why a note is in the core of a tune or out of it, in a teacher's words."""

from __future__ import annotations

from collections.abc import Sequence

from nailhead.core.music.layers import Layer
from nailhead.core.music.melody_facts import Note
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.structure import beat_words


def taken(note: Note, at: Time, in_place: bool, rivals: Sequence[Note], metre: Metre, offset: Time) -> str:
    """Why a note is in the core, which the beats strike `at` a time, `in_place` or moved.

    `rivals` are the others that begin in its beat.
    """
    where = beat_words(at, offset, metre.unit)
    if note.must:
        return f"It stays: {note.must}."
    if note.word:
        return f"It stays: it carries “{note.word}”."
    said = [f"It is {where}"] if in_place else [f"It stands {where}, a little early or late in the tune"]
    if rivals and all(note.duration > other.duration for other in rivals):
        said.append("the longest there")
    if note.chord_tone:
        said.append("a tone of the chord")
    if note.peak:
        said.append("the highest of its phrase")
    elif note.trough:
        said.append("the lowest of its phrase")
    return ", ".join(said) + "."


def left_out(note: Note, winner: Note | None, layer: Layer, on_beat: bool) -> str:
    """Why a note is not in the core; `winner` is what is kept of its beat, `on_beat` whether it begins one."""
    said = []
    if not on_beat:
        said.append("it comes between the beats")
    if winner and note.duration < winner.duration:
        said.append(f"it is shorter than {winner.pitch.name}")
    if not note.in_scale:
        said.append("it is outside the scale")
    elif not note.chord_tone:
        said.append("it is not in the chord")
    if not said:
        said.append(f"{winner.pitch.name} carries the line better" if winner else "the note before it rings on")
    back = " It comes back with the pairs." if layer is Layer.PAIRS else ""
    return f"Left out: {' and '.join(said)}.{back}"
