"""The core of a tune as the desk shows it, and a teacher's word on it as a line of the text."""

from __future__ import annotations

from collections.abc import Iterator

from nailhead.core.music.core_melody import find_core
from nailhead.core.music.decisions import FIELD, WORD, decisions_of
from nailhead.core.music.tune import Tune
from nailhead.formats.abc.source import Span
from nailhead.web import desk_models as models

#: What to do about a decision that lost its note.
REMEDY = "Undo the change, or decide on the note that is there now."


def core_notes(tune: Tune, spans: tuple[tuple[Span, ...], ...]) -> list[models.CoreNoteModel]:
    """Every note with its layer, the reason, and its place in the text."""
    found = []
    for note in find_core(tune).notes:
        events = tune.bars[note.bar].events
        at = next(place for place, event in enumerate(events) if event.onset == note.onset)
        start, end = spans[note.bar][at]
        found.append(
            models.CoreNoteModel(
                place=note.bar,
                number=tune.bars[note.bar].number,
                onset=str(note.onset),
                pitch=str(note.pitch),
                layer=note.layer.value,
                why=note.why,
                decided=note.decided,
                start=start,
                end=end,
            )
        )
    return found


def core_aside(tune: Tune, abc: str) -> Iterator[models.Trouble]:
    """Decisions on the core that no longer find their note."""
    at = max(0, abc.find(f"{FIELD}:{WORD}"))
    for said in decisions_of(tune).aside:
        yield models.Trouble(level="note", message=said, remedy=REMEDY, start=at, end=at + 1, bar=None)


def with_core(abc: str, changed: Tune) -> str:
    """The text as it stands with the field of its core put before its key."""
    lines = [line for line in abc.split("\n") if not line.replace(" ", "").startswith(f"{FIELD}:{WORD}")]
    text = next((text for letter, text in changed.fields if letter == FIELD and text.startswith(WORD)), None)
    key = next(place for place, line in enumerate(lines) if line.startswith("K:"))
    return "\n".join([*lines[:key], *([f"{FIELD}:{text}"] if text else []), *lines[key:]])
