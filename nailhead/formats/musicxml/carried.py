"""What an arrangement is made from, carried inside its own score, so that it comes back with every decision."""

from __future__ import annotations

import hashlib
import json
from typing import Any
from xml.etree.ElementTree import Element, SubElement, canonicalize, tostring

from nailhead.formats.musicxml import elements as xml
from nailhead.formats.musicxml.archive import open_document

#: Name of the miscellaneous field (MusicXML 4.0, element miscellaneous: for what other programs need not know).
FIELD = "nailhead-arrangement"
#: Name of the field that says how much of the melody each rung of the path plays.
LAYERS_FIELD = "nailhead-layers"

Document = dict[str, Any]


def carry(root: Element, document: Document) -> None:
    """Puts a document into a finished score, with the print of its notes."""
    carried = json.dumps({"document": document, "notes": _print(root)}, ensure_ascii=False, separators=(",", ":"))
    keep_field(root, FIELD, carried)


def keep_field(root: Element, name: str, text: str) -> None:
    """Puts a text of ours where other programs leave it alone."""
    identification = root.find("identification")
    assert identification is not None
    kept = identification.find("miscellaneous")
    if kept is None:
        kept = SubElement(identification, "miscellaneous")
    xml.text(kept, "miscellaneous-field", text, name=name)


def carried(raw: bytes) -> tuple[str, bool] | None:
    """(the document as JSON text, whether the notes are still those it was written with); None where none is carried.

    Raises MusicXmlError for what is no MusicXML.
    """
    root = open_document(raw)
    for element in root.iterfind("identification/miscellaneous/miscellaneous-field"):
        if element.get("name") == FIELD:
            try:
                held = json.loads(element.text or "")
                return json.dumps(held["document"]), held["notes"] == _print(root)
            except (ValueError, KeyError, TypeError, RecursionError):
                return None
    return None


def _print(root: Element) -> str:
    """A print of all parts that white space does not change."""
    found = hashlib.sha256()
    for part in root.iterfind("part"):
        found.update(canonicalize(tostring(part, encoding="unicode"), strip_text=True).encode())
    return found.hexdigest()
