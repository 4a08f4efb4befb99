"""The key to the signs that a sheet uses, and the cautions of its setup."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.rows.touches import TOGETHER, TOUCHES, TouchRow
from nailhead.core.arrange.values import ArrangedBar, Role, Trembling, Way
from nailhead.core.fretboard.cautions import cautions
from nailhead.sheet.marks import Disc, Face, Ink, Line, Mark, Text, moved
from nailhead.sheet.rhythm import slashes
from nailhead.sheet.setting import measure
from nailhead.sheet.slurs import LETTERS, bend_word, roll_marks, trill_marks
from nailhead.sheet.tab import MOST_LETTERS, TabPainter

SIZE, CAUTION = 3.0, 2.8


def legend_rows(
    ladder: Ladder, bars: Sequence[ArrangedBar], painter: TabPainter, line: float, key: bool, staff: bool = False
) -> list[list[Mark]]:
    """Rows of marks from x = 0, baselines at y = 0. Cautions are always there; the key to the signs where asked for.

    With a `staff`, how far its notes are from what is heard.
    """
    rows = _in_rows(signs_of(ladder, bars, painter), painter.style.head, line) if key else []
    raised = ladder.fit.setup.raised
    if staff and raised:
        far = f"{abs(raised)} semitone{'s' * (abs(raised) > 1)} {'higher' if raised > 0 else 'lower'}"
        said = f"The staff is written as the hands play it; it sounds {far}."
        rows.append([Text(0, 0, said, SIZE, Ink.INK, "start")])
    if ladder.chords_suggested:
        rows.append([Text(0, 0, "Grey chords are suggestions.", SIZE, Ink.INK, "start")])
    for caution in cautions(ladder.fit.setup):
        rows += [[Text(0, 0, part, CAUTION, Ink.TROUBLE, "start")] for part in wrapped(caution, line, CAUTION)]
    return rows


def signs_of(ladder: Ladder, bars: Sequence[ArrangedBar], painter: TabPainter) -> Iterable[tuple[list[Mark], str]]:
    """(sign, what it means) of everything that is printed."""
    head = painter.style.head
    notes = [note for bar in bars for stroke in bar.strokes for note in stroke.notes]
    roles = {note.role for note in notes}
    right = ladder.idiom.right
    struck = {right.row_of(touch) for bar in bars for stroke in bar.strokes for touch in stroke.touches if touch.signed}
    slurs = {note.slur.ornament for note in notes if note.slur}
    if Role.MELODY in roles:
        yield [Disc(head, -1.0, head, Ink.MELODY, Ink.MELODY)], "melody"
    if roles & {Role.CHORD, Role.FILL}:
        yield [Text(head, 0, "0", SIZE, Ink.CHORD, bold=True, face=Face.FIGURE)], "chord note"
    if painter.noter and any(note.place.fret for note in notes):
        yield [Line(0, -1.0, 2 * head, -1.0, painter.noter_width, Ink.MELODY)], "the noter stays on the string"
    if any(touch.muted for bar in bars for stroke in bar.strokes for touch in stroke.touches):
        yield [Text(head, 0, "×", SIZE, Ink.HAND, bold=True)], "damped at once"
    if Role.DRONE in roles:
        yield [Disc(head, -1.0, 0.9 * head, Ink.INK, Ink.PAPER, painter.style.stem)], "drone"
    if painter.options.hands:
        order = {row.id: place for place, row in enumerate(TOUCHES)}
        for row in sorted(struck, key=lambda row: order[row.id]):
            yield _sign_of(row, painter), row.word
        if any(len(stroke.touches) > MOST_LETTERS for bar in bars for stroke in bar.strokes):
            yield [Text(head, 0, TOGETHER, SIZE, Ink.HAND, bold=True)], "plucked together, a finger a string"
    if any(note.optional for note in notes):
        yield [Text(head + 0.8, 0, "(0)", SIZE, Ink.CHORD, bold=True, face=Face.FIGURE)], "may be left out"
    shakes = {stroke.shake.trembling for bar in bars for stroke in bar.strokes if stroke.shake}
    if Trembling.TREMOLO in shakes:
        stems = painter.style.stems(0)
        yield moved(slashes(0, painter.style, stems), head, -stems.near - SIZE), "struck again and again"
    if Trembling.TREBLE in shakes and painter.options.hands:
        yield moved(painter.treble_mark(), 0.3 * head, 0), "treble: twice as fast, then once"
    if Trembling.ROLLED in shakes:
        yield list(roll_marks(head, -1.0 - SIZE / 2, SIZE / 4, painter.style)), "rolled, string after string"
    if Trembling.TRILL in shakes:
        yield list(trill_marks(0.4 * head, -1.0, 1.6 * head, painter.style)), "trill with the small fret"
    for ornament, letter in LETTERS.items():
        if ornament in slurs:
            yield [Text(head, 0, letter, SIZE, Ink.HAND, bold=True)], str(ornament)
    for cents in sorted({note.bend for note in notes if note.bend}):
        yield [Text(head, 0, bend_word(cents), SIZE, Ink.HAND, bold=True)], "bent up, in tones"
    if any(note.harmonic for note in notes):
        yield [painter.diamond(head, -SIZE / 3)], "harmonic: touch the string there, do not stop it"
    if any(note.held for note in notes):
        yield [Text(head + 0.8, 0, "(2)", SIZE, Ink.MELODY, bold=True, face=Face.FIGURE)], "rings on"
    if painter.options.fingers and any(note.finger for note in notes):
        yield [Text(head, 0, "1–4", 0.8 * SIZE)], "left finger, index to little"


def _sign_of(row: TouchRow, painter: TabPainter) -> list[Mark]:
    """What is printed for a touch: its letter, or an arrow the way the hand goes."""
    head = painter.style.head
    if row.sign:
        return [Text(head, 0, row.sign, SIZE, Ink.HAND, bold=True)]
    return moved(painter.up_mark() if row.way is Way.UP else painter.down_mark(), head, 0)


def _in_rows(signs: Iterable[tuple[list[Mark], str]], head: float, line: float) -> list[list[Mark]]:
    rows: list[list[Mark]] = [[]]
    x = 0.0
    for sign, name in signs:
        start = 2 * head + 2.2
        width = start + measure(name, SIZE) + 5.0
        if x + width > line and rows[-1]:
            rows.append([])
            x = 0.0
        rows[-1] += moved([*sign, Text(start, 0, name, SIZE, Ink.INK, "start")], x, 0)
        x += width
    return rows


def wrapped(text: str, width: float, size: float) -> list[str]:
    """Lines of a text that fit a width in mm."""
    lines = [""]
    for word in text.split():
        longer = f"{lines[-1]} {word}".strip()
        if lines[-1] and measure(longer, size) > width:
            lines.append(word)
        else:
            lines[-1] = longer
    return lines
