"""One short sound for each place on a neck and for everything that keeps company, known by its name.

A player that schedules by itself fetches each once: "banjo-5900.00" is a banjo's string at so many cents above C-1, the
others are named in STRUCK.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from fractions import Fraction

import numpy as np

from nailhead.core.errors import NailheadError
from nailhead.core.music.pitch import hertz_of
from nailhead.core.sound.pluck import PEAK, Samples, pluck, timbre_of
from nailhead.core.sound.soundings import RING

#: Samples a second: half of what is rendered, so that a page to take home stays small.
VOICE_RATE = 22_050
#: Changes when a sound changes, so that none is kept too long.
EDITION = "1"
#: What is softer than this share of the loudest is silence (60 dB below it).
SILENCE = 0.001
#: The instrument whose sound bass, chords and drone have.
COMPANY = "guitar"
_STRING = re.compile(r"((?=[a-z-]{1,40}-)[a-z]+(?:-[a-z]+)*)-(\d{1,5}\.\d\d)")


class VoiceError(NailheadError):
    """A sound that nothing here makes."""


def string_voice(kind: str, cents: Fraction) -> str:
    """The name of a string's sound; a hundredth of a cent is told apart."""
    return f"{kind}-{float(cents):.2f}"


def voice(name: str) -> Samples:
    """The sound of a name: mono at VOICE_RATE between -PEAK and PEAK. Raises VoiceError."""
    if name in STRUCK:
        return STRUCK[name]()
    found = _STRING.fullmatch(name)
    if found is None:
        raise VoiceError(f"There is no sound “{name[:40]}”.", field="name", remedy="Load the practice room again.")
    kind, cents = found.groups()
    return _without_silence(pluck(hertz_of(Fraction(cents)), RING, timbre_of(kind), VOICE_RATE))


def _without_silence(sound: Samples) -> Samples:
    heard = np.flatnonzero(np.abs(sound) > SILENCE * PEAK)
    return sound[: heard[-1] + 1] if len(heard) else sound[:1]


def tick(hertz: float, rate: int = VOICE_RATE) -> Samples:
    """A wooden tick: a short, high, dying tone."""
    time = np.arange(round(0.05 * rate)) / rate
    ticked: Samples = PEAK * np.sin(2 * np.pi * hertz * time) * np.exp(-90 * time)
    return ticked


def _drum() -> Samples:
    """The middle of a frame drum: a low tone that falls a little and dies soon (by ear, ours)."""
    time = np.arange(round(0.35 * VOICE_RATE)) / VOICE_RATE
    phase = 2 * np.pi * (70 * time + 40 * (1 - np.exp(-30 * time)) / 30)
    drum: Samples = PEAK * np.sin(phase) * np.exp(-11 * time)
    return drum


def _rim() -> Samples:
    """Its rim: a short noise with a high ring in it (by ear, ours)."""
    time = np.arange(round(0.09 * VOICE_RATE)) / VOICE_RATE
    noise = np.random.Generator(np.random.PCG64(7)).uniform(-1, 1, len(time))
    rim: Samples = PEAK * (0.5 * noise + 0.5 * np.sin(2 * np.pi * 820 * time)) * np.exp(-60 * time)
    return rim


#: Every sound that is no string.
STRUCK: Mapping[str, Callable[[], Samples]] = {
    "count-first": lambda: tick(2000),
    "count": lambda: tick(1500),
    "drum": _drum,
    "rim": _rim,
}
