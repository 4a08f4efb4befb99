"""Sound files: WAV and FLAC out, whatever libsndfile reads (WAV, FLAC, Ogg …) in."""

from __future__ import annotations

import io

import numpy as np
import soundfile

from nailhead.core.errors import NailheadError
from nailhead.core.sound.pluck import Samples

#: So much of a recording is read; a string is measured in a second.
MOST_SECONDS = 20
_MOST_CHANNELS = 8
#: Samples that are written at a time: a long sound needs no second copy of itself.
_AT_ONCE = 1_000_000
_RATES = (8_000, 192_000)


class SoundFileError(NailheadError):
    """A file that holds no sound that can be read."""


def write_wav(sound: Samples, rate: int) -> bytes:
    """Mono samples between -1 and 1 as a WAV file of 16 bits."""
    return _written(sound, rate, "WAV")


def write_flac(sound: Samples, rate: int) -> bytes:
    """The same without loss in half the room (RFC 9639); every browser reads it."""
    return _written(sound, rate, "FLAC")


def _written(sound: Samples, rate: int, kind: str) -> bytes:
    held = io.BytesIO()
    with soundfile.SoundFile(held, "w", rate, 1, "PCM_16", format=kind) as file:
        for start in range(0, len(sound), _AT_ONCE):
            file.write(np.clip(sound[start : start + _AT_ONCE], -1, 1))
    return held.getvalue()


def read_sound(data: bytes) -> tuple[Samples, int]:
    """The first MOST_SECONDS of a recording, its channels mixed to one, and its samples a second.

    Raises SoundFileError for what is no sound, or one that no microphone makes.
    """
    try:
        with soundfile.SoundFile(io.BytesIO(data)) as file:
            if file.channels > _MOST_CHANNELS or not _RATES[0] <= file.samplerate <= _RATES[1]:
                raise SoundFileError(
                    f"It has {file.channels} channels at {file.samplerate} samples a second.",
                    field="file",
                    remedy="Record one or two channels at 44100.",
                )
            sound = file.read(MOST_SECONDS * file.samplerate, dtype="float64", always_2d=True)
            rate = int(file.samplerate)
    except (soundfile.LibsndfileError, ValueError, TypeError) as error:
        raise SoundFileError(
            "That is not a sound file that can be read.", field="file", remedy="Give a WAV file (FLAC and Ogg will do)."
        ) from error
    mono: Samples = sound.mean(axis=1)
    return mono, rate
