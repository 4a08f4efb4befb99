"""When each note of a tune sounds, and how high: for playing it, not for writing it."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.music.form import read_form
from nailhead.core.music.pitch import hertz_of
from nailhead.core.music.tune import Tempo, Tune

#: Where a tune says nothing: a walking pace.
USUAL_TEMPO = Tempo(Fraction(1, 4), 100)


@dataclass(frozen=True, slots=True)
class Sound:
    """A note as heard: seconds from the start, length in seconds, pitch in Hz, and its written place."""

    at_s: float
    length_s: float
    hertz: float
    bar: int
    event: int


def sounds_of(tune: Tune, as_played: bool = True) -> tuple[Sound, ...]:
    """Every note in time, ties joined, with repeats and the order of the parts or each written bar once."""
    tempo = tune.tempo or USUAL_TEMPO
    seconds_a_whole = 60 / float(tempo.bpm * tempo.beat)
    order = read_form(tune).played if as_played else range(len(tune.bars))
    found: list[Sound] = []
    start, tie = Fraction(0), None
    for index in order:
        for place, event in enumerate(tune.bars[index].events):
            at, length = float(start + event.onset) * seconds_a_whole, float(event.duration) * seconds_a_whole
            if event.pitch and event.pitch == tie:
                last = found[-1]
                found[-1] = Sound(last.at_s, last.length_s + length, last.hertz, last.bar, last.event)
            elif event.pitch:
                found.append(Sound(at, length, hertz_of(event.pitch.cents), index, place))
            tie = event.pitch if event.tied else None
        start += tune.bars[index].length
    return tuple(found)
