"""The setup: an instrument in a tuning with its capo and its drone string, ready to be played.

Frets are counted as on tablature, from the capo: fret 0 is the open string, whatever the capo.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from typing import NamedTuple

from nailhead.core.errors import SetupError
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.tunings import Tuning
from nailhead.core.music.key import Key, spell
from nailhead.core.music.pitch import COMMA_CENTS, Pitch

#: What it takes to move the drone string by so many semitones, cheapest first (common practice):
#: as it is; a hook at fret 7, 9 or 10; a tuning peg a little up or down.
DRONE_MOVES: dict[int, int] = {0: 0, 2: 2, 4: 2, 5: 2, -1: 3, 1: 3, -2: 4, 3: 5}
HOOKS = (2, 4, 5)


class Place(NamedTuple):
    """A string and a fret on it."""

    string: int
    fret: int


@dataclass(frozen=True, slots=True)
class SoundingString:
    """One string as set up. `open_cents` with the capo on; `first_fret` and `last_fret` in tab numbers."""

    number: int
    open_cents: Fraction
    first_fret: int
    last_fret: int
    drone: bool


@dataclass(frozen=True)
class Setup:
    """Instrument, tuning, capo and the pitch of the drone string (None where there is none)."""

    instrument: Instrument
    tuning: Tuning
    capo: int = 0
    fifth: Pitch | None = None

    def __post_init__(self) -> None:
        if self.capo not in self.instrument.capos:
            raise SetupError(
                f"A capo at fret {self.capo} is out of reach.",
                field="capo",
                remedy=f"Use {_listed(self.instrument.capos)}.",
            )
        if self.fifth is None and self.instrument.short_strings:
            raise SetupError("The fifth string has no pitch.", field="fifth", remedy="Give it one: G4.")
        if self.fifth is not None and not self.instrument.short_strings:
            raise SetupError(
                f"The {self.instrument.name.lower()} has no fifth string.", field="fifth", remedy="Leave it out."
            )
        if self.fifth is not None and self.drone_move not in range(-2, 6):
            base = self.tuning.pitches[self._short - 1]
            raise SetupError(
                f"The fifth string cannot be {self.fifth}: it is made for {base}.",
                field="fifth",
                remedy="Keep it within two semitones below and five above.",
            )

    @property
    def _short(self) -> int:
        return self.instrument.short_strings[0][0]

    @cached_property
    def drone_move(self) -> int:
        """Semitones the drone string is moved from its own pitch."""
        return self.fifth.midi - self.tuning.pitches[self._short - 1].midi if self.fifth else 0

    @property
    def hook_fret(self) -> int | None:
        """Fret of the hook or sliding capo that raises the drone string; None when a peg does it or nothing."""
        first = self.instrument.short_strings[0][1] if self.instrument.short_strings else 0
        return first + self.drone_move if self.drone_move in HOOKS else None

    @cached_property
    def strings(self) -> tuple[SoundingString, ...]:
        """Strings 1 to n as they sound."""
        return tuple(self._string(number) for number in range(1, self.instrument.strings + 1))

    def _string(self, number: int) -> SoundingString:
        last = self.instrument.frets - self.capo
        drone = number in self.instrument.drone_strings
        start = self.instrument.first_fret(number)
        if start and self.fifth is not None:
            first = (self.hook_fret or start) - self.capo
            return SoundingString(number, self.fifth.cents, first, last, drone)
        raised = self.instrument.fret_cents[self.capo]
        return SoundingString(number, self.cents_of(self.tuning.pitches[number - 1]) + raised, 0, last, drone)

    def cents_of(self, pitch: Pitch) -> Fraction:
        """How high a written note sounds on this instrument."""
        return self.instrument.cents_of(pitch)

    def fret_name(self, fret: int) -> str:
        """What tablature writes for a fret, counted from the capo; a half fret keeps its half."""
        if not self.capo or not self.instrument.fret_names:
            return self.instrument.fret_name(fret)
        names = self.instrument.fret_names[self.capo + 1 : self.capo + fret + 1]
        whole = sum("½" not in name for name in names)
        return f"{whole}½" if names and "½" in names[-1] else str(whole)

    def frets_apart(self, one: int, other: int) -> int:
        """How many frets a finger goes from one to another; a half fret (6½) on the way is none."""
        low, high = sorted((one, other))
        whole = sum("½" not in self.fret_name(fret) for fret in range(low + 1, high + 1))
        return max(whole, int(low != high))

    def frets_below(self, fret: int, count: int) -> int:
        """The fret so many below, half frets not counted; 0 where the neck ends before."""
        if not self.instrument.fret_names:
            return max(0, fret - count)
        whole = [at for at in range(1, fret) if "½" not in self.fret_name(at)]
        return whole[-count] if len(whole) >= count else 0

    def string(self, number: int) -> SoundingString:
        return self.strings[number - 1]

    def sounding_cents(self, place: Place) -> Fraction:
        """What a place sounds, in cents. A short string fretted at n > its first fret sounds n - first higher."""
        if place not in self._sounds:
            self._sounds[place] = self._sounding(self.string(place.string), place.fret)
        return self._sounds[place]

    @cached_property
    def _sounds(self) -> dict[Place, Fraction]:
        """What `sounding_cents` has been asked for."""
        return {}

    def _sounding(self, string: SoundingString, fret: int) -> Fraction:
        if fret in (0, string.first_fret):
            return string.open_cents
        frets = self.instrument.fret_cents
        return string.open_cents + frets[fret + self.capo] - frets[string.first_fret + self.capo]

    @cached_property
    def _places(self) -> dict[Fraction, tuple[Place, ...]]:
        found: dict[Fraction, list[Place]] = {}
        for string in self.strings:
            if string.drone:
                continue
            for fret in range(string.last_fret + 1):
                place = Place(string.number, fret)
                found.setdefault(self.sounding_cents(place), []).append(place)
        return {cents: tuple(places) for cents, places in found.items()}

    def places(self, cents: Fraction) -> tuple[Place, ...]:
        """Every place a melody note of that pitch can be played, string 1 first.

        Where only some courses are fingered, none is stopped elsewhere while they have a fret a comma off (common
        practice).
        """
        exact = self._places.get(cents, ())
        fingered = self.instrument.fingered
        if not fingered or any(place.string in fingered for place in exact):
            return exact
        near = (self._places.get(cents + off, ()) for off in (-COMMA_CENTS, COMMA_CENTS))
        stopped = tuple(place for places in near for place in places if place.string in fingered and place.fret)
        return (*stopped, *(place for place in exact if not place.fret)) or exact

    def commas_off(self, place: Place, pitch: Pitch) -> Fraction:
        """How many commas a place sounds above a note that is played there; 0 where it is in tune."""
        return (self.sounding_cents(place) - self.cents_of(pitch)) / COMMA_CENTS

    def holds(self, place: Place, pitch: Pitch) -> bool:
        """Is it a place where that note is played?"""
        cents = self.cents_of(pitch)
        return self.sounding_cents(place) == cents or place in self.places(cents)

    @property
    def reachable(self) -> tuple[Fraction, ...]:
        """Every pitch that the melody strings have, in cents."""
        return tuple(self._places)

    @cached_property
    def _fret_mm(self) -> tuple[float, ...]:
        return tuple(self.instrument.fret_mm(fret) for fret in range(self.capo, self.instrument.frets + 1))

    def distance_mm(self, low: int, high: int) -> float:
        """Between two frets in tab numbers, along the neck."""
        return self._fret_mm[high] - self._fret_mm[low]

    @property
    def raised(self) -> int:
        """Semitones that shapes sound above their names: the capo, and how far the whole instrument is moved."""
        return self.instrument.capo_semitones(self.capo) + self.tuning.moved

    @property
    def label(self) -> str:
        """One line for a sheet: tuning, capo, fifth string."""
        parts = [self.tuning.label]
        if self.instrument.highest_capo:
            parts.append(f"capo {self.capo}" if self.capo else "no capo")
        if self.fifth:
            how = f", hook at fret {self.hook_fret}" if self.hook_fret else ""
            parts.append(f"fifth string {self.fifth.pitch_class}{how}")
        return ", ".join(parts)


def _listed(capos: tuple[int, ...]) -> str:
    """ "0 to 7"; "0, 1, 3 or 4" where some are left out."""
    if capos == tuple(range(len(capos))):
        return f"0 to {capos[-1]}"
    return f"{', '.join(map(str, capos[:-1]))} or {capos[-1]}"


def plain_setup(instrument: Instrument, tuning: Tuning, capo: int = 0, fifth: Pitch | None = None) -> Setup:
    """A setup for no tune in particular: the short string at the pitch it has in the tuning, or where it is wanted."""
    short = instrument.short_strings
    return Setup(instrument, tuning, capo, fifth or (tuning.pitches[short[0][0] - 1] if short else None))


def default_drone(tuning: Tuning, instrument: Instrument, key: Key, capo: int = 0) -> Pitch | None:
    """The drone string's pitch for a sounding key: tonic or fifth (handbook §2). It follows the capo where that is one
    of them, else it makes the smallest move.

    A tuning that is known for another note on it, as f♯DF♯AD for its third, keeps that note in its own mode.
    """
    if not instrument.short_strings:
        return None
    base = tuning.pitches[instrument.short_strings[0][0] - 1]
    tonic = key.tonic.semitone
    homes = () if key.minor_third else tuning.homes_major
    meant = {(base.midi - home.semitone) % 12 for home, mode in homes if not mode}
    fitting = [move for move in DRONE_MOVES if (base.midi + move - tonic) % 12 in {0, 7} | meant]
    move = capo if capo in fitting else min(fitting, key=lambda move: (DRONE_MOVES[move], move))
    return spell(Fraction(100 * (base.midi + move)), key)
