"""What a teacher decided on a ladder as plain data and back, to the note: for the data file and for exports.

Grades are not written; they are worked out again when a cell is put back on its ladder. A document says its version;
those of earlier ones are read (`decisions_v1.py`).
"""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.teacher.arrangement import Arrangement, Aside, KeptCell, Kind
from nailhead.core.arrange.values import (
    PLAIN,
    ArrangedBar,
    Finger,
    FrettedNote,
    HeldShape,
    KeptFinger,
    Ornament,
    Role,
    Shake,
    Slur,
    Stroke,
    Touch,
    Trembling,
    Way,
)
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.chord import parse_chord
from nailhead.core.music.layers import Layer
from nailhead.core.music.metre import parse_time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Tuplet
from nailhead.formats.decisions_shape import DecisionsError, check_shape
from nailhead.formats.decisions_v1 import current_document

Document = dict[str, Any]
#: The version that is written.
VERSION = 2


def decisions_document(arrangement: Arrangement) -> Document:
    """A dictionary ready for json.dumps; equal cells of bars that move together are written once."""
    cells: list[Document] = []
    for (index, rung), cell in sorted(arrangement.cells.items()):
        written = _cell(cell)
        like = next((one for one in cells if one["rung"] == rung and one["cell"] == written), None)
        if like:
            like["bars"].append(index)
        else:
            cells.append({"bars": [index], "rung": rung, "cell": written})
    return {
        "version": VERSION,
        "bars": list(arrangement.bars),
        "rungs": list(arrangement.rungs),
        "second": list(arrangement.second),
        "split": sorted(arrangement.split),
        "locked": sorted(arrangement.locked),
        "cells": cells,
        "aside": [
            {"bar": one.index, "rung": one.rung, "why": one.why, "mark": one.mark, "cell": _cell(one.cell)}
            for one in arrangement.aside
        ],
    }


def read_decisions(document: Document, right: RightHand) -> Arrangement:
    """The inverse; raises DecisionsError with the field at fault.

    `right` is the hand that plays them: earlier documents name a stroke and leave it to the hand what strikes.
    """
    try:
        version = document.get("version", 1)
        if version not in (1, VERSION):
            raise DecisionsError(
                f"The decisions are of version {version}.", field="decisions", remedy="Open them in a newer Nailhead."
            )
        if version == 1:
            document = current_document(document, right)
        check_shape(document)
        return Arrangement(
            tuple(map(int, document["rungs"])),
            tuple(map(int, document.get("second", []))),
            frozenset(map(int, document.get("split", []))),
            frozenset(map(int, document.get("locked", []))),
            {
                (int(index), int(row["rung"])): _read_cell(row["cell"])
                for row in document.get("cells", [])
                for index in row["bars"]
            },
            tuple(
                Aside(
                    int(row["bar"]),
                    int(row["rung"]),
                    _read_cell(row["cell"]),
                    str(row["why"]),
                    str(row.get("mark", "")),
                )
                for row in document.get("aside", [])
            ),
            tuple(map(str, document.get("bars", []))),
        )
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise DecisionsError(
            f"The decisions cannot be read: {error!r}.", field="decisions", remedy="Export them again from Nailhead."
        ) from error


def _cell(cell: KeptCell) -> Document:
    return {
        "kind": cell.kind.value,
        "said": cell.said,
        "melody": [str(onset) for onset in cell.melody],
        **bar_document(cell.bar),
    }


def _read_cell(document: Document) -> KeptCell:
    melody = tuple(parse_time(onset, "melody") for onset in document["melody"])
    return KeptCell(Kind(document["kind"]), read_bar(document), document["said"], melody)


def bar_document(bar: ArrangedBar) -> Document:
    """A bar with everything that is played and held in it; its number and grade belong to the ladder."""
    return {
        "rung": bar.rung,
        "strokes": [_stroke(stroke) for stroke in bar.strokes],
        "patterns": list(bar.patterns),
        "shapes": [
            {
                "onset": str(shape.onset),
                "duration": str(shape.duration),
                "chord": str(shape.chord),
                "stops": [list(stop) for stop in shape.stops],
                "barre": shape.barre,
            }
            for shape in bar.shapes
        ],
        "kept": [
            {"place": list(kept.place), "finger": kept.finger, "onset": str(kept.onset), "until": str(kept.until)}
            for kept in bar.kept
        ],
        "remarks": list(bar.remarks),
        "layer": bar.layer.value,
        "early": [[str(here), str(there)] for here, there in bar.early],
    }


def read_bar(document: Document) -> ArrangedBar:
    """The inverse of `bar_document`; number 0 and grade 1 until it is put on a ladder."""
    return ArrangedBar(
        0,
        int(document["rung"]),
        tuple(_read_stroke(row) for row in document["strokes"]),
        tuple(document["patterns"]),
        tuple(
            HeldShape(
                parse_time(row["onset"]),
                parse_time(row["duration"]),
                parse_chord(row["chord"]),
                tuple((int(string), int(fret), int(finger)) for string, fret, finger in row["stops"]),
                bool(row["barre"]),
            )
            for row in document["shapes"]
        ),
        tuple(document["remarks"]),
        kept=tuple(
            KeptFinger(Place(*row["place"]), int(row["finger"]), parse_time(row["onset"]), parse_time(row["until"]))
            for row in document["kept"]
        ),
        # Cells of before there were layers play every note.
        layer=Layer(document.get("layer", Layer.FULL)),
        early=tuple((parse_time(here), parse_time(there)) for here, there in document.get("early", ())),
    )


def _stroke(stroke: Stroke) -> Document:
    written: Document = {"onset": str(stroke.onset), "duration": str(stroke.duration)}
    if stroke.tuplet:
        written["tuplet"] = [stroke.tuplet.actual, stroke.tuplet.normal, stroke.tuplet.size]
    if stroke.shake:
        written["shake"] = [stroke.shake.trembling.value, stroke.shake.fret]
    return {**written, "touches": [_touch(touch) for touch in stroke.touches]}


def _read_stroke(row: Document) -> Stroke:
    shake = row.get("shake")
    return Stroke(
        parse_time(row["onset"], "onset"),
        parse_time(row["duration"], "duration"),
        tuple(_read_touch(touch) for touch in row["touches"]),
        Tuplet(*row["tuplet"]) if "tuplet" in row else None,
        Shake(Trembling(shake[0]), None if shake[1] is None else int(shake[1])) if shake else None,
    )


def _touch(touch: Touch) -> Document:
    written: Document = {"way": touch.way.value, "notes": [_note(note) for note in touch.notes]}
    if touch.by:
        written["by"] = touch.by.value
    if touch.loudness != PLAIN:
        written["loudness"] = touch.loudness
    if touch.muted:
        written["muted"] = True
    return written


def _read_touch(row: Document) -> Touch:
    return Touch(
        Finger(row["by"]) if "by" in row else None,
        Way(row["way"]),
        tuple(_read_note(note) for note in row["notes"]),
        int(row.get("loudness", PLAIN)),
        bool(row.get("muted", False)),
    )


def _note(note: FrettedNote) -> Document:
    pitch = note.pitch
    written: Document = {
        "string": note.place.string,
        "fret": note.place.fret,
        "pitch": [pitch.step, pitch.alter, pitch.octave, str(Fraction(pitch.commas))],
        "role": note.role.value,
        "finger": note.finger,
    }
    if note.held:
        written["held"] = True
    if note.optional:
        written["optional"] = True
    if note.bend:
        written["bend"] = note.bend
    if note.harmonic:
        written["harmonic"] = True
    if note.slur:
        slur = note.slur
        written["slur"] = {"with": slur.ornament.value, "from": slur.start, "slow": slur.slow, "grace": slur.grace}
    return written


def _read_note(row: Document) -> FrettedNote:
    step, alter, octave, commas = row["pitch"]
    exact = Fraction(str(commas))
    slur = row.get("slur")
    return FrettedNote(
        Place(int(row["string"]), int(row["fret"])),
        Pitch(step, int(alter), int(octave), int(exact) if exact.denominator == 1 else exact),
        Role(row["role"]),
        int(row["finger"]),
        bool(row.get("held", False)),
        Slur(Ornament(slur["with"]), int(slur["from"]), bool(slur["slow"]), bool(slur["grace"])) if slur else None,
        bool(row.get("optional", False)),
        int(row.get("bend", 0)),
        bool(row.get("harmonic", False)),
    )
