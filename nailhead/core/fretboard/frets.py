"""Where the frets lie, as tables: twelve to the octave, or named semitones on a dulcimer, or commas on a saz."""

from __future__ import annotations

from fractions import Fraction

from nailhead.core.music.pitch import COMMA_CENTS

#: A row of frets: cents above the open string from the nut (0) on, and what tablature calls them (() for numbers).
Frets = tuple[tuple[Fraction, ...], tuple[str, ...]]

#: Semitones of a dulcimer's frets with its names; 6½ and 13½ give the leading note (handbook §2).
DULCIMER_FRETS: tuple[tuple[str, int], ...] = (
    ("0", 0), ("1", 2), ("2", 4), ("3", 5), ("4", 7), ("5", 9), ("6", 10), ("6½", 11), ("7", 12), ("8", 14),
    ("9", 16), ("10", 17), ("11", 19), ("12", 21), ("13", 22), ("13½", 23), ("14", 24),
)  # fmt: skip
#: Half frets: 6½ and 13½ as above, and those that only some dulcimers have (handbook §2).
HALF_FRETS: dict[str, int] = {"1½": 3, "6½": 11, "8½": 15, "13½": 23}
#: Commas of the 17 frets of a saz in the first octave above the open string (handbook §2, from memory).
SAZ_COMMAS = (4, 7, 9, 13, 16, 18, 22, 26, 29, 31, 35, 38, 40, 44, 47, 49, 53)


def chromatic(frets: int) -> Frets:
    """Twelve equal semitones to the octave."""
    return tuple(Fraction(100 * fret) for fret in range(frets + 1)), ()


def diatonic(frets: tuple[tuple[str, int], ...] = DULCIMER_FRETS) -> Frets:
    """Frets given as (name, semitones), in the order of the neck."""
    ordered = sorted(frets, key=lambda fret: fret[1])
    return tuple(Fraction(100 * semitones) for _, semitones in ordered), tuple(name for name, _ in ordered)


def dulcimer_frets(last: int, half: tuple[str, ...]) -> Frets:
    """A dulcimer's frets up to the whole number `last`, with those half frets that lie below it."""
    whole = tuple(fret for fret in DULCIMER_FRETS if fret[0].isdigit() and int(fret[0]) <= last)
    return diatonic(whole + tuple((name, HALF_FRETS[name]) for name in half if int(name[:-1]) < last))


def by_commas(frets: int) -> Frets:
    """Seventeen frets to the octave of 53 commas."""
    octave = len(SAZ_COMMAS)
    commas = [0, *(SAZ_COMMAS[at % octave] + 53 * (at // octave) for at in range(frets))]
    return tuple(count * COMMA_CENTS for count in commas), ()
