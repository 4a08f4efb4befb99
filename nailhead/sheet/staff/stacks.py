"""Notes on one stem: which side the heads stand, which accidentals they need, how much room that takes."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from nailhead.core.music.key import Key
from nailhead.core.music.pitch import Pitch, comma_text
from nailhead.sheet.glyphs import glyph
from nailhead.sheet.staff.moments import Moment

#: Spaces of the staff in the em of a music font (SMuFL 1.4, section "Notes for implementers").
EM = 4.0
#: Diatonic number of the lowest line of the treble clef, E4.
_LOWEST_LINE = 30
#: Accidentals at least so many steps apart stand above one another.
_CLEAR = 6
#: In spaces: before a head, between two columns of accidentals, of a grace and its accidental, after a head.
ACCIDENTAL_GAP, GRACE_WIDTH, AFTER = 0.25, 1.45, 0.35
GRACE_SIZE = 0.62
HEADS = {"breve": "noteheadDoubleWhole", "whole": "noteheadWhole", "half": "noteheadHalf"}
SIGNS = {
    -2: "accidentalDoubleFlat",
    -1: "accidentalFlat",
    0: "accidentalNatural",
    1: "accidentalSharp",
    2: "accidentalDoubleSharp",
}


def step_of(pitch: Pitch) -> int:
    """Steps above the lowest line of the staff."""
    return pitch.diatonic - _LOWEST_LINE


def width_of(name: str) -> float:
    """Width of a sign in spaces."""
    return EM * glyph(name).right


@dataclass(frozen=True, slots=True)
class Accidental:
    """A sign before a head; `commas` is the small figure over it; `column` counts away from the head."""

    step: int
    sign: str
    commas: str
    column: int = 0


@dataclass(frozen=True, slots=True)
class Stack:
    """The heads of a moment: `shifted` ones stand on the other side of the stem. `graces` with their signs."""

    moment: Moment
    up: bool
    steps: tuple[int, ...]
    shifted: tuple[bool, ...]
    accidentals: tuple[Accidental, ...]
    graces: tuple[tuple[int, Accidental | None], ...]

    @property
    def head(self) -> str:
        return HEADS.get(self.moment.value.name, "noteheadBlack")

    @property
    def half(self) -> float:
        """Half the width of a head, in spaces."""
        return width_of(self.head) / 2

    def head_x(self, at: int) -> float:
        """The middle of a head, in spaces from the moment's place."""
        return (2 * self.half if self.up else -2 * self.half) if self.shifted[at] else 0.0

    @property
    def left(self) -> float:
        """How far heads and what stands before them reach to the left, in spaces."""
        heads = 3 * self.half if not self.up and any(self.shifted) else self.half
        columns = max((sign.column for sign in self.accidentals), default=-1) + 1
        wide = max((width_of(sign.sign) for sign in self.accidentals), default=0.0)
        signs = columns * (wide + ACCIDENTAL_GAP)
        return heads + signs + sum(grace_width(sign) for _, sign in self.graces)

    @property
    def right(self) -> float:
        """How far heads and dots reach to the right, in spaces."""
        heads = 3 * self.half if self.up and any(self.shifted) else self.half
        return heads + 0.7 * self.moment.value.dots


def grace_width(sign: Accidental | None) -> float:
    return GRACE_WIDTH + (GRACE_SIZE * width_of(sign.sign) + ACCIDENTAL_GAP if sign else 0.0)


def points_up(moments: Iterable[Moment]) -> bool:
    """Stems go towards the middle line, from the note that is farthest from it (common practice)."""
    steps = [step_of(pitch) for moment in moments for pitch in moment.pitches]
    return not steps or 4 - min(steps) > max(steps) - 4


def shifts(steps: Sequence[int], up: bool) -> tuple[bool, ...]:
    """Of two heads a step apart one stands on the other side: the upper on a stem up, the lower on one down."""
    order = range(len(steps)) if up else range(len(steps) - 1, -1, -1)
    found = [False] * len(steps)
    for before, at in itertools.pairwise(order):
        found[at] = abs(steps[at] - steps[before]) < 2 and not found[before]
    return tuple(found)


@dataclass(slots=True)
class Signature:
    """Which accidental a note needs, in a key and after those of its bar."""

    key: Key
    said: dict[tuple[str, int], tuple[int, int | Fraction]] = field(default_factory=dict)

    def needs(self, pitch: Pitch) -> Accidental | None:
        """The sign to write, which then holds to the end of the bar."""
        place = (pitch.step, pitch.octave)
        now = (pitch.alter, pitch.commas)
        if self.said.get(place, self.key.accidentals.get(pitch.step, (0, 0))) == now:
            return None
        self.said[place] = now
        return sign_for(step_of(pitch), pitch.alter, pitch.commas)

    def stack(self, moment: Moment, up: bool) -> Stack:
        """A moment's heads; the graces come first, as they sound."""
        graces = tuple((step_of(grace), self.needs(grace)) for grace in moment.graces)
        steps = tuple(step_of(pitch) for pitch in moment.pitches)
        signs = [sign for pitch in reversed(moment.pitches) if pitch not in moment.tied and (sign := self.needs(pitch))]
        return Stack(moment, up, steps, shifts(steps, up), _in_columns(signs), graces)


def sign_for(step: int, alter: int, commas: int | Fraction) -> Accidental:
    """Flat or sharp with its commas: B lowered by two commas is a flat with a small 2."""
    sign = alter or (commas > 0) - (commas < 0)
    small = -commas if commas < 0 else commas
    return Accidental(step, SIGNS[sign], comma_text(small).lstrip("♯♭") if commas else "")


def _in_columns(signs: Sequence[Accidental]) -> tuple[Accidental, ...]:
    """From the top down, each as near to its head as those before it allow."""
    placed: list[Accidental] = []
    for sign in signs:
        taken = {other.column for other in placed if abs(other.step - sign.step) < _CLEAR}
        column = next(column for column in itertools.count() if column not in taken)
        placed.append(Accidental(sign.step, sign.sign, sign.commas, column))
    return tuple(placed)
