"""Monospaced tablature: one column for each moment, bars in their written order."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from fractions import Fraction
from functools import reduce
from math import gcd

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.rows.touches import stroke_letter
from nailhead.core.arrange.teacher.path import Path, bars_on_path
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Ornament, Role, Shake, Stroke
from nailhead.core.music.chord import transpose_chord
from nailhead.core.music.metre import Time
from nailhead.core.music.note_names import note_name
from nailhead.core.music.tune import Bar

_WIDTH = 100
_MOST_COLUMNS = 96


def write_text(ladder: Ladder, path: Path, again: Mapping[int, ArrangedBar] | None = None, names: str = "none") -> str:
    """The arrangement on a path as text. `d` and `u` are strokes down and up, `B` a brush, `T I M` the fingers.

    `P` is a pinch, `-` a note that the left hand sounds. A held tie is in parentheses, a note that may be left out
    in brackets. With a solo come its kick-off,
    the bars that are played otherwise the second time, and its ending; `again` are those bars by place where the
    second time has a path of its own. `names` puts the melody notes' names into the last row.
    """
    bars = bars_on_path(ladder, path)
    solo = ladder.solo in path
    lines = [
        *_heading(ladder),
        *(f"Rung {rung}: {ladder.idiom.plays(rung)}." for rung in sorted(set(path))),
        "",
    ]
    if solo and ladder.kick_off:
        frame = list(zip(ladder.kick_off.tune.bars, ladder.kick_off.bars, strict=True))
        lines += ["Kick-off", *_system(ladder, frame, names)]
    for start, stop in ladder.structure.phrases:
        lines += _system(ladder, list(zip(ladder.tune.bars[start:stop], bars[start:stop], strict=True)), names)
    if again is None:
        again = {at: bar for at, bar in ladder.second.items() if path[at] == ladder.solo}
    second = [(ladder.tune.bars[at], bar) for at, bar in sorted(again.items())]
    if second:
        lines += ["Second time through", *_system(ladder, second, names)]
    if solo and ladder.ending:
        frame = list(zip(ladder.ending.tune.bars, ladder.ending.bars, strict=True))
        lines += ["Ending", *_system(ladder, frame, names)]
    return "\n".join(lines).rstrip() + "\n"


def write_part(ladder: Ladder, bars: Sequence[ArrangedBar], name: str) -> str:
    """A part beside the tune, one bar for each written one, under its name; `X` are strings struck damped."""
    lines = [*_heading(ladder), f"{name}.", ""]
    for start, stop in ladder.structure.phrases:
        lines += _system(ladder, list(zip(ladder.tune.bars[start:stop], bars[start:stop], strict=True)), "none")
    return "\n".join(lines).rstrip() + "\n"


def _heading(ladder: Ladder) -> list[str]:
    fit = ladder.fit
    return [
        ladder.tune.title,
        f"{fit.setup.instrument.name}: {fit.setup.label}",
        f"Plays {fit.shape_key}, sounds {fit.sounding_key}. {ladder.tune.metre}"
        + (" Chords are suggestions." if ladder.chords_suggested else ""),
    ]


def _system(ladder: Ladder, bars: Sequence[tuple[Bar, ArrangedBar]], names: str) -> list[str]:
    """One phrase of written bars as arranged; a phrase too wide for the page is cut into several systems."""
    strings = ladder.fit.setup.instrument.strings
    blocks = [_bar_block(ladder, written, bar, names) for written, bar in bars]
    lines: list[str] = []
    row: list[list[str]] = []
    width = 0
    for block in [*blocks, None]:
        if row and (block is None or width + len(block[0]) > _WIDTH):
            lines += ["".join(part).rstrip() for part in zip(*row, strict=True)] + [""]
            row, width = [], 0
        if block is not None:
            if not row:
                row.append(_margin(ladder, strings, names))
            row.append(block)
            width += len(block[0])
    return lines


def _margin(ladder: Ladder, strings: int, names: str) -> list[str]:
    opens = [str(ladder.fit.setup.tuning.pitches[number].pitch_class) for number in range(strings)]
    short = dict(ladder.fit.setup.instrument.short_strings)
    labels = [name.lower() if number + 1 in short else name for number, name in enumerate(opens)]
    return ["   ", "   ", *[f"{label:<2}|" for label in labels], "   ", *["   "] * (names != "none")]


def _bar_block(ladder: Ladder, written: Bar, bar: ArrangedBar, names: str) -> list[str]:
    """Rows of one bar: number and signs, chords, one a string, right hand. All equally wide."""
    strings = ladder.fit.setup.instrument.strings
    name = ladder.fit.setup.fret_name
    called = _called(bar, written, names)
    columns = _widened(_columns(bar), bar, name, called)
    width = columns[bar.length] + 1
    opener = ":" if written.opens_repeat else "-"
    closer = ":|" if written.closes_repeat else "-|"
    rows = [["-"] * width for _ in range(strings)]
    hands, under = [" "] * width, [" "] * width
    for stroke in bar.strokes:
        at = columns[stroke.onset] + 1
        _write(hands, at, stroke_letter(stroke))
        _write(under, at, called.get(stroke.onset, ""))
        for note in stroke.notes:
            _write(rows[note.place.string - 1], at, note_text(note, name, stroke.shake))
    chords = [" "] * (width + 3)
    for entry in written.chords:
        chord = str(transpose_chord(entry.chord, ladder.fit.shape_fifths))
        column = max(place for time, place in columns.items() if time <= entry.onset)
        _write(chords, column + 2, chord.replace("♯", "#").replace("♭", "b"))
    last = [" " + "".join(under) + "  "] * (names != "none")
    body = [opener + "".join(row) + closer for row in rows]
    return [_head(written, width + 3), "".join(chords), *body, " " + "".join(hands) + "  ", *last]


def _called(bar: ArrangedBar, written: Bar, names: str) -> dict[Time, str]:
    """Where a melody note is sounded and what it is called; nothing where no names are wanted."""
    return {
        stroke.onset: note_name(note.pitch, written.key, names)
        for stroke in bar.strokes
        for note in stroke.notes
        if names != "none" and note.role in (Role.MELODY, Role.FILL) and not note.held
    }


#: How a slur is written before the fret it comes to; a slow slide has its own sign.
_SLURS = {Ornament.HAMMER: "h", Ornament.PULL: "p"}


def note_text(note: FrettedNote, name: Callable[[int], str], shake: Shake | None = None) -> str:
    """A note's fret with how it is come to: h2, p0, /4, \\2, s4 (slow); a grace writes its own fret too: 2/4, 0h2.

    10b is bent, 7~10 trilled, <12> a harmonic.
    """
    fret = name(note.place.fret)
    if note.held:
        return f"({fret})"
    if note.optional:
        return f"[{fret}]"
    if note.harmonic:
        return f"<{fret}>"
    slur = note.slur
    if shake and shake.fret is not None and note.role is Role.MELODY:
        return f"{fret}~{name(shake.fret)}"
    if slur is None:
        return f"{fret}b" if note.bend else fret
    slide = "s" if slur.slow else "/" if note.place.fret > slur.start else "\\"
    sign = _SLURS.get(slur.ornament, slide)
    return f"{name(slur.start) if slur.grace else ''}{sign}{fret}"


def _write(row: list[str], at: int, text: str) -> None:
    row.extend(" " * max(0, at + len(text) - len(row)))
    row[at : at + len(text)] = text


def _head(bar: Bar, width: int) -> str:
    parts = [str(bar.number)]
    parts += [f"[{bar.part}]"] * bool(bar.part)
    parts += [",".join(map(str, bar.endings)) + "."] * bool(bar.endings)
    return " ".join(parts).ljust(width)[: max(width, len(parts[0]))]


def _columns(bar: ArrangedBar) -> dict[Time, int]:
    """The column of every onset and of the bar's end: in proportion, an eighth at most to a column.

    Where the rhythm is too fine for that, one column a stroke.
    """
    times = [stroke.onset for stroke in bar.strokes] + [bar.length]
    grid = [*times, Fraction(1, 8)]
    bottom = reduce(_lowest_common, (time.denominator for time in grid), 1)
    unit = Fraction(reduce(gcd, (int(time * bottom) for time in grid)), bottom)
    if bar.length / unit > _MOST_COLUMNS:
        return {time: place for place, time in enumerate(times)}
    return {time: int(time / unit) for time in times}


def _widened(
    columns: dict[Time, int], bar: ArrangedBar, name: Callable[[int], str], called: Mapping[Time, str]
) -> dict[Time, int]:
    """Columns in characters: two each, or as many as the longest text of the stroke that begins there."""
    texts = {s.onset: max((len(note_text(n, name, s.shake)) for n in s.notes), default=1) for s in bar.strokes}
    texts |= {onset: max(texts[onset], len(text)) for onset, text in called.items()}
    places, at, before, last = {}, 0, 0, 1
    for time, column in sorted(columns.items(), key=lambda item: item[1]):
        at += max(2 * (column - before), last + 1) if column else 0
        places[time] = at
        before, last = column, texts.get(time, 1)
    return places


def _lowest_common(first: int, second: int) -> int:
    return first * second // gcd(first, second)


def strokes_text(strokes: Sequence[Stroke]) -> str:
    """Strokes in one line, for messages: "d3:0 T5:0"."""
    return " ".join(
        (stroke_letter(stroke) or "-") + "+".join(f"{note.place.string}:{note.place.fret}" for note in stroke.notes)
        for stroke in strokes
    )
