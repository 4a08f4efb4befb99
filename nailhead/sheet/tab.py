"""One bar of tablature as marks: strings, nailheads, numerals, rhythm, hands, chords, words.

The origin is the bar's left line at string 1.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.fit.voices import above_and_below
from nailhead.core.arrange.rows.touches import TOGETHER, TouchRow, touch_row
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Shake, Touch, Trembling, Way
from nailhead.core.music.chord import Chord, transpose_chord
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Time
from nailhead.core.music.note_names import LETTERS, lettered, note_name
from nailhead.core.music.tune import Bar
from nailhead.sheet.barlines import Span
from nailhead.sheet.columns import Column, Need
from nailhead.sheet.marks import Curve, Disc, Face, Ink, Line, Mark, Polygon, Text, moved
from nailhead.sheet.rhythm import rhythm_marks
from nailhead.sheet.setting import measure
from nailhead.sheet.slurs import BESIDE_WIDER, roll_marks, slur_marks
from nailhead.sheet.style import Style

#: So many fingers that strike together have a letter each.
MOST_LETTERS = 2
#: The arrow of a sweep stands so many gaps before the notes, clear of their heads.
SWEPT = 0.92
#: Which chord names are printed: the shape the hands play, the sound, or both.
CHORD_NAMES = ("shape and sound", "shape", "sound", "none")


def chord_names(chord: Chord, shape_fifths: int, names: str, letters: str = LETTERS[0]) -> tuple[str, str]:
    """(large, small) name of a chord; both the same where only one is wanted."""
    shape, sound = lettered(str(transpose_chord(chord, shape_fifths)), letters), lettered(str(chord), letters)
    if names == "shape":
        return shape, shape
    return (sound, sound) if names == "sound" else (shape, sound)


def _figure(x: float, y: float, label: str, size: float, ink: Ink = Ink.INK) -> Text:
    """A fret number: heavy, with a plain zero, since a slashed one recalls a sign for “not”."""
    return Text(x, y, label, size, ink, bold=True, face=Face.FIGURE)


@dataclass(frozen=True, slots=True)
class TabOptions:
    """What to print beside the notes. `upside_down` puts string 1 at the bottom, `letters` say how B is read."""

    fingers: bool = False
    hands: bool = True
    upside_down: bool = False
    letters: str = LETTERS[0]


def painter_of(ladder: Ladder, style: Style, options: TabOptions | None = None) -> TabPainter:
    """The painter of a ladder's instrument and way of playing."""
    setup = ladder.fit.setup
    noter = ladder.idiom.left.one_finger
    return TabPainter(style, setup.instrument.strings, options or TabOptions(), setup.fret_name, noter)


@dataclass(frozen=True, slots=True)
class TabPainter:
    """Turns arranged bars into marks for an instrument of so many strings; `noter` where one thing stops them."""

    style: Style
    strings: int
    options: TabOptions = field(default_factory=TabOptions)
    fret_name: Callable[[int], str] = str
    noter: bool = False

    def y(self, string: int) -> float:
        """The line of a string."""
        row = self.strings - string if self.options.upside_down else string - 1
        return row * self.style.line

    def notes(
        self, bar: ArrangedBar, column: Column, written: Bar, offset: Time, in_voices: bool = False
    ) -> list[Mark]:
        """Everything that belongs to the arrangement: heads, numerals, rhythm, right hand; `in_voices` the melody's
        rhythm stands above the strings and that of what accompanies it below.
        """
        marks: list[Mark] = list(self._noter_line(bar, column)) if self.noter else []
        for stroke in bar.strokes:
            x = column.x(stroke.onset)
            for touch in stroke.touches:
                several = len(touch.notes) > 1
                if touch.struck and several:
                    marks += self._sweep(touch, x)
                for note in touch.notes:
                    marks += self._note(note, x, touch.muted and not several, swept=several)
                if touch.muted and several:
                    top = min(self.y(note.place.string) for note in touch.notes)
                    marks.append(Text(x, top - 0.74 * self.style.gap, "×", 0.9 * self.style.gap, Ink.HAND, bold=True))
            if stroke.shake and stroke.shake.trembling is Trembling.ROLLED:
                ys = [self.y(note.place.string) for note in stroke.notes]
                half = 0.5 * self.style.gap
                marks += roll_marks(x - 0.95 * self.style.gap, min(ys) - half, max(ys) + half, self.style)
            if self.options.hands:
                marks += self._hands([touch for touch in stroke.touches if touch.signed], x, stroke.shake)
        marks += slur_marks(bar, column, self.style, self.y, self.fret_name, self.options.fingers)
        return marks + self._rhythm(bar, column, written, offset, in_voices)

    def _rhythm(self, bar: ArrangedBar, column: Column, written: Bar, offset: Time, in_voices: bool) -> list[Mark]:
        style, metre, below = self.style, written.metre, self.style.stems(self.strings)
        if not in_voices:
            return rhythm_marks(bar, column, metre, offset, style, below, style.staff_height(self.strings) / 2)
        melody, beside = above_and_below(bar, written)
        above = style.stems(self.strings, above=True)
        marks = rhythm_marks(melody, column, metre, offset, style, above, above.middle)
        return marks + (rhythm_marks(beside, column, metre, offset, style, below, below.middle) if beside else [])

    def _noter_line(self, bar: ArrangedBar, column: Column) -> Iterator[Mark]:
        """Thick along its string for as long as the noter lies on it, from one stopped note to the next."""
        last: tuple[int, float] | None = None
        for stroke in bar.strokes:
            stopped = next((note.place.string for note in stroke.notes if note.place.fret), 0)
            x = column.x(stroke.onset)
            if last and last[0] == stopped:
                yield Line(last[1], self.y(stopped), x, self.y(stopped), self.noter_width, Ink.MELODY)
            last = (stopped, x) if stopped else None

    @property
    def noter_width(self) -> float:
        return 2.6 * self.style.stem

    def _note(self, note: FrettedNote, x: float, muted: bool = False, swept: bool = False) -> Iterator[Mark]:
        style, y = self.style, self.y(note.place.string)
        label = "×" if muted else self.fret_name(note.place.fret)
        label = f"({label})" if note.optional else label
        size = style.numeral * (0.78 if len(label) > 1 or muted else 1)
        baseline = y + 0.36 * size
        if note.held:
            yield self.hole(x, y, len(label) + 2)
            yield _figure(x, baseline, f"({label})", size, Ink.MELODY)
        elif note.role is Role.MELODY and note.harmonic:
            yield self.diamond(x, y)
            yield _figure(x, baseline, label, size, Ink.ON_MELODY)
        elif note.role is Role.MELODY:
            yield Disc(x, y, style.head, Ink.MELODY, Ink.MELODY)
            yield _figure(x, baseline, label, size, Ink.ON_MELODY)
        elif note.role is Role.DRONE and swept:
            # The arrow says that they are struck: rings around all of them would hide the melody.
            yield self.hole(x, y, len(label))
            yield _figure(x, y + 0.36 * 0.78 * size, label, 0.78 * size)
        elif note.role is Role.DRONE:
            yield Disc(x, y, 0.9 * style.head, Ink.INK, Ink.PAPER, style.stem)
            yield _figure(x, y + 0.36 * 0.8 * size, label, 0.8 * size)
        else:
            yield self.hole(x, y, len(label))
            yield _figure(x, baseline, label, size, Ink.CHORD)
        if self.options.fingers and note.finger:
            beside = x + (0.95 + BESIDE_WIDER * max(0, len(label) - 2)) * style.gap
            yield Text(beside, y - 0.3 * style.gap, str(note.finger), 0.72 * style.gap, Ink.INK)

    def diamond(self, x: float, y: float) -> Mark:
        """The head of a harmonic."""
        half = 1.5 * self.style.head
        return Polygon(((x - half, y), (x, y - half), (x + half, y), (x, y + half)), Ink.MELODY)

    def hole(self, x: float, y: float, characters: int) -> Mark:
        """Paper behind a numeral, so that the string does not cross it."""
        half, height = 0.36 * self.style.numeral * characters, 0.55 * self.style.gap
        corners = ((x - half, y - height), (x + half, y - height), (x + half, y + height), (x - half, y + height))
        return Polygon(corners, Ink.PAPER)

    def _sweep(self, touch: Touch, x: float) -> list[Mark]:
        """A thin arrow before the numerals, towards string 1 as the hand goes down, from it as it goes up."""
        style = self.style
        towards_first = touch.way is not Way.UP
        ys = sorted(
            (self.y(note.place.string) for note in touch.notes), reverse=towards_first != self.options.upside_down
        )
        left = x - SWEPT * style.gap
        start, tip = ys[0], ys[-1]
        way = 1 if tip > start else -1
        tip += way * 0.45 * style.gap
        head = ((left, tip), (left - 0.22 * style.gap, tip - way * 0.5 * style.gap))
        return [
            Line(left, start - way * 0.3 * style.gap, left, tip, style.stem, Ink.HAND),
            Polygon((*head, (left + 0.22 * style.gap, tip - way * 0.5 * style.gap)), Ink.HAND),
        ]

    def _hands(self, touches: Sequence[Touch], x: float, shake: Shake | None = None) -> list[Mark]:
        """What strikes, under the stems; of two the one on the lower string lower, of more one letter for all."""
        style, base = self.style, self.style.hand_line(self.strings)
        if shake and shake.trembling is Trembling.TREBLE:
            return moved(self.treble_mark(), x, base)
        if len(touches) == 1:
            return self._hand(touch_row(touches[0]), x, base)
        if len(touches) > MOST_LETTERS:
            return [Text(x, base, TOGETHER, 1.15 * style.gap, Ink.HAND, bold=True)]
        size = 0.86 * style.gap
        order = sorted(touches, key=lambda touch: touch.notes[0].place.string if touch.notes else self.strings)
        return [
            Text(x, base + (0.94 * place - 0.76) * style.gap, row.sign or row.letter, size, Ink.HAND, bold=True)
            for place, row in enumerate(map(touch_row, order))
        ]

    def _hand(self, row: TouchRow, x: float, base: float) -> list[Mark]:
        if row.sign:
            return [Text(x, base, row.sign, 1.15 * self.style.gap, Ink.HAND, bold=True)]
        return moved(self.up_mark() if row.way is Way.UP else self.down_mark(), x, base)

    def down_mark(self) -> list[Mark]:
        """The arrow of a down stroke, its tip at the origin."""
        gap, wing = self.style.gap, 0.3 * self.style.gap
        return [
            Line(0, -0.82 * gap, 0, -0.3 * gap, 1.3 * self.style.stem, Ink.HAND),
            Polygon(((-wing, -0.42 * gap), (wing, -0.42 * gap), (0.0, 0.0)), Ink.HAND),
        ]

    def treble_mark(self) -> list[Mark]:
        """Down, up, down: three arrows close together, the first at the origin."""
        apart = 0.62 * self.style.gap
        ways = (self.down_mark(), self.up_mark(), self.down_mark())
        return [mark for place, way in enumerate(ways) for mark in moved(way, place * apart, 0)]

    def up_mark(self) -> list[Mark]:
        """The arrow of an up stroke, its foot at the origin."""
        gap, wing = self.style.gap, 0.3 * self.style.gap
        return [
            Line(0, -0.55 * gap, 0, 0, 1.3 * self.style.stem, Ink.HAND),
            Polygon(((-wing, -0.4 * gap), (wing, -0.4 * gap), (0.0, -0.82 * gap)), Ink.HAND),
        ]

    # -- what belongs to the tune

    def staff(self, width: float) -> list[Mark]:
        """The string lines of a bar."""
        return [
            Line(0, self.y(string), width, self.y(string), self.style.thin, Ink.STRING)
            for string in range(1, self.strings + 1)
        ]

    @property
    def span(self) -> Span:
        """What bar lines cross."""
        height = self.style.staff_height(self.strings)
        return Span(0.0, height, (height / 2,))

    def chords(
        self, bar: Bar, column: Column, shape_fifths: int, suggested: bool, names: str = CHORD_NAMES[0]
    ) -> list[Mark]:
        """Chord names above: the shape large, the sound small behind it where they differ; `names` says which."""
        style, marks = self.style, []
        for entry in bar.chords if names != "none" else ():
            x, y = column.x(entry.onset) - style.head, -2.05 * style.gap
            shape, sound = chord_names(entry.chord, shape_fifths, names, self.options.letters)
            ink = Ink.FAINT if suggested else Ink.INK
            marks.append(Text(x, y, shape, 1.5 * style.gap, ink, "start", bold=not suggested))
            if sound != shape:
                at = x + measure(shape, 1.5 * style.gap, bold=not suggested) + 0.3 * style.gap
                marks.append(Text(at, y, sound, 0.95 * style.gap, Ink.FAINT, "start"))
        return list[Mark](marks)

    def room_needed(self, bar: Bar, shape_fifths: int, with_words: bool, names: str = CHORD_NAMES[0]) -> list[Need]:
        """What chord names (and words) of a bar ask of its column."""
        gap = self.style.gap
        needs = []
        ends = [*(entry.onset for entry in bar.chords[1:]), bar.length]
        for entry, end in zip(bar.chords if names != "none" else (), ends, strict=False):
            shape, sound = chord_names(entry.chord, shape_fifths, names, self.options.letters)
            mm = measure(shape, 1.5 * gap, bold=True) + (measure(sound, 0.95 * gap) + 0.3 * gap) * (sound != shape)
            needs.append(Need(entry.onset, end, mm + 0.5 * gap))
        sung = [event for event in bar.events if event.words] if with_words else []
        for event, following in zip(sung, [*sung[1:], None], strict=False):
            half = max(self._word_width(word) for word in event.words) / 2
            other = max(self._word_width(word) for word in following.words) / 2 if following else half
            needs.append(Need(event.onset, following.onset if following else bar.length, half + other + 0.4 * gap))
        return sorted(needs, key=lambda need: need.end)

    def _word_width(self, word: str) -> float:
        return measure(word, 1.1 * self.style.gap)

    def named_notes(self, bar: ArrangedBar, key: Key, names: str) -> list[tuple[Time, str]]:
        """Where a melody note is sounded, and what it is called."""
        return [
            (stroke.onset, lettered(note_name(note.pitch, key, names), self.options.letters))
            for stroke in bar.strokes
            for note in stroke.notes
            if note.role in (Role.MELODY, Role.FILL) and not note.held
        ]

    def names_needed(self, bar: ArrangedBar, key: Key, names: str) -> list[Need]:
        """What the names under a bar ask of its column."""
        named = self.named_notes(bar, key, names)
        ends = [*(onset for onset, _ in named[1:]), bar.length]
        return [
            Need(onset, end, self._word_width(name) + 0.4 * self.style.gap)
            for (onset, name), end in zip(named, ends, strict=True)
            if end > onset
        ]

    def names(self, bar: ArrangedBar, column: Column, key: Key, names: str) -> list[Mark]:
        """The names, in the first row under the strings."""
        y = self.style.words_line(self.strings, 0)
        named = dict(self.named_notes(bar, key, names))
        return [Text(column.x(onset), y, name, 1.05 * self.style.gap, Ink.MELODY) for onset, name in named.items()]

    def words(self, bar: Bar, column: Column, below: int = 0) -> list[Mark]:
        """The words under their notes, `below` so many rows of something else."""
        style = self.style
        return [
            Text(
                column.x(event.onset),
                style.words_line(self.strings, verse + below),
                word.replace("_", "—").replace("‑", "-"),
                1.1 * style.gap,
            )
            for event in bar.events
            for verse, word in enumerate(event.words)
            if word
        ]

    def signs(self, bar: Bar, column: Column) -> list[Mark]:
        """Fermatas over their notes."""
        style = self.style
        marks: list[Mark] = []
        for event in bar.events:
            if "fermata" in event.decorations:
                x, y = column.x(event.onset), -0.75 * style.gap
                marks.append(Curve(x - style.head, y, x, y - 1.5 * style.head, x + style.head, y, 1.6 * style.stem))
                marks.append(Disc(x, y - 0.15 * style.gap, 0.14 * style.gap, Ink.INK, Ink.INK))
        return marks
