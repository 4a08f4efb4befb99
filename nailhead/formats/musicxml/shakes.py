"""Strokes that are shaken, as MusicXML's ornaments: tremolo, treble, and a trill with its other fret."""

from __future__ import annotations

import re
from xml.etree.ElementTree import Element, SubElement

from nailhead.core.arrange.values import Shake, Trembling
from nailhead.formats.musicxml import elements as xml

#: What stands in `other-ornament`: a treble, a roll of several fingers (beside its arpeggio), and with which fret a
#: trill is made, which MusicXML has no place for.
_TRILL = re.compile(r"trill with fret (\d{1,2})")


def write_shake(notations: Element, shake: Shake) -> None:
    """The ornaments of a stroke."""
    ornaments = SubElement(notations, "ornaments")
    if shake.trembling is Trembling.TREMOLO:
        xml.text(ornaments, "tremolo", "3", type="single")
    elif not shake.fills or shake.trembling is Trembling.TREBLE:
        xml.text(ornaments, "other-ornament", shake.trembling.value)
    else:
        SubElement(ornaments, "trill-mark")
        if shake.fret is not None:
            xml.text(ornaments, "other-ornament", f"trill with fret {shake.fret}")


def read_shake(note: Element) -> Shake | None:
    """How a note is shaken, where that is written as above; a trill without its other fret is none."""
    other = " ".join(found.text or "" for found in note.iterfind("notations/ornaments/other-ornament"))
    if note.find("notations/ornaments/trill-mark") is not None and (found := _TRILL.search(other)):
        return Shake(Trembling.TRILL, int(found[1]))
    for kind in (Trembling.TREBLE, Trembling.ROLLED):
        if kind.value in other.split():
            return Shake(kind)
    single = note.find("notations/ornaments/tremolo[@type='single']")
    return Shake(Trembling.TREMOLO) if single is not None else None
