"""What hands that pluck have in common: a thumb below, three fingers above, each with its string (common practice)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from nailhead.core.arrange.rows.choices import as_written, by_hand
from nailhead.core.arrange.rows.costs import COSTS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import (
    Adds,
    Catch,
    Choice,
    Doubling,
    Follows,
    Reach,
    RightHand,
    Row,
    Rung,
    SingleNotes,
)
from nailhead.core.arrange.rows.patterns import Alphabet, Voice, Want, Where
from nailhead.core.arrange.rows.plectrum import CHORD, SOFT, picked_rungs
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Way
from nailhead.core.music.layers import Layer

THUMB, INDEX, MIDDLE, RING = Finger.THUMB, Finger.INDEX, Finger.MIDDLE, Finger.RING
FINGERS = (THUMB, INDEX, MIDDLE, RING)
#: So many strings plucked at once are a chord, behind which any finger may come again.
CHORD_OF = 3
#: What the ring finger leaves to its neighbours: a string nearer for each, in a line and in a chord.
_NEARER: dict[Finger, Reach] = {INDEX: {3: 0, 2: 0}, MIDDLE: {2: 0, 1: 0}}

#: The melody note by whichever finger is free, where one begins; and where one must.
JOINED = Voice(None, Way.PLUCK, Want.JOIN)
MELODY = Voice(None, Way.PLUCK, Want.JOIN, must=True)
SLURRED = Voice(None, Way.LEFT, Want.SLUR, must=True)


def plucked(finger: Finger, *strings: int, must: bool = False) -> Voice:
    """A tone of the chord under a finger."""
    where = Where.LISTED
    return Voice(
        finger, Way.PLUCK, Want.FILL, where, strings, must=must, called="chord tone", loudness=CHORD, chordal=True
    )


def filler(finger: Finger | None, *strings: int, chordal: bool = False) -> tuple[Voice, ...]:
    """The melody note that begins there, else one soft filler, on certain strings or all that the finger reaches."""
    where = Where.LISTED if strings else Where.REACH
    soft = Voice(
        finger, Way.PLUCK, Want.ANY, where, strings, must=True, called="filler", loudness=SOFT, chordal=chordal
    )
    return (soft,)


def without_ring(right: RightHand) -> RightHand:
    """The same hand with a finger fewer: what it spelt with the ring finger falls away, the others come nearer."""

    def nearer(voice: Voice) -> Voice:
        listed = voice.where is Where.LISTED and voice.want is Want.FILL
        strings = tuple(_NEARER[voice.by]) if listed and voice.by in _NEARER else voice.strings
        return replace(voice, strings=strings)

    alphabet = {
        sign: tuple(nearer(voice) for voice in voices if voice.by is not RING)
        for sign, voices in right.alphabet.items()
        if voices[0].by is not RING
    }
    gone = tuple(sign for sign in right.alphabet if sign not in alphabet)
    rows = tuple(row for row in right.rows if not any(sign in row.text for sign in gone))
    lines = {
        finger: {**reach, **_NEARER.get(finger, {})} for finger, reach in right.lines.items() if finger is not RING
    }
    chords = {finger: _NEARER.get(finger, reach) for finger, reach in right.chords.items() if finger is not RING}
    left = tuple(finger for finger in right.plain if finger is not RING)
    follows = replace(right.follows, again=dict.fromkeys(left, IMPOSSIBLE), order=left)
    return replace(right, alphabet=alphabet, rows=rows, lines=lines, chords=chords, plain=left, follows=follows)


#: With how many fingers a hand plucks (common practice).
PLUCKING_FINGERS = Choice(
    "plucking_fingers", "Plucks with", {"thumb and three": as_written, "thumb and two": by_hand(without_ring)}
)


def plucked_rungs(second: str, third: str, fifth: str, sixth: str) -> tuple[Rung, ...]:
    """The seven rungs of fingers by the names in which they differ: the slurs come before the rest of the notes do."""
    rungs = picked_rungs(second, third, fifth, sixth, {2: (Adds.SHAPES,), 6: (Adds.DOUBLES,)})
    return tuple(
        replace(rung, layer=Layer.PAIRS, catches=(Catch.SLUR,)) if Adds.SLURS in rung.adds else rung for rung in rungs
    )


def plucking(
    alphabet: Alphabet,
    rows: tuple[Row, ...],
    lines: Mapping[Finger, Reach],
    thumb: tuple[int, ...],
    chords: Reach,
    touches: tuple[str, ...] = (),
    **more: Any,
) -> RightHand:
    """A hand whose thumb has the strings `thumb`, index, middle and ring the strings 3, 2 and 1 (common practice).

    `lines` price the strings in a single line, where the others help out so that none comes twice running; `chords`
    those of the thumb in a chord.
    """
    return RightHand(
        alphabet,
        rows,
        touches=touches_named("thumb", "index", "middle", "ring", *touches),
        single=SingleNotes(dict.fromkeys((1, 2, 3), (INDEX, MIDDLE)), (THUMB,)),
        lines=lines,
        chords={THUMB: chords, INDEX: {3: 0}, MIDDLE: {2: 0}, RING: {1: 0}},
        plain=FINGERS,
        follows=Follows(
            dict.fromkeys(FINGERS, IMPOSSIBLE),
            COSTS["string twice"],
            order=FINGERS,
            apart=frozenset(),
            chord=CHORD_OF,
            running={THUMB: frozenset(thumb)},
        ),
        doubling=Doubling.FREE,
        rather_slurs=3,
        on_top=True,
        covers=IMPOSSIBLE,
        yields_place=True,
        **more,
    )
