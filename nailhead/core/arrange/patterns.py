"""Right-hand patterns as data: one row each, written in a line of text (the schema is in docs/engine.md).

A row fills *pulse groups*: two counts in simple time, three in compound. A count is the shortest stroke (an eighth in
4/4, 3/4 and 6/8, a sixteenth in 2/4). Its text has one sign a count: a hand, and the strings it may take where no
melody note begins, the dearest last; `.` lets the sign before it ring on, `!` marks where a melody note may begin.

    d  the finger strikes the melody note, or it again      B  brush          t  thumb on the drone string
    D  drop thumb: an inner string on the bass side         P  pinch          T I M  thumb, index, middle
    *  whichever finger is free
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from functools import cached_property

from nailhead.core.arrange.values import Hand
from nailhead.core.errors import PathError
from nailhead.core.music.metre import Metre, Time


class Want(StrEnum):
    """What a slot asks for.

    LEAD is the melody note, or a chord tone where it is sounding already. ANY takes a melody note that begins there,
    else a tone of the chord or the drone. INNER is the same for a thumb that drops to an inner string. BRUSH, DRONE
    and PINCH accompany: no melody note may begin there.
    """

    LEAD = "lead"
    ANY = "any"
    INNER = "inner"
    BRUSH = "brush"
    DRONE = "drone"
    PINCH = "pinch"


@dataclass(frozen=True, slots=True)
class Slot:
    """`at` and `counts` in counts from the start of the pattern; `strings` for what is no melody, best first.

    `hand` None leaves the finger open. A melody note may begin on the first slot and where `accent` is set.
    """

    at: int
    counts: int
    hand: Hand | None
    want: Want
    strings: tuple[int, ...] = ()
    accent: bool = False


@dataclass(frozen=True)
class Pattern:
    """A stroke pattern. `groups` are the pulse groups it fills; `cost` ranks it, in points.

    It is used from `from_rung` on where one note is held through it, and from `moving_from` on where melody notes
    begin inside it (never earlier). `family` names what counts as the same motion when a pattern changes; "" never
    does.
    """

    name: str
    groups: tuple[int, ...]
    slots: tuple[Slot, ...]
    from_rung: int
    cost: int = 0
    moving_from: int = 5
    family: str = ""

    @cached_property
    def takes(self) -> frozenset[int]:
        """The counts on which a melody note may begin: the first and the strong ones that do not only accompany."""
        return frozenset(
            slot.at
            for place, slot in enumerate(self.slots)
            if (place == 0 or slot.accent) and slot.want not in (Want.BRUSH, Want.DRONE, Want.PINCH)
        )

    @property
    def counts(self) -> int:
        return sum(self.groups)


#: Sign of a row's text -> what the hand does and what it wants there.
SIGNS: dict[str, tuple[Hand | None, Want]] = {
    "d": (Hand.DOWN, Want.LEAD),
    "B": (Hand.BRUSH, Want.BRUSH),
    "t": (Hand.THUMB, Want.DRONE),
    "D": (Hand.THUMB, Want.INNER),
    "P": (Hand.PINCH, Want.PINCH),
    "T": (Hand.THUMB, Want.ANY),
    "I": (Hand.INDEX, Want.ANY),
    "M": (Hand.MIDDLE, Want.ANY),
    "*": (None, Want.ANY),
}
_SIGN = re.compile(r"([dBtDPTIM*])([1-9]*)(!?)")
#: Longest pattern in counts: a bar of 12/8.
MOST_COUNTS = 12


def read_row(
    name: str,
    text: str,
    groups: tuple[int, ...],
    from_rung: int,
    cost: int = 0,
    moving_from: int = 5,
    family: str = "",
) -> Pattern:
    """A pattern from its line of text; raises PathError with the sign at fault.

    Teachers' own patterns and those shipped come through here alike.
    """
    slots: list[Slot] = []
    signs = text.split()
    for at, sign in enumerate(signs):
        if sign == "." and slots:
            last = slots[-1]
            slots[-1] = Slot(last.at, last.counts + 1, last.hand, last.want, last.strings, last.accent)
            continue
        match = _SIGN.fullmatch(sign)
        if not match:
            raise PathError(
                f"Sign {at + 1} of the pattern “{name}”, “{sign}”, is not known.",
                field="pattern",
                remedy=f"Use {' '.join(SIGNS)} with strings behind them, or . to let ring.",
            )
        hand, want = SIGNS[match[1]]
        slots.append(Slot(at, 1, hand, want, tuple(map(int, match[2])), bool(match[3])))
    if len(signs) != sum(groups) or not 1 <= len(signs) <= MOST_COUNTS or not set(groups) <= {2, 3}:
        raise PathError(
            f"The pattern “{name}” has {len(signs)} counts for groups of {'+'.join(map(str, groups)) or 'nothing'}.",
            field="pattern",
            remedy=f"Write one sign a count, groups of 2 or 3, at most {MOST_COUNTS} counts.",
        )
    return Pattern(name, groups, tuple(slots), from_rung, cost, max(from_rung, moving_from), family)


#: A teacher's own pattern is for everyone who can hold a note, and is taken wherever it fits.
OWN_FROM, OWN_COST = 2, -20


def own_row(name: str, text: str) -> Pattern:
    """A teacher's own pattern in groups of two counts, or of three where the counts are odd; raises PathError."""
    counts = len(text.split())
    groups = (3,) * (counts // 3) if counts % 2 else (2,) * (counts // 2)
    return read_row(name, text, groups, OWN_FROM, OWN_COST, OWN_FROM, family=name)


#: The clawhammer strokes (handbook §4): the finger strikes down on the beat and its half, the thumb takes the fifth
#: string behind it, or drops to an inner one.
CLAWHAMMER: tuple[Pattern, ...] = (
    read_row("basic stroke", "d . B t", (2, 2), from_rung=2),
    read_row("brush and thumb", "B t", (2,), from_rung=2, cost=1),
    read_row("jig stroke", "d B t", (3,), from_rung=2),
    read_row("jig brush and thumb", "B . t", (3,), from_rung=2, cost=1),
    read_row("double thumb", "d t", (2,), from_rung=5),
    read_row("brush and catch", "B d!", (2,), from_rung=5, cost=1),
    read_row("jig double thumb", "d t d!", (3,), from_rung=5, cost=2),
    read_row("drop thumb", "d D d1! t", (2, 2), from_rung=6, cost=-5),
    read_row("drop-thumb catch", "B D!", (2,), from_rung=6, cost=1),
    read_row("jig drop thumb", "d B D!", (3,), from_rung=6, cost=2),
)

#: The rolls of three fingers (handbook §4; the half-bar rows are common practice). `!` marks the strong slots.
THREE_FINGER: tuple[Pattern, ...] = (
    read_row("pinch", "P .", (2,), from_rung=2, cost=4),
    read_row("jig pinch", "* . P", (3,), from_rung=2, cost=4),
    read_row("short forward", "T345! I2 M1 T53!", (2, 2), from_rung=3, family="forward"),
    read_row("short forward from the index", "I234! M1 T5 M1", (2, 2), from_rung=3, family="forward"),
    read_row("short backward", "M12! I23 T5 M1!", (2, 2), from_rung=3, family="backward"),
    read_row("short alternating", "T345! I2 T53! M1", (2, 2), from_rung=3, cost=1, family="alternating thumb"),
    read_row("forward", "T345! I2 M1 T53! I2! M1 T53! M1", (2, 2, 2, 2), from_rung=3, family="forward"),
    read_row("backward", "M12! I23 T53 M1! I2! T53 M1! I2", (2, 2, 2, 2), from_rung=3, family="backward"),
    read_row("forward-reverse", "T345! I2 M1 T53! M1! I2 T345! M1", (2, 2, 2, 2), from_rung=3, family="forward"),
    read_row(
        "alternating thumb",
        "T345! I2 T53! M1 T435! I2 T53! M1",
        (2, 2, 2, 2),
        from_rung=3,
        cost=1,
        family="alternating thumb",
    ),
    read_row("threes forward", "T345! I2 M1", (3,), from_rung=3, family="threes"),
    read_row("threes from the index", "I234! T53 M1", (3,), from_rung=3, family="threes"),
    read_row("threes backward", "M12! I23 T53", (3,), from_rung=3, family="threes"),
    read_row("waltz roll", "*! . T345! I2 T53! M1", (2, 2, 2), from_rung=3, family="waltz"),
    read_row("waltz in eighths", "T345! I2 T53! M1 T53! M1", (2, 2, 2), from_rung=5, family="waltz"),
    read_row("alternating", "*! *1234 *! *5123", (2, 2), from_rung=5, cost=3, family="alternating"),
    read_row("alternating", "*! *5123!", (2,), from_rung=5, cost=2, family="alternating"),
    read_row("threes alternating", "*! *5123 *5123!", (3,), from_rung=5, cost=2, family="alternating"),
    read_row("late forward", "*! . T345! I2 M1 T53! I2 M1", (2, 2, 2, 2), from_rung=6, cost=1, family="forward"),
    read_row("mixed", "*! *5123 *5123! *5123!", (2, 2), from_rung=6, cost=6, family="mixed"),
)

#: Metres whose count is not an eighth: (beats, unit) -> count.
COUNTS: dict[tuple[int, int], Time] = {
    (2, 4): Fraction(1, 16),
    (3, 2): Fraction(1, 8),
    (4, 2): Fraction(1, 8),
    (3, 16): Fraction(1, 16),
    (6, 16): Fraction(1, 16),
    (9, 16): Fraction(1, 16),
    (12, 16): Fraction(1, 16),
}


@dataclass(frozen=True, slots=True)
class Clock:
    """The right hand's clock in a metre: the length of a count, and the groups that fill a bar."""

    count: Time
    groups: tuple[int, ...]


def clock_of(metre: Metre) -> Clock:
    """Threes in compound time, twos in simple time, the metre's own groups in additive time."""
    count = COUNTS.get((metre.beats, metre.unit), Fraction(1, 8))
    if metre.compound or (metre.unit >= 8 and set(metre.grouping) != {2}):
        return Clock(Fraction(1, metre.unit), metre.grouping)
    return Clock(count, (2,) * max(1, int(metre.length / count / 2)))
