"""Plucked strings and the pitch that is heard of them, checked by an independent Fourier transform."""

from __future__ import annotations

import io

import numpy as np
import pytest
import soundfile

from nailhead.core.errors import NailheadError, SetupError
from nailhead.core.fretboard.instruments import INSTRUMENTS
from nailhead.core.music.pitch import hertz_of
from nailhead.core.sound.listen import SoundError, listen
from nailhead.core.sound.microphone import Room, hear, record
from nailhead.core.sound.pluck import PEAK, RATE, TIMBRES, pluck, timbre_of
from nailhead.formats.wav import SoundFileError, read_sound, write_wav


def fourier_hertz(sound: np.ndarray, rate: int, near: float) -> float:  # type: ignore[type-arg]
    """The strongest partial within a semitone of `near`: a windowed transform padded to a million points, and the
    parabola through the logarithms of the highest three (J. O. Smith, "Spectral audio signal processing", 2011).
    """
    size = 1 << 20
    spectrum = np.abs(np.fft.rfft(sound * np.hanning(len(sound)), size))
    frequencies = np.fft.rfftfreq(size, 1 / rate)
    inside = np.flatnonzero((frequencies > near / 1.06) & (frequencies < near * 1.06))
    peak = inside[np.argmax(spectrum[inside])]
    left, middle, right = np.log(spectrum[peak - 1 : peak + 2])
    return float((peak + 0.5 * (left - right) / (left - 2 * middle + right)) * rate / size)


def cents(hertz: float, against: float) -> float:
    return float(1200 * np.log2(hertz / against))


STRINGS = [
    (name, float(hertz_of(row.cents_of(pitch))))
    for name, instrument in INSTRUMENTS.items()
    for row in [instrument]
    for pitch in row.tunings[0].pitches
]


@pytest.mark.parametrize(("kind", "hertz"), STRINGS)
def test_a_plucked_string_sounds_at_its_pitch(kind: str, hertz: float) -> None:
    """Every string of every instrument within 2 cents, by a transform that knows nothing of the loop."""
    sound = pluck(hertz, 1.5, timbre_of(kind))
    assert abs(cents(fourier_hertz(sound, RATE, hertz), hertz)) < 2
    assert len(sound) == round(1.5 * RATE) and np.max(np.abs(sound)) == pytest.approx(PEAK)


@pytest.mark.parametrize("midi", range(38, 90, 3))
def test_the_pitch_of_a_tone_is_measured(midi: int) -> None:
    """Within 3 cents from D2 to D6, in noise of -25 dB, and 37 cents beside the pitch."""
    hertz = hertz_of(100 * midi)
    for kind in ("banjo", "guitar", "ukulele", "saz"):
        assert abs(cents(listen(pluck(hertz, 1.2, timbre_of(kind)), RATE).hertz, hertz)) < 1
        heard = hear(hertz, -37.0, timbre_of(kind), Room(-25, seed=midi))
        assert cents(heard.hertz, hertz) == pytest.approx(-37, abs=3)


@pytest.mark.parametrize("rate", [8000, 22050, 48000, 96000])
def test_any_usual_rate_is_measured(rate: int) -> None:
    """A recording's own samples a second, from a telephone's to a studio's."""
    sound = pluck(196.0, 1.0, timbre_of("banjo"), rate)
    assert abs(cents(listen(sound, rate).hertz, 196.0)) < 2


def test_a_string_fades_and_does_not_click() -> None:
    """It begins and ends near nothing, and is softer at the end than after the start."""
    sound = pluck(146.8, 2.0, timbre_of("banjo"))
    assert abs(sound[0]) < 0.01 and abs(sound[-1]) < 0.01
    tenth = len(sound) // 10
    assert np.std(sound[-2 * tenth :]) < 0.25 * np.std(sound[:tenth])


def test_the_same_string_always_sounds_the_same() -> None:
    """H7: no chance in it; another noise of the room is another seed."""
    assert np.array_equal(pluck(220.0, 0.3), pluck(220.0, 0.3))
    rooms = [record(220.0, 0, timbre_of("guitar"), Room(-30, seed)) for seed in (1, 1, 2)]
    assert np.array_equal(rooms[0], rooms[1]) and not np.array_equal(rooms[0], rooms[2])


def test_every_kind_of_instrument_has_a_timbre() -> None:
    """Walks the table of instruments."""
    assert set(TIMBRES) == set(INSTRUMENTS)


def test_noise_and_silence_have_no_pitch() -> None:
    """Refused in words at the file, never a number."""
    noise = np.random.Generator(np.random.PCG64(3)).normal(0, 0.1, RATE)
    for sound in (noise, np.zeros(RATE), np.zeros(10), np.full(RATE, np.nan)):
        with pytest.raises(SoundError) as refused:
            listen(sound, RATE)
        assert refused.value.field == "file" and refused.value.remedy
    with pytest.raises(SoundError, match="too few"):
        listen(noise, 4000)


@pytest.mark.parametrize("hertz", [0.0, 5.0, 9000.0])
def test_tones_beyond_hearing_are_refused(hertz: float) -> None:
    """Below and above what the loop can hold."""
    with pytest.raises(SetupError):
        pluck(hertz, 1.0)


def test_pegs_and_rooms_have_their_bounds() -> None:
    """A peg beyond a fifth, noise louder than the string."""
    for wish in ({"off_cents": 900.0}, {"off_cents": float("nan")}, {"off_cents": 0.0, "room": Room(10)}):
        with pytest.raises(SetupError) as refused:
            record(220.0, timbre=timbre_of("guitar"), **wish)  # type: ignore[arg-type]
        assert refused.value.remedy


# -- sound files


@pytest.mark.parametrize("subtype", ["PCM_U8", "PCM_16", "PCM_24", "PCM_32", "FLOAT", "DOUBLE"])
def test_wav_files_of_every_depth_are_read(subtype: str) -> None:
    """Two channels become one; the pitch is that of the string."""
    tone = pluck(220.0, 1.0, timbre_of("guitar"))
    held = io.BytesIO()
    soundfile.write(held, np.column_stack([tone, tone]), RATE, format="WAV", subtype=subtype)
    sound, rate = read_sound(held.getvalue())
    assert sound.shape == tone.shape and rate == RATE
    assert abs(cents(listen(sound, rate).hertz, 220.0)) < 2


def test_our_wav_is_read_by_the_standard_library() -> None:
    """16 bits, mono, the samples we meant (Python's wave module)."""
    import wave

    tone = pluck(440.0, 0.5)
    with wave.open(io.BytesIO(write_wav(tone, RATE))) as file:
        assert (file.getnchannels(), file.getsampwidth(), file.getframerate()) == (1, 2, RATE)
        samples = np.frombuffer(file.readframes(file.getnframes()), "<i2") / 32768
    assert np.allclose(samples, tone, atol=1e-4)


@pytest.mark.parametrize("data", [b"", b"RIFF", b"no sound at all" * 40, b"RIFF\xff\xff\xff\xffWAVEfmt " + bytes(60)])
def test_what_is_no_sound_is_refused(data: bytes) -> None:
    """Damaged and foreign files: one error, at the file, with the remedy."""
    with pytest.raises(NailheadError) as refused:
        listen(*read_sound(data))
    assert refused.value.field == "file" and refused.value.remedy
    assert isinstance(refused.value, SoundFileError | SoundError)
