"""What a choice between schools changes in a way of playing, and the choices that every way has."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

from nailhead.core.arrange.rows.frames import ENDINGS, KICK_OFFS, FrameRow
from nailhead.core.arrange.rows.hands import Choice, Idiom, RightHand
from nailhead.core.arrange.rows.patterns import Voice
from nailhead.core.arrange.values import Way
from nailhead.core.music.layers import Layer


def as_written(idiom: Idiom) -> Idiom:
    """The way of a choice that changes nothing."""
    return idiom


def by_hand(change: Callable[[RightHand], RightHand]) -> Callable[[Idiom], Idiom]:
    """The way of a choice that changes the right hand alone."""
    return lambda idiom: replace(idiom, right=change(idiom.right))


_TURNED = {Way.DOWN: Way.UP, Way.UP: Way.DOWN}


def turned(right: RightHand) -> RightHand:
    """The same hand going up where it went down, and down where it went up."""

    def other(voice: Voice) -> Voice:
        instead = other(voice.instead) if voice.instead else None
        return replace(voice, way=_TURNED.get(voice.way, voice.way), instead=instead)

    single, (one, two, three) = right.single, right.single.triplet or (Way.UP, Way.DOWN, Way.UP)
    return replace(
        right,
        alphabet={sign: tuple(map(other, voices)) for sign, voices in right.alphabet.items()},
        single=replace(single, inward=not single.inward, triplet=(_TURNED[one], _TURNED[two], _TURNED[three])),
        ways={finger: _TURNED.get(way, way) for finger, way in right.ways.items()},
    )


def by_left(**changed: Any) -> Callable[[Idiom], Idiom]:
    """The way of a choice that changes the left hand alone."""
    return lambda idiom: replace(idiom, left=replace(idiom.left, **changed))


def by_single(**changed: Any) -> Callable[[Idiom], Idiom]:
    """The way of a choice that changes how single notes are struck."""
    return by_hand(lambda right: replace(right, single=replace(right.single, **changed)))


def by_rows(texts: Mapping[str, str]) -> Callable[[Idiom], Idiom]:
    """The way of a choice that writes some rows otherwise, by their names."""
    return by_hand(
        lambda right: replace(right, rows=tuple(replace(row, text=texts.get(row.name, row.text)) for row in right.rows))
    )


#: How a pick plays a triplet that leads into the first bar, so that the bar starts down (handbook §4 and §10).
UP_DOWN_UP, DOWN_UP_DOWN = (Way.UP, Way.DOWN, Way.UP), (Way.DOWN, Way.UP, Way.DOWN)
TRIPLET = Choice(
    "triplet", "Triplet pickup", {"up down up": as_written, "down up down": by_single(triplet=DOWN_UP_DOWN)}
)


def _beginning_with(layer: Layer) -> Callable[[Idiom], Idiom]:
    return lambda idiom: idiom.beginning_with(layer)


#: How much of the melody the first rung plays, on every instrument.
FIRST_RUNG = Choice(
    "melody",
    "Rung 1 plays",
    {
        "as usual": as_written,
        **{layer.words: _beginning_with(layer) for layer in Layer},
    },
)


def _led_in(row: FrameRow) -> Callable[[Idiom], Idiom]:
    return lambda idiom: replace(idiom, kick_off=row.name)


def _closed(row: FrameRow) -> Callable[[Idiom], Idiom]:
    return lambda idiom: replace(idiom, ending=row.name)


#: What a solo is led in by and closed with.
FRAMES = (
    Choice("kick_off", "Kick-off", {row.name: _led_in(row) for row in KICK_OFFS}),
    Choice("ending", "Ending", {row.name: _closed(row) for row in ENDINGS}),
)
