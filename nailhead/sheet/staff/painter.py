"""Engraves a bar on five lines; y is 0 at the top line, x at the bar's left line, in millimetres."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from nailhead.core.music.key import SHARP_ORDER, Key
from nailhead.core.music.metre import Time
from nailhead.sheet.beaming import beam_groups, tuplet_groups
from nailhead.sheet.boxes import box
from nailhead.sheet.columns import Column, Need
from nailhead.sheet.marks import Curve, Disc, Ink, Line, Mark, Sign, Text, moved
from nailhead.sheet.passages import Item
from nailhead.sheet.staff.moments import Moment, Writing, melody_moments, played_moments
from nailhead.sheet.staff.stacks import (
    ACCIDENTAL_GAP,
    AFTER,
    EM,
    GRACE_SIZE,
    Accidental,
    Signature,
    Stack,
    grace_width,
    points_up,
    sign_for,
    step_of,
    width_of,
)
from nailhead.sheet.staff.stems import STEM_WIDTH, height, outer, stem_x, stems
from nailhead.sheet.style import Style

#: A space of the staff in gaps of the tablature.
SPACE = 0.7
#: What the staff can show, by the sheet's option.
VOICES: dict[str, Callable[[Item, Writing], list[Moment]]] = {
    "melody": melody_moments,
    "all notes": played_moments,
}
#: In spaces: before the clef, after clef and signature; the least between two heads.
_EDGE, _AFTER_CLEF, _AFTER_KEY, _APART = 0.6, 0.7, 0.6, 0.5
#: Where sharps and flats of a signature stand, as steps from the lowest line (common practice).
_SHARP_STEPS = {"F": 8, "C": 5, "G": 9, "D": 6, "A": 3, "E": 7, "B": 4}
_FLAT_STEPS = {"B": 4, "E": 7, "A": 3, "D": 6, "G": 2, "C": 5, "F": 1}
_RESTS = {"breve": "DoubleWhole", "whole": "Whole", "half": "Half", "quarter": "Quarter", "eighth": "8th"}


@dataclass(frozen=True, slots=True)
class Reach:
    """How ties come and go: a bar that is `first` on its line has them from the left edge; `to` is their far end."""

    first: bool
    to: float


@dataclass(frozen=True, slots=True)
class Engraved:
    """The stacks of a bar in beam groups, in the order of time."""

    groups: tuple[tuple[Stack, ...], ...]

    @property
    def stacks(self) -> list[Stack]:
        return [stack for group in self.groups for stack in group]

    @property
    def onsets(self) -> list[Time]:
        return [stack.moment.onset for stack in self.stacks]


@dataclass(frozen=True, slots=True)
class StaffPainter:
    """Writes what `voice` of VOICES says."""

    style: Style
    writing: Writing
    voice: Callable[[Item, Writing], list[Moment]]

    @property
    def space(self) -> float:
        return SPACE * self.style.gap

    @property
    def height(self) -> float:
        return 4 * self.space

    def y(self, step: float) -> float:
        return height(step) * self.space

    def lines(self, width: float) -> list[Mark]:
        return [Line(0, at * self.space, width, at * self.space, 1.4 * self.style.thin) for at in range(5)]

    # -- clef and signature

    def clef(self, key: Key) -> tuple[list[Mark], float]:
        """Clef and signature from x = 0, and where they end."""
        marks: list[Mark] = [Sign(_EDGE * self.space, self.y(2), self.writing.clef, EM * self.space)]
        x = (_EDGE + width_of(self.writing.clef) + _AFTER_CLEF) * self.space
        signs, width = self.signature(self.writing.signature(key), None)
        return marks + moved(signs, x, 0), x + width

    def signature(self, key: Key, before: Key | None) -> tuple[list[Mark], float]:
        """The signs of a key from x = 0, and their width; naturals where nothing else ends the key `before`."""
        signs = list(_signature_signs(key))
        if not signs and before:
            signs = [Accidental(sign.step, "accidentalNatural", "") for sign in _signature_signs(before)]
        marks: list[Mark] = []
        x = 0.0
        for sign in signs:
            marks += self._accidental(sign, x, 1.0)
            x += (width_of(sign.sign) + 0.15) * self.space
        return marks, x + _AFTER_KEY * self.space if signs else 0.0

    def key_change(self, item: Item) -> tuple[list[Mark], float]:
        """The new signature of a bar from x = 0, and its width."""
        if item.old_key is None:
            return [], 0.0
        writing = self.writing
        return self.signature(writing.signature(item.written.key), writing.signature(item.old_key))

    # -- the notes of a bar

    def engrave(self, item: Item) -> Engraved:
        """Which heads, stems and accidentals a bar has."""
        bar = item.written
        signature = Signature(self.writing.signature(bar.key))
        groups = []
        for group in beam_groups(self.voice(item, self.writing), bar.metre, item.offset):
            up = points_up(group)
            groups.append(tuple(signature.stack(moment, up) for moment in group))
        return Engraved(tuple(groups))

    def needs(self, engraved: Engraved, padding: float) -> tuple[float, list[Need]]:
        """What stands before the first head beyond `padding` mm, and the room between the heads."""
        stacks = engraved.stacks
        first = max(0.0, stacks[0].left * self.space - padding) if stacks else 0.0
        needs = []
        for before, stack in itertools.pairwise(stacks):
            room = (before.right + _APART + stack.left) * self.space
            needs.append(Need(before.moment.onset, stack.moment.onset, room))
        if stacks:
            last = stacks[-1]
            end = last.moment.onset + last.moment.value.duration
            needs.append(Need(last.moment.onset, end, (last.right + AFTER) * self.space))
        return first, needs

    def notes(self, engraved: Engraved, column: Column, reach: Reach) -> list[Mark]:
        """Everything of a bar but its lines."""
        marks: list[Mark] = []
        for group in engraved.groups:
            xs = [column.x(stack.moment.onset) for stack in group]
            if group[0].moment.rest:
                marks += self._rest(group[0], xs[0])
                continue
            for stack, x in zip(group, xs, strict=True):
                marks += self._stack(stack, x)
            at_stem = [stem_x(stack, x, self.space) for stack, x in zip(group, xs, strict=True)]
            marks += stems(group, at_stem, self.space)
        marks += self._ties(engraved.stacks, column, reach)
        return marks + list(self._tuplets(engraved, column))

    def _stack(self, stack: Stack, x: float) -> Iterator[Mark]:
        space, width = self.space, 2 * stack.half * self.space
        for at, step in enumerate(stack.steps):
            middle = x + stack.head_x(at) * space
            yield Sign(middle - width / 2, self.y(step), stack.head, EM * space)
            yield from self._ledgers(step, middle, width)
            dot_step = step if step % 2 else step + 1
            for dot in range(stack.moment.value.dots):
                right = x + (stack.right - 0.7 * (stack.moment.value.dots - dot) + 0.5) * space
                yield Disc(right, self.y(dot_step), 0.2 * space, Ink.INK, Ink.INK)
        wide = max((width_of(sign.sign) for sign in stack.accidentals), default=0.0) + ACCIDENTAL_GAP
        heads = 3 * stack.half if not stack.up and any(stack.shifted) else stack.half
        for sign in stack.accidentals:
            left = x - (heads + wide * sign.column + ACCIDENTAL_GAP + width_of(sign.sign)) * space
            yield from self._accidental(sign, left, 1.0)
        yield from self._graces(stack, x)

    def _ledgers(self, step: int, middle: float, width: float) -> Iterator[Mark]:
        past, half = 0.4 * self.space, width / 2
        rows = range(10, step + 1, 2) if step > 8 else range(-2, step - 1, -2)
        for row in rows:
            yield Line(middle - half - past, self.y(row), middle + half + past, self.y(row), 1.8 * self.style.thin)

    def _accidental(self, sign: Accidental, left: float, scale: float) -> Iterator[Mark]:
        space = self.space
        yield Sign(left, self.y(sign.step), sign.sign, scale * EM * space)
        if sign.commas:
            x = left + scale * width_of(sign.sign) * space / 2
            yield Text(x, self.y(sign.step) - scale * 1.9 * space, sign.commas, 1.5 * space)

    def _graces(self, stack: Stack, x: float) -> Iterator[Mark]:
        """Small notes with a struck-through flag, stems up."""
        space, em = self.space, GRACE_SIZE * EM * self.space
        head = GRACE_SIZE * width_of("noteheadBlack") * space
        left = x - stack.left * space
        for step, sign in stack.graces:
            right = left + grace_width(sign) * space - 0.35 * space
            y = self.y(step)
            if sign:
                yield from self._accidental(sign, left, GRACE_SIZE)
            yield Sign(right - head, y, "noteheadBlack", em)
            yield from self._ledgers(step, right - head / 2, head)
            tip = y - 2.3 * space
            stem = right - STEM_WIDTH / 2 * space
            yield Line(stem, y, stem, tip, STEM_WIDTH * space)
            yield Sign(stem - STEM_WIDTH / 2 * space, tip, "flag8thUp", em)
            yield Line(stem - 0.5 * space, tip + 1.3 * space, stem + 0.8 * space, tip + 0.3 * space, 0.1 * space)
            left += grace_width(sign) * space

    def _rest(self, stack: Stack, x: float) -> Iterator[Mark]:
        value = stack.moment.value
        name = f"rest{_RESTS.get(value.name, value.name)}"
        step = 6 if value.name == "whole" else 4
        left = x - width_of("noteheadBlack") / 2 * self.space
        yield Sign(left, self.y(step), name, EM * self.space)
        for dot in range(value.dots):
            right = left + (width_of(name) + 0.5 + 0.7 * dot) * self.space
            yield Disc(right, self.y(5), 0.2 * self.space, Ink.INK, Ink.INK)

    def _ties(self, stacks: Sequence[Stack], column: Column, reach: Reach) -> Iterator[Mark]:
        if stacks and reach.first:
            x = column.x(stacks[0].moment.onset)
            for pitch in stacks[0].moment.tied:
                yield self._tie(stacks[0], step_of(pitch), max(0.0, x - 2.4 * self.space), x)
        for stack, following in zip(stacks, [*stacks[1:], None], strict=False):
            for pitch in stack.moment.ties:
                end = column.x(following.moment.onset) if following else reach.to
                yield self._tie(stack, step_of(pitch), column.x(stack.moment.onset), end)

    def _tie(self, stack: Stack, step: int, start: float, end: float) -> Mark:
        """On the heads' side; in a chord the notes above its middle have theirs above."""
        space = self.space
        middle = (stack.steps[0] + stack.steps[-1]) / 2
        above = step > middle if len(stack.steps) > 1 else not stack.up
        way = -1 if above else 1
        y = self.y(step) + way * 0.75 * space
        left, right = start + 0.45 * space, end - 0.45 * space
        bend = 1.9 * space * min(1.0, max(0.3, (right - left) / (8 * space)))
        return Curve(left, y, (left + right) / 2, y + way * bend, right, y, 0.16 * space)

    def _tuplets(self, engraved: Engraved, column: Column) -> Iterator[Mark]:
        """The number on the stems' side of its notes."""
        moments = [stack.moment for stack in engraved.stacks]
        stack_of = {stack.moment.onset: stack for stack in engraved.stacks}
        space = self.space
        for tuplet, members in tuplet_groups(moments):
            stacks = [stack for moment in members if (stack := stack_of[moment.onset]).steps]
            up = not stacks or stacks[0].up
            way = -1 if up else 1
            tips = [height(outer(stack)) + way * 3.9 for stack in stacks] or [0.0]
            edge = min(*tips, 1.4) if up else max(*tips, 2.6)
            left, right = column.x(members[0].onset), column.x(members[-1].onset)
            y = (edge + way * 0.6) * space + (0.0 if up else 0.9 * space)
            yield Text((left + right) / 2, y, str(tuplet.actual), 1.6 * space)

    def reach_of(self, marks: Sequence[Mark]) -> tuple[float, float]:
        """How far marks stand out above and below the lines, in mm."""
        boxes = [box(mark) for mark in marks]
        high = max((-top for _, top, _, _ in boxes), default=0.0)
        low = max((bottom - self.height for _, _, _, bottom in boxes), default=0.0)
        return max(0.0, high), max(0.0, low)


def _signature_signs(key: Key) -> Iterator[Accidental]:
    """The altered steps of a key in their usual order: sharps, then flats."""
    found = key.accidentals
    for order, steps, way in ((SHARP_ORDER, _SHARP_STEPS, 1), (SHARP_ORDER[::-1], _FLAT_STEPS, -1)):
        for step in order:
            alter, commas = found.get(step, (0, 0))
            if (alter or commas) and ((alter or commas) > 0) == (way > 0):
                yield sign_for(steps[step], alter, commas)
