"""The pitch of a sound: YIN, refined over many periods.

A. de Cheveigné, H. Kawahara, "YIN, a fundamental frequency estimator for speech and music", Journal of the Acoustical
Society of America 111(4), 2002: the difference function, its cumulative mean, the first dip below a threshold. The
period is then sharpened on the dips near its multiples, where the same error in samples is a smaller one in cents.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nailhead.core.errors import NailheadError
from nailhead.core.sound.pluck import Samples

#: Pitches that are looked for, in Hz: below a guitar's low string let down, above a mandolin's first at the octave.
LOWEST_HZ, HIGHEST_HZ = 45.0, 1800.0
#: A dip this deep is a period (the paper's absolute threshold), and one this shallow is noise.
_DIP, _NOISE = 0.15, 0.45
#: Samples a second below which a string is not measured.
_SLOWEST_RATE = 8000
#: Seconds of a frame, and how many are looked at.
_FRAME_S, _FRAMES = 0.2, 6
_MOST_PERIODS = 8
_AGREE_CENTS = 40
#: Quieter than this against full scale is silence.
_SILENCE = 1e-4
_SHORTEST_S = 0.1


class SoundError(NailheadError):
    """A sound in which no pitch can be heard."""


@dataclass(frozen=True, slots=True)
class Heard:
    """A pitch in Hz, and how far the frames of the sound agree about it, in cents (half their spread)."""

    hertz: float
    spread_cents: float


def listen(sound: Samples, rate: int) -> Heard:
    """The pitch of a plucked string in a mono sound of `rate` samples a second; raises SoundError where there is none.

    The loudest stretch counts, from shortly after its attack.
    """
    if rate < _SLOWEST_RATE:
        raise SoundError(
            f"{rate} samples a second are too few.", field="file", remedy=f"Record at {_SLOWEST_RATE} or more."
        )
    if len(sound) < _SHORTEST_S * rate:
        raise SoundError("The sound is too short.", field="file", remedy="Let the string ring for half a second.")
    sound = sound - np.mean(sound)
    if not np.all(np.isfinite(sound)) or np.max(np.abs(sound)) < _SILENCE:
        raise SoundError("Nothing is heard.", field="file", remedy="Play louder, or nearer to the microphone.")
    found = [hertz for frame in _frames(sound, rate) if (hertz := _pitch(frame, rate))]
    if not found:
        raise SoundError(
            "No pitch is heard in it.", field="file", remedy="Pluck one string alone and let it ring, with less noise."
        )
    # Frames may differ by an octave, and the last ones are faint: the pitch that most agree on, early ones first.
    cents = 1200 * np.log2(np.array(found))
    agreeing = [cents[np.abs(cents - one) < _AGREE_CENTS] for one in cents]
    near = max(agreeing, key=len)
    return Heard(2 ** float(np.mean(near) / 1200), float(np.ptp(near) / 2))


def _frames(sound: Samples, rate: int) -> list[Samples]:
    """A few frames from just after the loudest moment on; the attack itself is noise."""
    size = min(len(sound), round(_FRAME_S * rate))
    block = max(1, rate // 50)
    energy = np.add.reduceat(sound**2, np.arange(0, len(sound), block))
    start = min(int(np.argmax(energy)) * block + rate // 25, max(0, len(sound) - size))
    starts = range(start, len(sound) - size + 1, max(1, size // 2))
    return [sound[at : at + size] for at in list(starts)[:_FRAMES]] or [sound[-size:]]


def _pitch(frame: Samples, rate: int) -> float | None:
    """The pitch of one frame in Hz; None for noise."""
    half = len(frame) // 2
    difference = _difference(frame, half)
    lags = np.arange(1, half)
    mean = np.concatenate(([1.0], difference[1:] * lags / np.maximum(np.cumsum(difference[1:]), 1e-30)))
    low, high = max(2, int(rate / HIGHEST_HZ)), min(half - 2, int(rate / LOWEST_HZ))
    if high <= low:
        return None
    lag = _first_dip(mean, low, high)
    if lag is None:
        return None
    period = _bottom(difference, lag)
    for times in range(2, _MOST_PERIODS + 1):
        near = round(period * times)
        if near + 2 >= half:
            break
        at = near - 1 + int(np.argmin(difference[near - 1 : near + 2]))
        if not 2 <= at < half - 2:
            break
        period = _bottom(difference, at) / times
    return float(rate / period)


def _difference(frame: Samples, half: int) -> Samples:
    """d(lag) = sum over `half` samples of (x[t] - x[t + lag])^2, by the Fourier transform."""
    size = 1 << (len(frame) + half).bit_length()
    spectrum = np.fft.rfft(frame, size) * np.conj(np.fft.rfft(frame[:half], size))
    correlation = np.fft.irfft(spectrum, size)[:half]
    power = np.concatenate(([0.0], np.cumsum(frame**2)))
    energies: Samples = power[half : 2 * half] - power[:half]
    difference: Samples = np.maximum(energies[0] + energies - 2 * correlation, 0.0)
    return difference


def _first_dip(mean: Samples, low: int, high: int) -> int | None:
    below = np.flatnonzero(mean[low:high] < _DIP)
    if len(below):
        lag = low + int(below[0])
        while lag + 1 < high and mean[lag + 1] < mean[lag]:
            lag += 1
        return lag
    lag = low + int(np.argmin(mean[low:high]))
    return lag if mean[lag] < _NOISE else None


def _bottom(difference: Samples, lag: int) -> float:
    """The bottom of the parabola through three points."""
    left, middle, right = difference[lag - 1 : lag + 2]
    bend = left - 2 * middle + right
    return float(lag + 0.5 * (left - right) / bend) if bend > 0 else float(lag)
