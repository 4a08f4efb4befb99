"""The instruments: one row each. Algorithms read the row and never ask for a name.

Strings (on pairs and courses: courses) count from 1, the one nearest the floor when held. Sources: handbook §2; scale
lengths are typical ones, spans and first positions what players call so (common practice).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.errors import SetupError
from nailhead.core.music.pitch import COMMA_CENTS, Pitch


@dataclass(frozen=True, slots=True)
class Instrument:
    """A kind of instrument.

    `fret_cents[n]` is what fret n adds to the open string, n from 0 (the nut); `fret_names[n]` what tablature calls
    it, where that is not n. `short_strings` maps a string to the fret where it begins. `drone_strings` are struck open
    and carry no melody. One finger covers `frets_per_finger` frets near the nut, `first_position_top` is the fret where
    players begin to speak of higher positions, `span_mm` what a medium hand reaches between the outer fingers.
    `commas` is true where frets divide the octave into 53 and notes are read by name. `courses` counts the strings
    of each course where they are doubled; `capo_weight` is more than 1 where players hardly use capos. `material` is
    of the plain strings.
    """

    id: str
    name: str
    strings: int
    fret_cents: tuple[Fraction, ...]
    scale_mm: float
    short_strings: tuple[tuple[int, int], ...] = ()
    drone_strings: tuple[int, ...] = ()
    highest_capo: int = 7
    capo_weight: int = 1
    span_mm: float = 112.0
    fret_names: tuple[str, ...] = ()
    frets_per_finger: int = 1
    first_position_top: int = 4
    commas: bool = False
    courses: tuple[int, ...] = ()
    material: str = "steel"

    @property
    def frets(self) -> int:
        return len(self.fret_cents) - 1

    def first_fret(self, string: int) -> int:
        """The fret where a string begins: 0, or 5 for the banjo's fifth."""
        return dict(self.short_strings).get(string, 0)

    def fret_mm(self, fret: int) -> float:
        """Distance of a fret from the nut: L(1 - 2^(-cents/1200)), the rule of equal temperament."""
        return self.scale_mm * (1 - 2 ** (-float(self.fret_cents[fret]) / 1200))

    def fret_name(self, fret: int) -> str:
        """What tablature writes for a fret: its number, or on a dulcimer "6½"."""
        return self.fret_names[fret] if self.fret_names else str(fret)

    def cents_of(self, pitch: Pitch) -> Fraction:
        """How high a written note sounds here, in cents above C-1: equal temperament, or by commas.

        By commas every name has its own place: a whole tone is 9, a sharp or flat 5 of the octave's 53.
        """
        if not self.commas:
            return pitch.cents
        natural = 53 * (pitch.octave + 1) + _NATURAL_COMMAS[pitch.step]
        return (natural + _ACCIDENTAL_COMMAS * pitch.alter + pitch.commas) * COMMA_CENTS


#: Commas of the natural steps above C: a whole tone is 9, the steps E-F and B-C are 4 (53 to the octave).
_NATURAL_COMMAS = {"C": 0, "D": 9, "E": 18, "F": 22, "G": 31, "A": 40, "B": 49}
_ACCIDENTAL_COMMAS = 5

#: Semitones of a dulcimer's frets with its names; 6½ and 13½ give the leading note (handbook §2).
DULCIMER_FRETS: tuple[tuple[str, int], ...] = (
    ("0", 0), ("1", 2), ("2", 4), ("3", 5), ("4", 7), ("5", 9), ("6", 10), ("6½", 11), ("7", 12), ("8", 14),
    ("9", 16), ("10", 17), ("11", 19), ("12", 21), ("13", 22), ("13½", 23), ("14", 24),
)  # fmt: skip
#: Commas of the 17 frets of a saz in the first octave above the open string (handbook §2, from memory).
SAZ_COMMAS = (4, 7, 9, 13, 16, 18, 22, 26, 29, 31, 35, 38, 40, 44, 47, 49, 53)
_SAZ_FRETS = 24


def _chromatic(frets: int) -> tuple[Fraction, ...]:
    return tuple(Fraction(100 * fret) for fret in range(frets + 1))


def diatonic(frets: tuple[tuple[str, int], ...]) -> tuple[tuple[Fraction, ...], tuple[str, ...]]:
    """(cents, names) of frets given as (name, semitones), in the order of the neck."""
    ordered = sorted(frets, key=lambda fret: fret[1])
    return tuple(Fraction(100 * semitones) for _, semitones in ordered), tuple(name for name, _ in ordered)


def _by_commas(frets: int) -> tuple[Fraction, ...]:
    octave = len(SAZ_COMMAS)
    commas = [0, *(SAZ_COMMAS[at % octave] + 53 * (at // octave) for at in range(frets))]
    return tuple(count * COMMA_CENTS for count in commas)


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
        Instrument(
            id="mandolin",
            name="Mandolin",
            strings=4,
            fret_cents=_chromatic(20),
            scale_mm=352.0,
            highest_capo=5,
            capo_weight=3,
            frets_per_finger=2,
            first_position_top=7,
            courses=(2, 2, 2, 2),
        ),
        Instrument(
            id="dulcimer",
            name="Mountain dulcimer",
            strings=3,
            fret_cents=diatonic(DULCIMER_FRETS)[0],
            scale_mm=710.0,
            highest_capo=0,
            fret_names=diatonic(DULCIMER_FRETS)[1],
            first_position_top=8,
            courses=(2, 1, 1),
        ),
        Instrument(
            id="ukulele",
            name="Ukulele",
            strings=4,
            fret_cents=_chromatic(15),
            scale_mm=380.0,
            highest_capo=5,
            capo_weight=3,
            first_position_top=3,
            material="nylon",
        ),
        Instrument(
            id="ukulele-baritone",
            name="Baritone ukulele",
            strings=4,
            fret_cents=_chromatic(18),
            scale_mm=500.0,
            highest_capo=5,
            capo_weight=3,
            first_position_top=4,
            material="nylon",
        ),
        Instrument(
            id="guitar",
            name="Guitar",
            strings=6,
            fret_cents=_chromatic(20),
            scale_mm=648.0,
        ),
        Instrument(
            id="saz",
            name="Saz, long neck",
            strings=3,
            fret_cents=_by_commas(_SAZ_FRETS),
            scale_mm=880.0,
            highest_capo=0,
            frets_per_finger=2,
            first_position_top=17,
            commas=True,
            courses=(3, 2, 2),
        ),
        Instrument(
            id="saz-short",
            name="Saz, short neck",
            strings=3,
            fret_cents=_by_commas(_SAZ_FRETS),
            scale_mm=700.0,
            highest_capo=0,
            frets_per_finger=2,
            first_position_top=17,
            commas=True,
            courses=(3, 2, 2),
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
