"""An arrangement to be taken elsewhere and back: what `arrangement_json` shows, with what it was made from.

`source` holds the tune as ABC, the setup, the choices and the decisions; from these everything else is worked out
again, so that nothing in the file can contradict itself.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from nailhead.core.arrange.rows.ways import CHOICES, idiom_named
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.errors import NailheadError
from nailhead.core.figures import read_whole
from nailhead.formats.arrangement_json import FORMAT, VERSION
from nailhead.formats.decisions_json import decisions_document, read_decisions

Document = dict[str, Any]


class ArrangementFileError(NailheadError):
    """A file that is no arrangement of Nailhead's."""


@dataclass(frozen=True)
class Source:
    """What an arrangement is made from. `fifth` and `key` as text; `options` and `sheet` as they are kept."""

    abc: str
    name: str
    instrument: str
    idiom: str
    tuning: str
    capo: int
    fifth: str | None
    key: str
    options: dict[str, str]
    sheet: Document
    decisions: Arrangement
    patterns: tuple[tuple[str, str], ...] = ()


def write_source(source: Source) -> Document:
    """The part of a document that is read back."""
    return {
        "abc": source.abc,
        "name": source.name,
        "instrument": source.instrument,
        "idiom": source.idiom,
        "tuning": source.tuning,
        "capo": source.capo,
        "fifth": source.fifth,
        "key": source.key,
        "options": source.options,
        "sheet": source.sheet,
        "patterns": [list(row) for row in source.patterns],
        "decisions": decisions_document(source.decisions),
    }


def file_document(source: Source) -> Document:
    """The least that `read_source` reads."""
    return {"format": FORMAT, "version": VERSION, "source": write_source(source)}


def read_source(text: str) -> Source:
    """The source of a file that this Nailhead or an earlier one has written; raises ArrangementFileError."""
    try:
        document = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise _refused("That is not JSON.", "Give the JSON file of an arrangement.") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise _refused("That JSON is no arrangement of Nailhead's.", "Export one as JSON from its sheet.")
    if document.get("version") not in range(1, VERSION + 1):
        raise _refused(f"It is of version {document.get('version')}.", "Open it in the Nailhead that wrote it.")
    source = document.get("source")
    if not isinstance(source, dict):
        raise _refused("It does not say what it was made from.", "Export it again from its sheet.")
    try:
        return Source(
            _text(source, "abc"),
            _text(source, "name"),
            _text(source, "instrument"),
            _text(source, "idiom"),
            _text(source, "tuning"),
            read_whole(str(source["capo"]), 0, 40, "capo"),
            None if source["fifth"] is None else _text(source, "fifth"),
            _text(source, "key"),
            {name: str(way) for name, way in source["options"].items() if name in CHOICES},
            dict(source["sheet"]),
            read_decisions(source["decisions"], idiom_named(_text(source, "idiom")).right),
            tuple((str(name), str(text)) for name, text in source.get("patterns", [])),
        )
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise _refused(f"Its source cannot be read: {error!r}.", "Export it again from its sheet.") from error


def _text(source: Document, name: str) -> str:
    value = source[name]
    if not isinstance(value, str):
        raise TypeError(f"{name} is no text")
    return value


def _refused(said: str, remedy: str) -> ArrangementFileError:
    return ArrangementFileError(said, field="file", remedy=remedy)
