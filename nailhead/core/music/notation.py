"""How exact durations are written: note values with dots, several tied where one will not do."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from nailhead.core.errors import TheoryError
from nailhead.core.music.metre import Time
from nailhead.core.music.tune import Tuplet

#: Note values as printed, longest first: (fraction of a whole note, name).
VALUES: tuple[tuple[Time, str], ...] = (
    (Fraction(2), "breve"),
    (Fraction(1), "whole"),
    (Fraction(1, 2), "half"),
    (Fraction(1, 4), "quarter"),
    (Fraction(1, 8), "eighth"),
    (Fraction(1, 16), "16th"),
    (Fraction(1, 32), "32nd"),
    (Fraction(1, 64), "64th"),
    (Fraction(1, 128), "128th"),
    (Fraction(1, 256), "256th"),
    (Fraction(1, 512), "512th"),
    (Fraction(1, 1024), "1024th"),
)
_DOTTED = {0: Fraction(1), 1: Fraction(3, 2), 2: Fraction(7, 4)}


@dataclass(frozen=True, slots=True)
class NoteValue:
    """One printed note: its sounding `duration`, the value's name and dots.

    `ratio` is (actual, normal) where it stands in a tuplet, the melody's own or one that an odd length needs.
    """

    duration: Time
    name: str
    dots: int
    ratio: tuple[int, int] | None = None

    @property
    def flags(self) -> int:
        """Flags or beams: 1 for an eighth, 2 for a sixteenth, 0 from a quarter up."""
        names = [name for _, name in VALUES]
        return max(0, names.index(self.name) - names.index("quarter"))


@lru_cache(maxsize=4096)
def note_values(duration: Time, tuplet: Tuplet | None = None) -> tuple[NoteValue, ...]:
    """The printed notes that make a duration, longest first; raises TheoryError below 1/1024.

    A length such as 1/24 that no dots can make is written inside a tuplet of its odd part (here three in two).
    """
    ratio = (tuplet.actual, tuplet.normal) if tuplet else None
    scale = Fraction(*reversed(ratio)) if ratio else Fraction(1)
    odd = _odd_part((duration / scale).denominator)
    if odd > 1:
        normal = 1 << (odd.bit_length() - 1)
        scale *= Fraction(normal, odd)
        ratio = (ratio[0] * odd, ratio[1] * normal) if ratio else (odd, normal)
    left = duration / scale
    found = []
    while left > 0:
        best = max(
            (
                (value * factor, name, dots)
                for value, name in VALUES
                for dots, factor in _DOTTED.items()
                if value * factor <= left
            ),
            default=None,
            key=lambda option: (option[0], -option[2]),
        )
        if best is None:
            raise TheoryError(f"A length of {duration} cannot be written.", field="duration")
        found.append(NoteValue(best[0] * scale, best[1], best[2], ratio))
        left -= best[0]
    return tuple(found)


def _odd_part(number: int) -> int:
    return number // (number & -number)
