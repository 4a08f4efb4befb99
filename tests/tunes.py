"""Random tunes for property tests: whole bars in the metres of the banjo ladder, with ties, rests and triplets."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import strategies as st

from nailhead.core.music.chord import parse_chord
from nailhead.core.music.key import parse_key
from nailhead.core.music.metre import Metre, parse_metre
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, ChordAt, Event, Tune, Tuplet, number_bars

METRES = ("4/4", "C|", "2/4", "3/4", "6/8", "9/8", "2+2+2+3/8", "5/8")
KEYS = ("G", "D", "Am", "Ador", "Amix", "C", "Bb", "F#m")
CHORDS = ("G", "C", "D7", "Em", "Am", "F", "A7", "Bb", "F#m7", "D/F#")

pitches = st.builds(Pitch, st.sampled_from("CDEFGAB"), st.integers(-1, 1), st.sampled_from([4, 5]))
_TRIPLET = Tuplet(3, 2, 3)


@st.composite
def bars(draw: st.DrawFn, metre: Metre, length: Fraction) -> Bar:
    """Events that fill `length` exactly."""
    events: list[Event] = []
    at = Fraction(0)
    while at < length:
        left = length - at
        if left >= Fraction(1, 4) and draw(st.integers(0, 9)) == 0:
            for _ in range(3):
                events.append(Event(at, Fraction(1, 12), draw(pitches), tuplet=_TRIPLET))
                at += Fraction(1, 12)
            continue
        choices = [size for size in map(Fraction, ("1", "3/4", "1/2", "3/8", "1/4", "1/8", "1/16")) if size <= left]
        duration = draw(st.sampled_from(choices)) if choices else left
        pitch = draw(pitches) if draw(st.integers(0, 7)) else None
        events.append(Event(at, duration, pitch, tied=bool(pitch) and draw(st.integers(0, 6)) == 0))
        at += duration
    chords = []
    if draw(st.booleans()):
        onset = draw(st.sampled_from([event.onset for event in events]))
        chords = [ChordAt(onset, parse_chord(draw(st.sampled_from(CHORDS))))]
    return Bar(0, metre, parse_key("G"), tuple(events), tuple(chords))


@st.composite
def tunes(draw: st.DrawFn) -> Tune:
    """One to six bars, perhaps a pickup, perhaps equal bars, with a repeat now and then."""
    metre = parse_metre(draw(st.sampled_from(METRES)))
    key = parse_key(draw(st.sampled_from(KEYS)))
    found = [draw(bars(metre, metre.length)) for _ in range(draw(st.integers(1, 5)))]
    if draw(st.booleans()):
        found.append(draw(st.sampled_from(found)))
    if draw(st.booleans()):
        found.insert(0, draw(bars(metre, Fraction(1, metre.unit))))
    found = [_in_key(bar, key) for bar in found]
    if draw(st.booleans()):
        found[0] = _with(found[0], opens_repeat=True)
        found[-1] = _with(found[-1], closes_repeat=2, barline="double")
    found = _ties_meant(found)
    first = found[0].events[0]
    if not any(event.pitch for bar in found for event in bar.events):
        found[0] = _with(found[0], events=(_note(first), *found[0].events[1:]))
    return Tune("Made up", key, metre, number_bars(found))


def _with(bar: Bar, **changes: object) -> Bar:
    from dataclasses import replace

    return replace(bar, **changes)  # type: ignore[arg-type]


def _in_key(bar: Bar, key: object) -> Bar:
    return _with(bar, key=key)


def _note(event: Event) -> Event:
    return Event(event.onset, event.duration, Pitch("G", 0, 4), tuplet=event.tuplet)


def _ties_meant(found: list[Bar]) -> list[Bar]:
    """A tie leads to the same pitch: otherwise it is taken away."""
    flat = [event for bar in found for event in bar.events]
    following = [*flat[1:], None]
    kept = iter(
        event if not event.tied or (after and after.pitch == event.pitch) else _untied(event)
        for event, after in zip(flat, following, strict=True)
    )
    return [_with(bar, events=tuple(next(kept) for _ in bar.events)) for bar in found]


def _untied(event: Event) -> Event:
    return Event(event.onset, event.duration, event.pitch, False, event.tuplet)
