"""The instruments: one row each. Algorithms read the row and never ask for a name.

Strings (on pairs and courses: courses) count from 1, the one nearest the floor when held. Sources: handbook §2; scale
lengths and gauges are typical ones, spans and first positions what players call so (common practice).
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.errors import SetupError
from nailhead.core.fretboard.frets import by_commas, chromatic, diatonic
from nailhead.core.fretboard.strings import Gauge, parse_gauges
from nailhead.core.fretboard.tunings import Tuning, tuning_moved, tunings_of
from nailhead.core.music.pitch import COMMA_CENTS, Pitch, PitchClass

#: Hand -> what it reaches between the outer fingers, in millimetres (common practice).
HANDS: dict[str, float] = {"small": 98.0, "medium": 112.0, "large": 126.0}
#: On an instrument that lies on the lap the thumb reaches over the frets too (common practice).
LAP_SPAN_MM = 1.25 * HANDS["medium"]
#: "gCGCD↓2" or "gCGCD down 2": the whole instrument two semitones below a tuning.
_MOVED = re.compile(r"(.+?)\s*(↓|↑|\bdown\b|\bup\b)\s*(\d{1,2})")


@dataclass(frozen=True, slots=True)
class Instrument:
    """A kind of instrument, or one a teacher owns.

    `fret_cents[n]` is what fret n adds to the open string, n from 0 (the nut); `fret_names[n]` what tablature calls
    it, where that is not n. `tunings` come in the order they are tried; the first is the one the strings are made for.
    `short_strings` maps a string to the fret where it begins. `drone_strings` are struck open and carry no melody;
    `last_resorts` carry it only where no other string has the note.
    One finger covers `frets_per_finger` frets near the nut, `first_position_top` is the fret where
    players begin to speak of higher positions, `span_mm` what the hand reaches between the outer fingers.
    `commas` is true where frets divide the octave into 53 and notes are read by name; there a note is stopped on
    `fingered` courses alone, a comma off where they have no fret of its name. `courses` counts the strings
    of each course where they are doubled. A capo goes up to `highest_capo`, on `capo_frets` alone where those are
    named; `capo_weight` is more than 1 where players hardly use one. A chord wants its root lowest with `bass_is_root`;
    `chord_costs` are what its shapes pay otherwise than usual, by the names of `shapes.COSTS`. `off_course` is what a
    note costs for each course it lies away from the first, where the melody belongs. `whole` bounds how far all
    strings together are tuned away from a named tuning, in semitones; with `relative` names the written pitch is a
    name only and any of these is as good, and most tunes are noted on `written_tonic`. `gauges` are of strings 1 to n,
    one of each course. `like` is the row whose idioms a teacher's own instrument is played in.
    """

    id: str
    name: str
    strings: int
    fret_cents: tuple[Fraction, ...]
    scale_mm: float
    tunings: tuple[Tuning, ...]
    short_strings: tuple[tuple[int, int], ...] = ()
    drone_strings: tuple[int, ...] = ()
    last_resorts: tuple[int, ...] = ()
    highest_capo: int = 7
    capo_frets: tuple[int, ...] = ()
    capo_weight: int = 1
    span_mm: float = HANDS["medium"]
    fret_names: tuple[str, ...] = ()
    frets_per_finger: int = 1
    first_position_top: int = 4
    commas: bool = False
    fingered: tuple[int, ...] = ()
    courses: tuple[int, ...] = ()
    bass_is_root: bool = False
    chord_costs: tuple[tuple[str, int], ...] = ()
    off_course: int = 0
    whole: tuple[int, int] = (-2, 0)
    relative: bool = False
    written_tonic: PitchClass | None = None
    gauges: tuple[Gauge, ...] = ()
    left_handed: bool = False
    like: str = ""

    def __hash__(self) -> int:
        """Equal instruments have equal ids; hashing every fret would cost more than what is looked up."""
        return hash((self.id, self.scale_mm, self.span_mm))

    @property
    def kind(self) -> str:
        """The id of the row it is played like: its own, or that of `like`."""
        return self.like or self.id

    @property
    def capos(self) -> tuple[int, ...]:
        """Where a capo may be, 0 for none."""
        on = self.capo_frets or range(1, self.highest_capo + 1)
        return (0, *(fret for fret in on if fret <= self.highest_capo))

    def capo_semitones(self, capo: int) -> int:
        """How much higher the strings sound with a capo: on uneven frets that is not its fret."""
        return int(self.fret_cents[capo] // 100) if self.fret_names else capo

    @property
    def frets(self) -> int:
        return len(self.fret_cents) - 1

    def first_fret(self, string: int) -> int:
        """The fret where a string begins: 0, or 5 for the banjo's fifth."""
        return dict(self.short_strings).get(string, 0)

    def fret_mm(self, fret: int) -> float:
        """Distance of a fret from the nut: L(1 - 2^(-cents/1200)), the rule of equal temperament."""
        return self.scale_mm * (1 - 2 ** (-float(self.fret_cents[fret]) / 1200))

    def speaking_mm(self, string: int) -> float:
        """Length of the open string that sounds: a short string begins further up."""
        return self.scale_mm - self.fret_mm(self.first_fret(string))

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

    def tuning(self, name: str, field: str = "tuning", fifths: int | None = None) -> Tuning:
        """A tuning by id ("gDGBD") or name ("open G"), "gDGBD↓2" for all strings two semitones lower.

        `fifths` spells one that is moved (see tuning_moved). Raises SetupError with the tunings there are.
        """
        moved = _MOVED.fullmatch(name.strip())
        if moved:
            semitones = int(moved[3]) * (-1 if moved[2] in ("↓", "down") else 1)
            return tuning_moved(self.tuning(moved[1], field), self._checked(semitones, field), fifths)
        for row in self.tunings:
            if name == row.id or name.strip().lower() == row.name.lower():
                return row
        known = ", ".join(f"{row.id} ({row.name})" for row in self.tunings)
        raise SetupError(
            f"There is no tuning “{name}” for the {self.name.lower()}.",
            field=field,
            remedy=f"Choose one of: {known}.",
        )

    def _checked(self, semitones: int, field: str) -> int:
        low, high = self.whole
        if low <= semitones <= high:
            return semitones
        raise SetupError(
            f"The {self.name.lower()} is not tuned {abs(semitones)} semitones {'up' if semitones > 0 else 'down'}.",
            field=field,
            remedy=f"Keep it between {low} and {high} semitones.",
        )


#: Commas of the natural steps above C: a whole tone is 9, the steps E-F and B-C are 4 (53 to the octave).
_NATURAL_COMMAS = {"C": 0, "D": 9, "E": 18, "F": 22, "G": 31, "A": 40, "B": 49}
_ACCIDENTAL_COMMAS = 5
#: The written tonic of most tunes on the saz (common practice).
LA = PitchClass("A")
#: A written A of the saz sounds anywhere from C to the C above (handbook §2).
_ANY_PITCH = (-9, 3)


def with_hand(instrument: Instrument, hand: str) -> Instrument:
    """The instrument under a small, medium or large hand; raises SetupError for another."""
    if hand not in HANDS:
        raise SetupError(f"There is no hand “{hand}”.", field="hand", remedy=f"Choose one of: {', '.join(HANDS)}.")
    return replace(instrument, span_mm=instrument.span_mm * HANDS[hand] / HANDS["medium"])


#: Above the first frets a hand holds every string of a chord.
_CLOSED_HIGH = (("open between stops", 24),)

INSTRUMENTS: dict[str, Instrument] = {
    row.id: row
    for row in (
        Instrument(
            id="banjo",
            name="Five-string banjo",
            strings=5,
            fret_cents=chromatic(22)[0],
            scale_mm=667.0,
            tunings=tunings_of("banjo"),
            short_strings=((5, 5),),
            drone_strings=(5,),
            gauges=parse_gauges("0.254 0.279 0.33 0.51w 0.254"),
        ),
        Instrument(
            id="mandolin",
            name="Mandolin",
            strings=4,
            fret_cents=chromatic(20)[0],
            scale_mm=352.0,
            tunings=tunings_of("mandolin"),
            highest_capo=5,
            capo_weight=3,
            frets_per_finger=2,
            first_position_top=7,
            chord_costs=(("third missing", 60),),
            courses=(2, 2, 2, 2),
            gauges=parse_gauges("0.279 0.381 0.66w 1.02w"),
        ),
        Instrument(
            id="dulcimer",
            name="Mountain dulcimer",
            strings=3,
            fret_cents=diatonic()[0],
            fret_names=diatonic()[1],
            scale_mm=710.0,
            tunings=tunings_of("dulcimer"),
            highest_capo=4,
            capo_frets=(1, 3, 4),
            span_mm=LAP_SPAN_MM,
            chord_costs=(("root missing", 26), ("third missing", 20)),
            first_position_top=8,
            courses=(2, 1, 1),
            gauges=parse_gauges("0.305 0.356 0.56w"),
        ),
        Instrument(
            id="ukulele",
            name="Ukulele",
            strings=4,
            fret_cents=chromatic(15)[0],
            scale_mm=380.0,
            tunings=tunings_of("ukulele"),
            last_resorts=(4,),
            chord_costs=_CLOSED_HIGH,
            highest_capo=5,
            capo_weight=3,
            first_position_top=3,
            gauges=parse_gauges("0.56n 0.66n 0.81n 0.61n"),
        ),
        Instrument(
            id="ukulele-baritone",
            name="Baritone ukulele",
            strings=4,
            fret_cents=chromatic(18)[0],
            scale_mm=500.0,
            tunings=tunings_of("ukulele-baritone"),
            highest_capo=5,
            capo_weight=3,
            first_position_top=4,
            gauges=parse_gauges("0.66n 0.81n 0.76nw 0.81nw"),
        ),
        Instrument(
            id="guitar",
            name="Guitar",
            strings=6,
            fret_cents=chromatic(20)[0],
            scale_mm=648.0,
            tunings=tunings_of("guitar"),
            bass_is_root=True,
            chord_costs=(*_CLOSED_HIGH, ("string damped inside", 30), ("not the root in the bass", 20)),
            gauges=parse_gauges("0.305 0.406 0.61w 0.81w 1.07w 1.35w"),
        ),
        Instrument(
            id="saz",
            name="Saz, long neck",
            strings=3,
            fret_cents=by_commas(24)[0],
            scale_mm=880.0,
            tunings=tunings_of("saz"),
            highest_capo=0,
            frets_per_finger=2,
            first_position_top=17,
            commas=True,
            fingered=(1, 2),
            off_course=6,
            courses=(3, 2, 2),
            whole=_ANY_PITCH,
            relative=True,
            written_tonic=LA,
            gauges=parse_gauges("0.2 0.28 0.2"),
        ),
        Instrument(
            id="saz-short",
            name="Saz, short neck",
            strings=3,
            fret_cents=by_commas(19)[0],
            scale_mm=700.0,
            tunings=tunings_of("saz-short"),
            highest_capo=0,
            frets_per_finger=2,
            first_position_top=17,
            commas=True,
            fingered=(1, 2),
            off_course=2,
            courses=(3, 2, 2),
            whole=_ANY_PITCH,
            relative=True,
            written_tonic=LA,
            gauges=parse_gauges("0.2 0.28 0.2"),
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
