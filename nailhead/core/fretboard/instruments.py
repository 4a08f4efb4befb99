"""The instruments: one row each. Algorithms read the row and never ask for a name.

Strings count from 1, the one nearest the floor when held. Source: handbook §2; scale lengths are
typical ones (common practice).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.errors import SetupError


@dataclass(frozen=True, slots=True)
class Instrument:
    """A kind of instrument.

    `fret_cents[n]` is what fret n adds to the open string, n from 0 (the nut). `short_strings` maps a string
    to the fret where it begins. `drone_strings` are struck open and carry no melody. `fingers_per_fret`
    tells how many frets one finger covers near the nut; `span_mm` what a medium hand reaches between
    the outer fingers (common practice).
    """

    id: str
    name: str
    strings: int
    fret_cents: tuple[Fraction, ...]
    scale_mm: float
    short_strings: tuple[tuple[int, int], ...] = ()
    drone_strings: tuple[int, ...] = ()
    highest_capo: int = 7
    span_mm: float = 112.0

    @property
    def frets(self) -> int:
        return len(self.fret_cents) - 1

    def first_fret(self, string: int) -> int:
        """The fret where a string begins: 0, or 5 for the banjo's fifth."""
        return dict(self.short_strings).get(string, 0)

    def fret_mm(self, fret: int) -> float:
        """Distance of a fret from the nut: L(1 - 2^(-cents/1200)), the rule of equal temperament."""
        return self.scale_mm * (1 - 2 ** (-float(self.fret_cents[fret]) / 1200))


def _chromatic(frets: int) -> tuple[Fraction, ...]:
    return tuple(Fraction(100 * fret) for fret in range(frets + 1))


INSTRUMENTS: dict[str, Instrument] = {
    row.id: row
    for row in (
        Instrument(
            id="banjo",
            name="Five-string banjo",
            strings=5,
            fret_cents=_chromatic(22),
            scale_mm=667.0,
            short_strings=((5, 5),),
            drone_strings=(5,),
        ),
    )
}


def find_instrument(name: str) -> Instrument:
    """The row of that id; raises SetupError with the ids there are."""
    if name not in INSTRUMENTS:
        raise SetupError(
            f"There is no instrument “{name}”.",
            field="instrument",
            remedy=f"Choose one of: {', '.join(INSTRUMENTS)}.",
        )
    return INSTRUMENTS[name]
