"""Finds the key and mode of a melody, and says when the written key disagrees.

The method is the correlation of Krumhansl and Schmuckler (C. L. Krumhansl, Cognitive Foundations of Musical Pitch,
1990, chapter 4): how long each pitch class sounds, correlated with the probe-tone profiles of Krumhansl and Kessler
(1982). The profiles know major and minor only. Ours are two additions, common practice for folk tunes: a mode takes
the profile of its family with the values of its altered degree exchanged, and a tune or part that ends on a note
speaks for that note as tonic.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from math import sqrt

from nailhead.core.music.key import MODES, Key
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.tune import Tune, sounding_notes

#: Krumhansl and Kessler (1982), semitones 0 to 11 above the tonic.
MAJOR_PROFILE = (6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88)
MINOR_PROFILE = (6.33, 2.68, 3.52, 5.38, 2.60, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17)

#: mode -> (family, degrees in semitones whose values are exchanged, how usual it is in folk tunes).
MODE_PROFILES: dict[str, tuple[tuple[float, ...], tuple[int, int] | None, float]] = {
    "major": (MAJOR_PROFILE, None, 0.05),
    "minor": (MINOR_PROFILE, None, 0.0),
    "dorian": (MINOR_PROFILE, (8, 9), 0.0),
    "mixolydian": (MAJOR_PROFILE, (10, 11), 0.0),
    "lydian": (MAJOR_PROFILE, (5, 6), -0.15),
    "phrygian": (MINOR_PROFILE, (1, 2), -0.15),
}
#: What the last note of the tune, and of each part, adds for the key whose tonic it is.
FINAL_NOTE = 0.30
PART_END = 0.15
#: A written key this close to the best guess is not contradicted.
DOUBT = 0.08


@dataclass(frozen=True, slots=True)
class KeyGuess:
    """A key and how well it fits: the correlation (-1 to 1) plus what its final notes add."""

    key: Key
    score: float


def profile(mode: str) -> tuple[float, ...]:
    """The twelve values of a mode from its tonic up."""
    family, exchanged, _ = MODE_PROFILES[mode]
    values = list(family)
    if exchanged:
        low, high = exchanged
        values[low], values[high] = values[high], values[low]
    return tuple(values)


def rank_keys(tune: Tune) -> tuple[KeyGuess, ...]:
    """All twelve tonics in six modes, best first; spelled as near as can be to the written key."""
    heard = _durations(tune)
    ends = _final_notes(tune)
    guesses = []
    for mode, (_, _, usual) in MODE_PROFILES.items():
        values = profile(mode)
        for semitone in range(12):
            rotated = [heard[(semitone + degree) % 12] for degree in range(12)]
            score = correlation(rotated, values) + usual
            score += sum(weight for pitch_class, weight in ends if pitch_class == semitone)
            guesses.append(KeyGuess(_spelled(semitone, mode, tune.key), score))
    # A melody that avoids the degree in which two modes differ fits both alike: the written one goes first.
    return tuple(sorted(guesses, key=lambda guess: (-round(guess.score, 9), guess.key.mode != tune.key.mode)))


def key_warning(tune: Tune) -> str:
    """Empty where the written key is among the likely ones, else a sentence that names the better one."""
    ranked = rank_keys(tune)
    best, written = ranked[0], tune.key
    same = next((guess for guess in ranked if _same(guess.key, written)), None)
    if same is None or best.score - same.score <= DOUBT or _same(best.key, written):
        return ""
    return f"The key is written as {written}, but the melody speaks for {best.key}."


def _same(key: Key, other: Key) -> bool:
    return key.tonic.semitone == other.tonic.semitone and key.mode == other.mode


def correlation(first: list[Fraction], second: tuple[float, ...]) -> float:
    """Pearson's coefficient of two rows of equal length; 0 where one of them is flat."""
    numbers = [float(value) for value in first]
    mean, other = sum(numbers) / len(numbers), sum(second) / len(second)
    above = sum((x - mean) * (y - other) for x, y in zip(numbers, second, strict=True))
    below = sqrt(sum((x - mean) ** 2 for x in numbers) * sum((y - other) ** 2 for y in second))
    return above / below if below else 0.0


def _durations(tune: Tune) -> list[Fraction]:
    heard = [Fraction(0)] * 12
    for note in sounding_notes(tune):
        heard[note.pitch.midi % 12] += note.duration
    return heard


def _final_notes(tune: Tune) -> list[tuple[int, float]]:
    """(pitch class, weight) of the last note of the tune and of each part; the parts share their weight."""
    ends = [
        next((event.pitch.midi % 12 for event in reversed(bar.events) if event.pitch), None)
        for index, bar in enumerate(tune.bars)
        if bar.ends_section or index + 1 == len(tune.bars)
    ]
    known = [end for end in ends if end is not None]
    if not known:
        return []
    return [(known[-1], FINAL_NOTE), *((end, PART_END / len(known)) for end in known)]


def _spelled(semitone: int, mode: str, near: Key) -> Key:
    offset = MODES[mode][0]
    fifths = min(
        (f for f in range(-8, 13) if (7 * f - semitone) % 12 == 0 and abs(f + offset) <= 7),
        key=lambda f: (abs(f + offset) > 6, abs(f + offset - near.fifths), abs(f + offset)),
    )
    return Key(PitchClass.from_fifths(fifths), mode)
