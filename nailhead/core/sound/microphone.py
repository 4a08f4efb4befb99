"""A microphone that is none: it hears a string some cents beside its pitch, in a room with noise.

Retuning can be rehearsed and tested with it where there is no instrument at hand.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nailhead.core.errors import SetupError
from nailhead.core.sound.listen import Heard, listen
from nailhead.core.sound.pluck import RATE, Samples, Timbre, pluck

#: How far a peg can be turned here, in cents.
MOST_CENTS = 700.0
_SECONDS = 0.9


@dataclass(frozen=True, slots=True)
class Room:
    """How loud the noise is against the string, in decibels (-60 still, -20 a kitchen), and which noise it is."""

    noise_db: float = -45.0
    seed: int = 1


def record(hertz: float, off_cents: float, timbre: Timbre, room: Room = Room()) -> Samples:
    """What the microphone takes down of a string that is `off_cents` beside `hertz`; raises SetupError beyond reach."""
    if not abs(off_cents) <= MOST_CENTS:
        raise SetupError(
            f"A string {off_cents:g} cents away is another string.",
            field="off_cents",
            remedy=f"Stay within {MOST_CENTS:g} cents.",
        )
    if not -120 <= room.noise_db <= 0:
        raise SetupError("Noise is counted from -120 to 0 dB.", field="noise_db", remedy="-45 is a quiet room.")
    sound = pluck(hertz * 2 ** (off_cents / 1200), _SECONDS, timbre)
    noise = np.random.Generator(np.random.PCG64(room.seed)).normal(0, 1, len(sound))
    loudness = float(np.sqrt(np.mean(sound**2)))
    return sound + noise * loudness * 10 ** (room.noise_db / 20)


def hear(hertz: float, off_cents: float, timbre: Timbre, room: Room = Room()) -> Heard:
    """The pitch that is measured of such a string."""
    return listen(record(hertz, off_cents, timbre, room), RATE)
