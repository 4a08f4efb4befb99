"""The ukulele: fingers over the chord, and the thumb's strum (handbook §4; rows and worked bars are common practice).

P  the melody note that begins there with the chord's lowest tone     C  the same with the whole chord below the melody
n  the melody note that begins there, by whichever finger is free, or nothing     N  the same, and it must
T I M A  thumb, index, middle, ring: the melody note that begins there, else one soft filler
S s  a strum down, up that ends on the melody's string: the melody note that begins there, else it again
h  the left hand alone sounds the melody note there
"""

from __future__ import annotations

from nailhead.core.arrange.rows.choices import FIRST_RUNG, FRAMES
from nailhead.core.arrange.rows.costs import COSTS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import Adds, Doubling, Follows, Idiom, RightHand, Row, SingleNotes
from nailhead.core.arrange.rows.patterns import Alphabet, Voice, Want, Where
from nailhead.core.arrange.rows.plectrum import CHORD, SOFT, picked_rungs
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Way

THUMB, INDEX, MIDDLE, RING = Finger.THUMB, Finger.INDEX, Finger.MIDDLE, Finger.RING
FINGERS = (THUMB, INDEX, MIDDLE, RING)
UKULELES = ("ukulele", "ukulele-baritone")

_MELODY = Voice(None, Way.PLUCK, Want.JOIN, must=True)


def _plucked(finger: Finger, *strings: int) -> Voice:
    return Voice(finger, Way.PLUCK, Want.FILL, Where.LISTED, strings, loudness=CHORD, called="chord tone", chordal=True)


def _filler(finger: Finger) -> tuple[Voice, ...]:
    return (Voice(finger, Way.PLUCK, Want.ANY, loudness=SOFT, must=True, called="filler"),)


FINGER_ALPHABET: Alphabet = {
    "P": (_MELODY, Voice(THUMB, Way.PLUCK, Want.FILL, Where.LOWEST, loudness=CHORD, called="chord tone")),
    "C": (_MELODY, _plucked(THUMB, 4, 3, 2), _plucked(INDEX, 3), _plucked(MIDDLE, 2), _plucked(RING, 1)),
    "n": (Voice(None, Way.PLUCK, Want.JOIN),),
    "N": (_MELODY,),
    "T": _filler(THUMB),
    "I": _filler(INDEX),
    "M": _filler(MIDDLE),
    "A": _filler(RING),
    "h": (Voice(None, Way.LEFT, Want.SLUR, must=True),),
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
    Row("filled beat", "C (I3) | N! N!", 5, cost=-16, moving_from=5),
    Row("filled beats", "C (I3) | N! (M2)", 5, cost=-16, moving_from=5),
    Row("filled beats inside", "C (I3) | N! (I3)", 5, cost=-15, moving_from=5),
    Row("pluck and run", "C N! | N! N!", 5, cost=-14, moving_from=5),
    Row("pluck, run and fill", "C N! | N! (I3)", 5, cost=-14, moving_from=5),
    Row("filled note", "C (I3)", 5, cost=-2),
    Row("filled treble", "C (M2)", 5, cost=-1),
    Row("jig filled", "C (I3) (M2)", 5, cost=-14),
    Row("jig filled inside", "C (I3) (T4)", 5, cost=-13),
    Row("jig filled note", "C (I3) N!", 5, cost=-13, moving_from=5),
    Row("jig pluck and run", "C N! N!", 5, cost=-12, moving_from=5),
    Row("pinched pair", "P N!", 5, cost=4, moving_from=5),
    Row("jig pinch and fill", "P (I3) N!", 5, cost=2, moving_from=5),
    Row("plucked pair", "C N!", 6, cost=6, moving_from=6),
    Row("jig double stop", "C N! P!", 6, cost=-6, moving_from=6),
    Row("double stops", "C P!", 6, cost=6, moving_from=6),
    Row("waltz filled", "C (I3) | (M2) (I3) | (M2) (I3)", 5, cost=-24),
    Row("waltz filled inside", "C (I3) | (T4) (I3) | (T4) (I3)", 5, cost=-23),
)

#: What the rungs add beside what they do under a pick.
_MORE = {2: (Adds.SHAPES,), 6: (Adds.DOUBLES,)}
#: Each finger has its string (common practice); in a line the others help out, so that none comes twice running.
LINES = {THUMB: {4: 0, 3: 6, 2: 14}, INDEX: {3: 0, 2: 1, 4: 3, 1: 4}, MIDDLE: {2: 0, 1: 1, 3: 3}, RING: {1: 0, 2: 6}}
CHORDS = {THUMB: {4: 0, 3: 0, 2: 2}, INDEX: {3: 0}, MIDDLE: {2: 0}, RING: {1: 0}}
FINGERSTYLE = Idiom(
    "fingerstyle",
    "fingerstyle",
    UKULELES,
    RightHand(
        FINGER_ALPHABET,
        FINGER_ROWS,
        touches=touches_named("thumb", "index", "middle", "ring"),
        single=SingleNotes(dict.fromkeys((1, 2, 3), (INDEX, MIDDLE)), (THUMB,)),
        lines=LINES,
        chords=CHORDS,
        plain=FINGERS,
        follows=Follows(
            dict.fromkeys(FINGERS, IMPOSSIBLE), COSTS["string twice"], order=FINGERS, apart=frozenset(), chord=3
        ),
        doubling=Doubling.FREE,
        on_top=True,
        covers=IMPOSSIBLE,
        drone_sings=6,
    ),
    rungs=picked_rungs("Pinch", "Chords", "Fillers", "Reach", _MORE),
    choices=(FIRST_RUNG, *FRAMES),
)


def _swept(way: Way, also: Where | None = Where.SHAPE) -> tuple[Voice, ...]:
    return (Voice(THUMB, way, Want.LEAD, Where.MELODY, also=also),)


def _noted(way: Way) -> tuple[Voice, ...]:
    return (Voice(THUMB, way, Want.JOIN),)


STRUM_ALPHABET: Alphabet = {
    "S": _swept(Way.DOWN),
    "s": _swept(Way.UP),
    "d": _swept(Way.DOWN, None),
    "u": _swept(Way.UP, None),
    "n": _noted(Way.DOWN),
    "e": _noted(Way.UP),
    "X": (Voice(THUMB, Way.DOWN, Want.STRUM, Where.SHAPE, loudness=CHORD, must=True, called="strum", muted=True),),
    "h": (Voice(None, Way.LEFT, Want.SLUR, must=True),),
}

STRUM_ROWS = (
    Row("strum", "S e! | n! e!", 2, cost=-6, moving_from=2, to_rung=2),
    Row("jig strum", "S e! n!", 2, cost=-4, moving_from=2, to_rung=2),
    Row("waltz strum", "S e! | n! e! | n! e!", 2, cost=-8, moving_from=2, to_rung=2),
    Row("strummed beats", "S e! | S! e!", 3, cost=-8, moving_from=3, to_rung=3),
    Row("strummed beat", "S e!", 3, cost=-2, moving_from=3, to_rung=4),
    Row("strummed jig", "S e! n!", 3, cost=-5, moving_from=3, to_rung=4),
    Row("strummed waltz", "S e! | S! e! | S! e!", 3, cost=-12, moving_from=3, to_rung=3),
    Row("down, down up", "S . | S! s!", 4, cost=-12, moving_from=4),
    Row("slur, down up", "S h! | S! s!", 4, cost=-12, moving_from=4),
    Row("down, slur", "S e! | S! h!", 4, cost=-10, moving_from=4, to_rung=4),
    Row("down up, slur", "S s | S! h!", 5, cost=-12, moving_from=5),
    Row("waltz, down up", "S . | S! s! | S! s!", 4, cost=-18, moving_from=4),
    Row("jig, down up", "S . s!", 4, cost=-8, moving_from=4),
    Row("down up", "S s!", 5, cost=-6, moving_from=5),
    Row("down and slur", "S h!", 5, cost=-6, moving_from=5),
    Row("jig down up", "S s! S!", 5, cost=-8, moving_from=5),
    Row("jig slur", "S h! S!", 5, cost=-8, moving_from=5),
    Row("muted back beat", "S s! | X s!", 6, cost=-14, moving_from=6),
    Row("muted jig", "S X s!", 6, cost=-9, moving_from=6),
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
    rungs=picked_rungs("Strum", "Chords", "Down and up", "Back beat", _MORE),
    choices=(FIRST_RUNG, *FRAMES),
)
