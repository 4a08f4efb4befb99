"""The ukulele: fingers over the chord, and the thumb's strum (handbook §4; rows and worked bars are common practice).

P  the melody note that begins there with the chord's lowest tone     C  the same with the whole chord below the melody
n  the melody note that begins there, by whichever finger is free, or nothing
T I M A  thumb, index, middle, ring: the melody note that begins there, else one soft filler
*  the same by any finger
X x  the damped strings down, up
S s  a strum down, up that ends on the melody's string: the melody note that begins there, else it again
h  the left hand alone sounds the melody note there
"""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.rows.choices import FIRST_RUNG, FRAMES, as_written, by_hand
from nailhead.core.arrange.rows.costs import IMPOSSIBLE
from nailhead.core.arrange.rows.hands import Choice, Follows, Idiom, RightHand, Row, SingleNotes
from nailhead.core.arrange.rows.patterns import Alphabet, Voice, Want, Where
from nailhead.core.arrange.rows.plectrum import CHORD
from nailhead.core.arrange.rows.plucking import (
    INDEX,
    JOINED,
    MELODY,
    MIDDLE,
    PLUCKING_FINGERS,
    RING,
    SLURRED,
    THUMB,
    filler,
    plucked,
    plucked_rungs,
    plucking,
)
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Way

UKULELES = ("ukulele", "ukulele-baritone")

FINGER_ALPHABET: Alphabet = {
    "P": (MELODY, Voice(THUMB, Way.PLUCK, Want.FILL, Where.LOWEST, loudness=CHORD, called="chord tone")),
    "C": (MELODY, plucked(THUMB, 4, 3, 2), plucked(INDEX, 3), plucked(MIDDLE, 2), plucked(RING, 1)),
    "n": (JOINED,),
    "*": filler(None, 3, 2, 4, 1),
    "T": filler(THUMB),
    "I": filler(INDEX),
    "M": filler(MIDDLE),
    "A": filler(RING),
    "h": (SLURRED,),
}

FINGER_ROWS = (
    Row("pinch", "P n! | n! n!", 2, cost=-4, moving_from=2, to_rung=2),
    Row("pinched beat", "P n!", 2, cost=2, moving_from=2, to_rung=2),
    Row("jig pinch", "P n! n!", 2, cost=-3, moving_from=2, to_rung=2),
    Row("waltz pinch", "P n! | n! n! | n! n!", 2, cost=-8, moving_from=2, to_rung=2),
    Row("pluck", "C n! | n! n!", 3, cost=-16, moving_from=3, to_rung=4),
    Row("plucked beat", "C n!", 3, cost=-2, moving_from=3, to_rung=4),
    Row("jig pluck", "C n! n! | n! n! n!", 3, cost=-18, moving_from=3, to_rung=4),
    Row("jig plucked beat", "C n! n!", 3, cost=-2, moving_from=3, to_rung=4),
    Row("waltz pluck", "C n! | n! n! | n! n!", 3, cost=-20, moving_from=3, to_rung=4),
    Row("filled", "C (I3) | (M2) (T4)", 5, cost=-20),
    Row("filled inside", "C (I3) | (T4) (I3)", 5, cost=-19),
    Row("filled line", "C (*)! | (*)! (*)!", 5, cost=-16, moving_from=5),
    Row("filled on", "C (I3) | (*)! (*)!", 5, cost=-17, moving_from=5),
    Row("filled note", "C (I3)", 5, cost=-2),
    Row("filled treble", "C (M2)", 5, cost=-1),
    Row("filled pair", "C (*)!", 5, cost=1, moving_from=5),
    Row("pinched pair", "P (*)!", 5, cost=3, moving_from=5),
    Row("jig filled", "C (I3) (M2)", 5, cost=-14),
    Row("jig filled inside", "C (I3) (T4)", 5, cost=-13),
    Row("jig filled line", "C (*)! (*)!", 5, cost=-12, moving_from=5),
    Row("jig pinched line", "P (*)! (*)!", 5, cost=0, moving_from=5),
    Row("waltz filled", "C (I3) | (M2) (I3) | (M2) (I3)", 5, cost=-24),
    Row("waltz filled inside", "C (I3) | (T4) (I3) | (T4) (I3)", 5, cost=-23),
    Row("waltz filled line", "C (*)! | (*)! (*)! | (*)! (*)!", 5, cost=-20, moving_from=5),
    Row("double stops", "C (*)! | P! (*)!", 6, cost=-14, moving_from=6),
    Row("plucked beats", "C (*)! | C! (*)!", 6, cost=-10, moving_from=6),
    Row("plucked pair", "C P!", 6, cost=6, moving_from=6),
    Row("jig double stop", "C (*)! P!", 6, cost=-8, moving_from=6),
    Row("jig beats", "C (*)! (*)! | P! (*)! (*)!", 6, cost=-16, moving_from=6),
    Row("waltz double stops", "C (*)! | P! (*)! | P! (*)!", 6, cost=-18, moving_from=6),
)


def _swept(way: Way, also: Where | None = Where.SHAPE) -> tuple[Voice, ...]:
    return (Voice(THUMB, way, Want.LEAD, Where.MELODY, also=also),)


#: Each finger has its string (common practice); in a line the others help out, so that none comes twice running.
LINES = {THUMB: {4: 0, 3: 6, 2: 14}, INDEX: {3: 0, 2: 1, 4: 3, 1: 4}, MIDDLE: {2: 0, 1: 1, 3: 3}, RING: {1: 0, 2: 6}}


def _strummed(right: RightHand) -> RightHand:
    """A sweep of the thumb that ends on the melody's string, where the fingers would pluck the chord."""
    (sweep,) = _swept(Way.DOWN)
    chord = (replace(sweep, begins=True, must=True),)
    return replace(right, alphabet={**right.alphabet, "C": chord})


#: Where players differ about the chord under the melody (common practice).
CHORDS = Choice("uke_chords", "Chords are", {"plucked": as_written, "strummed with the thumb": by_hand(_strummed)})
FINGERSTYLE = Idiom(
    "fingerstyle",
    "fingerstyle",
    UKULELES,
    plucking(
        FINGER_ALPHABET, FINGER_ROWS, LINES, (4,), {4: 0, 3: 0, 2: 2}, ("thumb strum",), drone_sings=6, drone_worth=14
    ),
    prefers=(1, 2, 3),
    rungs=plucked_rungs("Pinch", "Chords", "Fillers", "Reach"),
    choices=(FIRST_RUNG, CHORDS, PLUCKING_FINGERS, *FRAMES),
)


def _noted(way: Way) -> tuple[Voice, ...]:
    return (Voice(THUMB, way, Want.JOIN),)


def _damped(way: Way) -> tuple[Voice, ...]:
    return (Voice(THUMB, way, Want.STRUM, Where.SHAPE, loudness=CHORD, must=True, called="strum", muted=True),)


STRUM_ALPHABET: Alphabet = {
    "S": _swept(Way.DOWN),
    "s": _swept(Way.UP),
    "d": _swept(Way.DOWN, None),
    "u": _swept(Way.UP, None),
    "n": _noted(Way.DOWN),
    "e": _noted(Way.UP),
    "X": _damped(Way.DOWN),
    "x": _damped(Way.UP),
    "h": (Voice(None, Way.LEFT, Want.SLUR, must=True),),
}

STRUM_ROWS = (
    Row("strum", "S e! | n! e!", 2, cost=-6, moving_from=2, to_rung=2),
    Row("jig strum", "S e! n!", 2, cost=-4, moving_from=2, to_rung=2),
    Row("waltz strum", "S e! | n! e! | n! e!", 2, cost=-8, moving_from=2, to_rung=2),
    Row("strummed beats", "S e! | S! e!", 3, cost=-8, moving_from=3, to_rung=3),
    Row("strummed beat", "S e!", 3, cost=-2, moving_from=3, to_rung=5),
    Row("strummed jig", "S e! S!", 3, cost=-7, moving_from=3, to_rung=4),
    Row("strummed jig beat", "S e! n!", 3, cost=-3, moving_from=3, to_rung=4),
    Row("strummed waltz", "S e! | S! e! | S! e!", 3, cost=-12, moving_from=3, to_rung=3),
    Row("down, down up", "S . | S! s!", 4, cost=-12, moving_from=4),
    Row("slur, down up", "S h! | S! s!", 4, cost=-12, moving_from=4),
    Row("down, slur", "S e! | S! h!", 4, cost=-10, moving_from=4, to_rung=4),
    Row("down up, slur", "S s | S! h!", 5, cost=-12, moving_from=5),
    Row("waltz, down up", "S . | S! s! | S! s!", 4, cost=-18, moving_from=4),
    Row("jig, down up", "S . s!", 4, cost=-8, moving_from=4),
    Row("down up", "S s", 5, cost=-6, moving_from=5, to_rung=5),
    Row("down up on every note", "S s!", 6, cost=-6, moving_from=6),
    Row("down and slur", "S h!", 5, cost=-6, moving_from=5),
    Row("jig down up", "S s! S!", 5, cost=-8, moving_from=5),
    Row("jig slur", "S h! S!", 5, cost=-8, moving_from=5),
    Row("muted back beat", "S s! | X s!", 6, cost=-14, moving_from=6),
    Row("muted jig", "S X s!", 6, cost=-9, moving_from=6),
    Row("muted off-beats", "S x | S! x", 6, cost=-13, moving_from=6),
    Row("muted off-beat first", "S x | S! s!", 6, cost=-12, moving_from=6),
    Row("muted off-beat last", "S s! | S! x", 6, cost=-12, moving_from=6),
    Row("muted off-beat", "S x", 6, cost=-6, moving_from=6),
    Row("slur, muted", "S h! | X s!", 6, cost=-12, moving_from=6),
    Row("muted jig in eighths", "S x S!", 6, cost=-9, moving_from=6),
    Row("waltz, muted off-beats", "S x | S! x | S! x", 6, cost=-18, moving_from=6),
    Row("waltz, muted", "S . | X s! | X s!", 6, cost=-20, moving_from=6),
)
STRUM = Idiom(
    "strum",
    "strum",
    UKULELES,
    RightHand(
        STRUM_ALPHABET,
        STRUM_ROWS,
        touches=touches_named("thumb down", "thumb up", "thumb strum", "thumb strum up"),
        single=SingleNotes({}, (THUMB,), clocked=True),
        lines={THUMB: dict.fromkeys((1, 2, 3, 4), 0)},
        chords={THUMB: dict.fromkeys((1, 2, 3, 4), 0)},
        plain=(THUMB,),
        follows=Follows({}),
        ways={THUMB: Way.DOWN},
        restrikes=True,
        rather_slurs=3,
        on_top=True,
        covers=IMPOSSIBLE,
    ),
    rungs=plucked_rungs("Strum", "Chords", "Down and up", "Back beat"),
    choices=(FIRST_RUNG, *FRAMES),
)
