"""Measures of the tablature in millimetres, all from one: the gap."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Stems:
    """A row of stems in mm: each begins at `near` the strings and ends where the beams are, `far`; `way` is 1 down."""

    near: float
    far: float
    way: int

    @property
    def middle(self) -> float:
        return (self.near + self.far) / 2


@dataclass(frozen=True, slots=True)
class Style:
    """Everything is a multiple of `gap`, the distance between two string lines too."""

    gap: float = 2.5

    @property
    def line(self) -> float:
        """Between two string lines: wide enough that heads on neighbours stand clear of each other."""
        return 1.28 * self.gap

    @property
    def head(self) -> float:
        """Radius of a nailhead."""
        return 0.61 * self.gap

    @property
    def numeral(self) -> float:
        """Em of a fret number."""
        return 1.24 * self.gap

    @property
    def thin(self) -> float:
        return 0.06 * self.gap

    @property
    def stem(self) -> float:
        return 0.075 * self.gap

    @property
    def thick(self) -> float:
        return 0.32 * self.gap

    @property
    def padding(self) -> float:
        """From a bar line to the first note, and from the last note's space to the bar line."""
        return 1.15 * self.gap

    def staff_height(self, strings: int) -> float:
        return self.line * (strings - 1)

    def stem_top(self, strings: int) -> float:
        return self.staff_height(strings) + 0.85 * self.gap

    def stem_bottom(self, strings: int) -> float:
        return self.staff_height(strings) + 2.4 * self.gap

    def stems(self, strings: int, above: bool = False) -> Stems:
        """The row of stems below the strings, or above them."""
        if above:
            return Stems(-0.85 * self.gap, -2.4 * self.gap, -1)
        return Stems(self.stem_top(strings), self.stem_bottom(strings), 1)

    def hand_line(self, strings: int) -> float:
        """Baseline of the right-hand marks."""
        return self.staff_height(strings) + 4.05 * self.gap

    def words_line(self, strings: int, verse: int) -> float:
        return self.staff_height(strings) + (5.7 + 1.6 * verse) * self.gap
