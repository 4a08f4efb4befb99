"""Random tunes for property tests: whole bars in the metres of the banjo ladder, with ties, rests and triplets."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import strategies as st

from nailhead.core.music.chord import parse_chord
from nailhead.core.music.key import parse_key
from nailhead.core.music.metre import Metre, parse_metre
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, ChordAt, Event, Tempo, Tune, Tuplet, number_bars

METRES = ("4/4", "C|", "C", "2/4", "3/4", "6/8", "9/8", "12/8", "2+2+2+3/8", "5/8", "7/8", "10/8")
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
    return _with_event(event, tied=False)


# -- tunes with everything that a file can hold: for the readers and writers of formats

micro_pitches = st.builds(
    Pitch, st.sampled_from("BCFG"), st.just(0), st.sampled_from([4, 5]), st.sampled_from([-3, -2, -1, 1, 2, 3])
)
_SYLLABLES = st.sampled_from(["", "la-", "lo", "_", "o'er", "sea", "for ev-", "é"])
_SIGNS = st.sampled_from([(), (), (), ("fermata",), ("trill",), ("staccato",), ("roll",), ("f",)])
_REMARKS = st.sampled_from([(), (), (), (), ("^slow",), ("_twice 100 %", "^and low")])
_HEADERS = st.lists(
    st.sampled_from([("C", "Nobody, 1 % true"), ("O", "Nowhere"), ("N", "A note"), ("Z", "by hand")]), unique=True
)


@st.composite
def rich_tunes(draw: st.DrawFn) -> Tune:
    """Whole files: verses, signs, slurs, remarks, grace notes, microtones, endings, parts, changes of key."""
    tune = draw(tunes())
    found = list(tune.bars)
    verses = draw(st.integers(0, 3))
    depth = 0
    for index, bar in enumerate(found):
        events = []
        for event in bar.events:
            changes: dict[str, object] = {"remarks": draw(_REMARKS)}
            if event.pitch:
                words = [draw(_SYLLABLES) for _ in range(verses)]
                while words and not words[-1]:
                    words.pop()
                changes |= {"words": tuple(words), "decorations": draw(_SIGNS)}
                changes["grace"] = tuple(draw(st.lists(pitches, max_size=2)))
                opens = depth < 4 and draw(st.integers(0, 9)) == 0
                closes = depth + opens > 0 and draw(st.booleans())
                depth += opens - closes
                changes["slurs"] = (int(opens), int(closes))
                if not event.tied and draw(st.integers(0, 5)) == 0:
                    changes["pitch"] = draw(micro_pitches)
            events.append(_with_event(event, **changes))
        found[index] = _with(bar, events=tuple(events), new_line=draw(st.integers(0, 3)) == 0)
    found = _ties_meant(found)
    return _with_form(draw, tune, found)


def _with_form(draw: st.DrawFn, tune: Tune, found: list[Bar]) -> Tune:
    """Parts, endings, a header, and a key with accidentals of its own."""
    from dataclasses import replace

    if draw(st.booleans()):
        found[0] = _with(found[0], part="A")
    if len(found) > 2 and draw(st.booleans()):
        found[-2] = _with(found[-2], endings=(1, 3), closes_repeat=2, barline="double")
        found[-1] = _with(found[-1], endings=(2,), closes_repeat=0, barline="final")
    key = tune.key
    if draw(st.booleans()):
        key = replace(key, extra=(("F", 0), ("B", 0)), micro=(("B", -2),))
    found = [_in_key(bar, key) for bar in found]
    if len(found) > 1 and draw(st.booleans()):
        found[1:] = [_in_key(bar, parse_key("Edor")) for bar in found[1:]]
    return Tune(
        draw(st.sampled_from(["Made up", "50 % of a <tune> & more", "Grüße"])),
        key,
        tune.metre,
        number_bars(found),
        draw(st.sampled_from([Fraction(1, 4), Fraction(1, 8), Fraction(1, 16)])),
        draw(st.integers(1, 500)),
        draw(st.sampled_from([None, Tempo(Fraction(1, 4), 100), Tempo(Fraction(3, 8), 66), Tempo(Fraction(5, 8), 50)])),
        draw(st.sampled_from(["", "AAB", "(AB)2"])),
        draw(st.sampled_from(["", "reel", "slow air"])),
        tuple(draw(_HEADERS)),
    )


def _with_event(event: Event, **changes: object) -> Event:
    from dataclasses import replace

    return replace(event, **changes)  # type: ignore[arg-type]
