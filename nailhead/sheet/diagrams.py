"""Chord diagrams: the easiest shape of every chord of a tune, drawn as a small piece of the neck."""

from __future__ import annotations

from collections.abc import Iterator

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.fretboard.setup import Setup
from nailhead.core.fretboard.shapes import Shape, easiest_shape
from nailhead.core.music.chord import transpose_chord
from nailhead.core.music.note_names import LETTERS, lettered
from nailhead.sheet.marks import Disc, Face, Ink, Line, Mark, Text, moved

#: Millimetres between strings and between frets, and from one diagram to the next.
STRING, FRET, STEP = 2.2, 3.0, 9.0
ROWS = 4
HEIGHT = 7.5 + FRET * ROWS + 5.0


def diagram_rows(ladder: Ladder, line: float, letters: str = LETTERS[0]) -> list[list[Mark]]:
    """Rows of diagrams from x = 0, each HEIGHT high from y = 0, in the order in which the tune needs them."""
    setup, fifths = ladder.fit.setup, ladder.fit.shape_fifths
    chords = dict.fromkeys(entry.chord for bar in ladder.tune.bars for entry in bar.chords)
    rows: list[list[Mark]] = [[]]
    x = 0.0
    width = STRING * (setup.instrument.strings - 1) + STEP
    for chord in chords:
        shape = easiest_shape(setup, chord)
        if shape is None:
            continue
        if x + width > line:
            rows.append([])
            x = 0.0
        rows[-1] += moved(draw_shape(shape, lettered(str(transpose_chord(chord, fifths)), letters), setup), x + 1.5, 0)
        x += width
    return [row for row in rows if row]


def draw_shape(shape: Shape, name: str, setup: Setup) -> Iterator[Mark]:
    """One diagram, string 1 on the right as the neck stands before the player; frets count from the capo."""
    strings = setup.instrument.strings
    stops = [fret for _, fret in shape.frets if fret]
    low = 1 if max(stops, default=0) <= ROWS else min(stops)
    top, width = 7.5, STRING * (strings - 1)
    yield Text(width / 2, 3.6, name, 3.6, bold=True, face=Face.TEXT)
    for row in range(ROWS + 1):
        thick = 0.6 if row == 0 and low == 1 else 0.2
        yield Line(0, top + row * FRET, width, top + row * FRET, thick)
    if low > 1:
        yield Text(-0.6, top + 0.68 * FRET, setup.fret_name(low), 2.3, anchor="end", face=Face.FIGURE)
    fingers = dict(shape.fingers)
    for number in range(1, strings + 1):
        x = STRING * (strings - number)
        yield Line(x, top, x, top + ROWS * FRET, 0.2)
        fret = shape.fret(number)
        if fret is None:
            yield Text(x, top - 0.7, "×", 2.4)
        elif fret == 0:
            yield Disc(x, top - 1.5, 0.6, Ink.INK, Ink.PAPER, 0.2)
        else:
            y = top + (fret - low + 0.5) * FRET
            yield Disc(x, y, 0.95, Ink.CHORD, Ink.CHORD)
            if number in fingers:
                yield Text(x, y + 0.62, str(fingers[number]), 1.8, Ink.ON_MELODY, bold=True, face=Face.FIGURE)
    for barre in shape.barres:
        y = top + (barre.fret - low + 0.5) * FRET
        left, right = STRING * (strings - barre.last), STRING * (strings - barre.first)
        yield Line(left, y - 1.25, right, y - 1.25, 0.35)
