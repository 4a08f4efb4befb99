"""What retuning asks of the strings, string by string, and the cautions that go with it (handbook §9)."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Setup
from nailhead.core.fretboard.strings import stress_pa, tension_n
from nailhead.core.fretboard.tunings import Tuning
from nailhead.core.music.pitch import Pitch, hertz_of

#: Strength of steel music wire of 0.25 to 0.35 mm, from memory; a raise may end at 70 % of it.
STEEL_STRENGTH_PA = 2.6e9
SAFE_SHARE, BREAKING_SHARE = 0.7, 0.9
#: A string that is let down further than this is slack: it wants another string.
SLACK_SEMITONES = 7
#: A raise of more semitones than this wants other strings or a luthier.
MOST_SEMITONES = 2

HANDS_CAUTION = (
    "Stop at pain, numbness or tingling and see a doctor or physiotherapist. Short sessions with breaks; keep the "
    "anchored fingers loose."
)
EARS_CAUTION = "A banjo or a saz indoors and headphones are loud: keep the level moderate."


@dataclass(frozen=True, slots=True)
class Retuning:
    """One string's way from the pitch it has to another.

    `tension_percent` is the change; `tension_n` and `before_n` in newtons, None where the gauge is not known.
    """

    string: int
    semitones: int
    pitch: Pitch
    tension_percent: float
    stress_pa: float
    steel: bool
    tension_n: float | None = None
    before_n: float | None = None

    @property
    def breaking(self) -> bool:
        """Does a raise end close to where the wire breaks?"""
        return self.semitones > 0 and self.steel and self.stress_pa > BREAKING_SHARE * STEEL_STRENGTH_PA

    @property
    def strained(self) -> bool:
        """Does a raise end beyond what its wire should bear, or further up than strings are made for?"""
        if self.semitones <= 0:
            return False
        return self.semitones > MOST_SEMITONES or (self.steel and self.stress_pa > SAFE_SHARE * STEEL_STRENGTH_PA)


def retunings(setup: Setup) -> tuple[Retuning, ...]:
    """The strings that are not at the pitch they were made for: the first tuning of the instrument.

    A hook or capo shortens a string and leaves its tension alone.
    """
    return retuned(setup, setup.instrument.tunings[0])


def retuned(setup: Setup, current: Tuning) -> tuple[Retuning, ...]:
    """The strings that leave the pitch they have in a tuning, with what that does to their tension."""
    instrument = setup.instrument
    pitches = list(setup.tuning.pitches)
    if setup.fifth and setup.hook_fret is None:
        pitches[instrument.short_strings[0][0] - 1] = setup.fifth
    return tuple(
        _retuning(instrument, number, old, new)
        for number, (old, new) in enumerate(zip(current.pitches, pitches, strict=True), start=1)
        if old.midi != new.midi
    )


def _retuning(instrument: Instrument, number: int, old: Pitch, new: Pitch) -> Retuning:
    length = instrument.speaking_mm(number)
    before, after = hertz_of(old.cents), hertz_of(new.cents)
    gauge = instrument.gauges[number - 1] if instrument.gauges else None
    return Retuning(
        number,
        new.midi - old.midi,
        new,
        100 * ((after / before) ** 2 - 1),
        stress_pa(length, after),
        gauge.steel if gauge else True,
        tension_n(gauge, length, after) if gauge else None,
        tension_n(gauge, length, before) if gauge else None,
    )


def caution_of(change: Retuning, capo: bool = True) -> str:
    """What to say of a string that is tuned up, or so far down that it is slack; "" for any other.

    A capo is advised only where the instrument takes one.
    """
    if change.semitones < -SLACK_SEMITONES:
        return (
            f"String {change.string} sounds {-change.semitones} semitones lower: that takes another, thicker string; "
            "a peg alone leaves it slack."
        )
    if change.semitones <= 0:
        return ""
    plural = "s" * (change.semitones > 1)
    instead = "a capo or tuning down is" if capo else "tuning down is"
    text = (
        f"String {change.string} goes up {change.semitones} semitone{plural}: {change.tension_percent:.0f} % more "
        f"tension. Bring it up slowly, face away, eyes protected; {instead} easier on the neck."
    )
    if change.breaking:
        return f"{text} It is likely to break: do not tune this string up; fit a lighter one or ask a luthier first."
    return f"{text} Use a lighter string or ask a luthier first." if change.strained else text


def cautions(setup: Setup) -> tuple[str, ...]:
    """Sentences to show beside a setup; empty when nothing is tuned up.

    Strings of an instrument that is tuned to whatever pitch suits are chosen for that pitch.
    """
    instrument = setup.instrument
    if instrument.relative:
        up = setup.tuning.moved
        said = (
            f"Every string goes up {up} semitones: use lighter strings or ask a luthier first; tuning down is easier."
        )
        return (said,) if up > MOST_SEMITONES else ()
    said_of = (caution_of(change, capo=bool(instrument.highest_capo)) for change in retunings(setup))
    return tuple(filter(None, said_of))
