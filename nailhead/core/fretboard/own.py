"""A teacher's own instruments and tunings: built from a row of the table, checked field by field."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from nailhead.core.errors import SetupError
from nailhead.core.fretboard.cautions import STEEL_STRENGTH_PA
from nailhead.core.fretboard.frets import HALF_FRETS, Frets, by_commas, chromatic, dulcimer_frets
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.strings import parse_gauges, stress_pa
from nailhead.core.fretboard.tunings import Home, Tuning
from nailhead.core.music.pitch import Pitch, PitchClass, hertz_of, parse_pitch

#: Kind -> fewest and most strings that its ways of playing have hands for.
STRINGS: dict[str, tuple[int, int]] = {
    "banjo": (5, 5),
    "mandolin": (3, 6),
    "dulcimer": (2, 5),
    "ukulele": (4, 6),
    "ukulele-baritone": (4, 6),
    "guitar": (4, 8),
    "saz": (2, 4),
    "saz-short": (2, 4),
}
SCALE_MM = (200.0, 1300.0)
LONGEST_NAME = 60
#: What an ear takes for a string, in Hz.
_HEARD_HZ = (25.0, 1500.0)
_FEWEST_FRETS = 5


@dataclass(frozen=True, slots=True)
class OwnTuning:
    """A tuning as a teacher writes it: `open` has the pitches of strings n to 1, "G4 D3 G3 B3 D4"."""

    name: str
    open: str


@dataclass(frozen=True, slots=True)
class OwnInstrument:
    """An instrument as a teacher describes it, played like the row `kind`.

    `frets` counts whole numbers on a dulcimer, whose `half_frets` are of HALF_FRETS. `gauges` as parse_gauges reads
    them, string n to 1 or "". `courses` is the number of strings of each course, 1 to n, () for single ones.
    `tuning` is the first of its own, None where it keeps the tunings of its kind.
    """

    name: str
    kind: str
    strings: int
    scale_mm: float
    frets: int
    half_frets: tuple[str, ...] = ()
    gauges: str = ""
    courses: tuple[int, ...] = ()
    left_handed: bool = False
    tuning: OwnTuning | None = None


def build_instrument(own: OwnInstrument, id: str, like: Instrument) -> Instrument:
    """The instrument to play; raises SetupError at the field that cannot be."""
    _checked_name(own.name)
    fewest, most = STRINGS[like.id]
    if not fewest <= own.strings <= most:
        said = f"{fewest}" if fewest == most else f"{fewest} to {most}"
        raise SetupError(
            f"A {like.name.lower()} with {own.strings} strings is not played here.",
            field="strings",
            remedy=f"Give {said} strings, or choose another kind.",
        )
    if not SCALE_MM[0] <= own.scale_mm <= SCALE_MM[1]:
        raise SetupError(
            f"A scale of {own.scale_mm:g} mm cannot be.",
            field="scale_mm",
            remedy=f"Measure from nut to bridge: {SCALE_MM[0]:g} to {SCALE_MM[1]:g} mm.",
        )
    frets = _frets(own, like)
    gauges = tuple(reversed(parse_gauges(own.gauges)))
    if gauges and len(gauges) != own.strings:
        raise SetupError(
            f"{_counted(len(gauges), 'gauge')} for {_counted(own.strings, 'string')}.",
            field="gauges",
            remedy="Give one for each string (of a pair: one), from the bass to string 1, or none.",
        )
    if own.courses and (len(own.courses) != own.strings or not all(1 <= count <= 3 for count in own.courses)):
        raise SetupError(
            "The courses do not match the strings.", field="courses", remedy="Give 1, 2 or 3 for each, or none."
        )
    same = own.strings == like.strings
    bare = replace(
        like,
        id=id,
        name=own.name.strip(),
        like=like.kind,
        strings=own.strings,
        scale_mm=own.scale_mm,
        fret_cents=frets[0],
        fret_names=frets[1],
        highest_capo=min(like.highest_capo, max(0, len(frets[0]) - 1 - _FEWEST_FRETS)),
        courses=own.courses or (like.courses if same else ()),
        gauges=gauges or (like.gauges if same else ()),
        left_handed=own.left_handed,
        tunings=like.tunings if same else (),
    )
    if own.tuning is None:
        if not same:
            raise SetupError(
                f"With {own.strings} strings it needs a tuning of its own.",
                field="open",
                remedy="Give the open strings from the bass to string 1: E2 A2 D3 G3 B3 E4.",
            )
        return bare
    return with_tuning(bare, own.tuning, first=True)


def _frets(own: OwnInstrument, like: Instrument) -> Frets:
    most = 14 if like.fret_names else 36
    first = max((fret for _, fret in like.short_strings), default=0)
    if not max(_FEWEST_FRETS, first + 1) <= own.frets <= most:
        raise SetupError(
            f"{own.frets} frets cannot be.", field="frets", remedy=f"Give {max(_FEWEST_FRETS, first + 1)} to {most}."
        )
    strange = [name for name in own.half_frets if name not in HALF_FRETS]
    if strange or (own.half_frets and not like.fret_names):
        raise SetupError(
            f"There is no half fret {strange[0] if strange else own.half_frets[0]} on it.",
            field="half_frets",
            remedy=f"A dulcimer has {', '.join(HALF_FRETS)}; other instruments have none.",
        )
    if like.fret_names:
        return dulcimer_frets(own.frets, own.half_frets)
    return by_commas(own.frets) if like.commas else chromatic(own.frets)


def _checked_name(name: str) -> None:
    if not name.strip() or len(name.strip()) > LONGEST_NAME:
        raise SetupError("It has no name.", field="name", remedy=f"Call it something, in up to {LONGEST_NAME} letters.")


def build_tuning(own: OwnTuning, instrument: Instrument) -> Tuning:
    """A tuning of an instrument; raises SetupError where strings are missing, would break, or are there already."""
    _checked_name(own.name)
    pitches = _open_strings(own.open, instrument)
    for number, pitch in enumerate(pitches, start=1):
        _checked_string(instrument, number, pitch)
    sounding = [instrument.cents_of(pitch) for pitch in pitches]
    for row in instrument.tunings:
        if [instrument.cents_of(pitch) for pitch in row.pitches] == sounding:
            raise SetupError(
                f"That is {row.name} ({row.id}), which is there already.", field="open", remedy="Use it as it is."
            )
        if row.name.lower() == own.name.strip().lower():
            raise SetupError(
                f"There is a tuning “{row.name}” already.", field="name", remedy="Give this one another name."
            )
    homes = homes_of(pitches)
    return Tuning(
        _letters(pitches, {row.id for row in instrument.tunings}),
        own.name.strip(),
        instrument.id,
        pitches,
        homes[0],
        homes[1],
        any_key=not any(homes) or instrument.commas,
        usual=True,
    )


def _open_strings(text: str, instrument: Instrument) -> tuple[Pitch, ...]:
    """The open strings from string 1 on, given as pitches with octaves (G4 D3 …) or as players write them (gDGBD).

    Letters take the octave that lies nearest to the instrument's first tuning. Raises SetupError.
    """
    words = text.split()
    usual = instrument.tunings[0].pitches if instrument.tunings else ()
    letters = re.findall(r"[A-Ga-g][#♯b♭]*", text)
    if len(usual) == instrument.strings == len(letters) and "".join(letters) == "".join(words).rstrip("′'"):
        near = zip(reversed(letters), usual, strict=True)
        return tuple(_nearest(letter[0].upper() + letter[1:], pitch) for letter, pitch in near)
    if len(words) != instrument.strings:
        raise SetupError(
            f"{_counted(len(words), 'pitch')} for {_counted(instrument.strings, 'string')}.",
            field="open",
            remedy="Give the pitch of each open string from the bass to string 1, the short string first: G4 D3 G3 …",
        )
    return tuple(parse_pitch(word, "open") for word in reversed(words))


def _nearest(name: str, usual: Pitch) -> Pitch:
    """The pitch of that name next to another one; of two equally far the lower, which strains no string."""
    octaves = (parse_pitch(f"{name}{octave}", "open") for octave in range(usual.octave - 1, usual.octave + 2))
    return min(octaves, key=lambda pitch: (abs(pitch.cents - usual.cents), pitch.cents))


def _counted(count: int, what: str) -> str:
    """ "1 string", "2 pitches"."""
    return f"{count} {what}" if count == 1 else f"{count} {what}{'es' if what.endswith('ch') else 's'}"


def with_tuning(instrument: Instrument, own: OwnTuning, first: bool = False) -> Instrument:
    """The instrument with one more tuning; `first` where its strings are made for it."""
    found = build_tuning(own, instrument)
    tunings = (found, *instrument.tunings) if first else (*instrument.tunings, found)
    return replace(instrument, tunings=tunings)


def _checked_string(instrument: Instrument, number: int, pitch: Pitch) -> None:
    hertz = hertz_of(pitch.cents)
    if not _HEARD_HZ[0] <= hertz <= _HEARD_HZ[1]:
        raise SetupError(
            f"String {number} cannot be tuned to {pitch}.", field="open", remedy="Check its octave: C4 is middle C."
        )
    steel = instrument.gauges[number - 1].steel if instrument.gauges else False
    if steel and stress_pa(instrument.speaking_mm(number), hertz) > STEEL_STRENGTH_PA:
        raise SetupError(
            f"String {number} would break before it reaches {pitch}.",
            field="open",
            remedy="Give a lower pitch, or a shorter scale if the instrument has one.",
        )


def homes_of(pitches: Sequence[Pitch]) -> tuple[tuple[Home, ...], tuple[Home, ...]]:
    """Shape keys that lie under the hand: tonic and fifth both open, and no open third of the other mode.

    The first of the pair is for modes with a major third, the second for those with a minor one (common practice).
    """
    there = {pitch.pitch_class.semitone for pitch in pitches}
    names: dict[int, PitchClass] = {pitch.pitch_class.semitone: pitch.pitch_class for pitch in pitches}
    tonics = [name for semitone, name in sorted(names.items()) if (semitone + 7) % 12 in there]
    major = tuple((name, "") for name in tonics if (name.semitone + 3) % 12 not in there)
    minor = tuple((name, "") for name in tonics if (name.semitone + 4) % 12 not in there)
    return major, minor


def _letters(pitches: Sequence[Pitch], taken: set[str]) -> str:
    """Its strings as players write them, last first, small where the last is higher than the next."""
    plain = [str(pitch.pitch_class).replace("♯", "#").replace("♭", "b") for pitch in reversed(pitches)]
    if len(pitches) > 1 and pitches[-1].cents > pitches[-2].cents:
        plain[0] = plain[0][0].lower() + plain[0][1:]
    letters = "".join(plain)
    while letters in taken:
        letters += "′"
    return letters
