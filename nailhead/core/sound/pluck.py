"""A plucked string: the loop of Karplus and Strong, tuned exactly.

K. Karplus, A. Strong, "Digital synthesis of plucked-string and drum timbres", Computer Music Journal 7(2), 1983; with
the tuning by a fractional delay and the pick's place after D. Jaffe, J. Smith, "Extensions of the Karplus-Strong
plucked-string algorithm", same issue. The fractional delay here is a Lagrange filter of third order (T. Laakso et al.,
"Splitting the unit delay", IEEE Signal Processing Magazine 13(1), 1996): it has no memory of its own, so that a whole
period is computed at once.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nailhead.core.errors import SetupError

Samples = NDArray[np.float64]

#: Samples a second.
RATE = 44_100
#: Lowest and highest tone, in Hz: the loop must hold its filters, and a string be heard.
HERTZ = (20.0, 4000.0)
#: Loudest sample of a tone; the rest is for the listener's ears.
PEAK = 0.5


@dataclass(frozen=True, slots=True)
class Timbre:
    """How a string is heard. `ring_s` is the time it takes to fade by 60 dB at A3, `dark` 0 to 0.5 how much each turn
    of the loop takes from the treble, `pick` where it is plucked, as a share of its length.
    """

    ring_s: float
    dark: float
    pick: float


#: Kind of instrument -> how it sounds (by ear, ours).
TIMBRES: dict[str, Timbre] = {
    "banjo": Timbre(1.3, 0.09, 0.13),
    "mandolin": Timbre(1.6, 0.07, 0.16),
    "dulcimer": Timbre(2.8, 0.07, 0.18),
    "ukulele": Timbre(1.4, 0.2, 0.3),
    "ukulele-baritone": Timbre(1.8, 0.2, 0.3),
    "guitar": Timbre(3.2, 0.1, 0.2),
    "saz": Timbre(2.6, 0.06, 0.14),
    "saz-short": Timbre(2.4, 0.06, 0.14),
}
_USUAL = Timbre(2.5, 0.1, 0.2)
_RING_AT_HZ = 220.0
#: One noise for every pluck, so that the same string always sounds the same.
_SEED = 53
_TOUCH = 0.15


def timbre_of(kind: str) -> Timbre:
    return TIMBRES.get(kind, _USUAL)


def pluck(hertz: float, seconds: float, timbre: Timbre = _USUAL, rate: int = RATE) -> Samples:
    """A string plucked once: `seconds` x `rate` samples between -PEAK and PEAK. Raises SetupError beyond HERTZ."""
    if not HERTZ[0] <= hertz <= HERTZ[1]:
        raise SetupError(
            f"A string at {hertz:.1f} Hz is not heard.", field="hertz", remedy=f"Give {HERTZ[0]:g} to {HERTZ[1]:g} Hz."
        )
    count = round(seconds * rate)
    whole, taps = _loop(rate / hertz, timbre)
    fade = 10 ** (-3 / (hertz * timbre.ring_s * (_RING_AT_HZ / hertz) ** 0.5))
    sound = np.zeros(whole + len(taps) + count)
    head = whole + len(taps)
    sound[len(taps) : head] = _excitation(whole, timbre)
    # Each block lies a whole delay behind, so it needs nothing of itself.
    for start in range(head, len(sound), whole):
        stop = min(start + whole, len(sound))
        past = sound[start - whole - len(taps) + 1 : stop - whole]
        sound[start:stop] = fade * np.convolve(past, taps, mode="valid")
    return _faded_in_and_out(sound[head:], rate)


def _loop(period: float, timbre: Timbre) -> tuple[int, Samples]:
    """(samples of plain delay, filter taps) that together delay by one period at the pitch."""
    loss = np.array([timbre.dark / 2, 1 - timbre.dark, timbre.dark / 2])  # delays by exactly one sample
    whole = int(period - 1 - 1)
    part = period - 1 - whole  # 1 to 2: where a Lagrange filter of third order is at its best
    order = np.arange(4)
    lagrange = np.array([np.prod([(part - k) / (n - k) for k in order if k != n]) for n in order])
    return whole, np.convolve(loss, lagrange)


def _excitation(length: int, timbre: Timbre) -> Samples:
    """The step that a pick leaves on the string, its overtones sin(pi n pick) / n, and a little noise of its touch."""
    noise = np.random.Generator(np.random.PCG64(_SEED)).uniform(-1, 1, length)
    step = np.where(np.arange(length) < max(1, round(length * timbre.pick)), 1.0, 0.0)
    step = step + _TOUCH * noise
    shape: Samples = step - step.mean()
    return shape


def _faded_in_and_out(sound: Samples, rate: int) -> Samples:
    """Without a click at either end, as loud as PEAK."""
    sound = sound - sound.mean()
    edge = min(len(sound) // 2, round(0.004 * rate))
    ramp = np.linspace(0, 1, edge, endpoint=False)
    sound[:edge] *= ramp
    sound[len(sound) - edge :] *= ramp[::-1]
    loudest = float(np.max(np.abs(sound), initial=0.0))
    level: Samples = sound * (PEAK / loudest if loudest else 0.0)
    return level
