"""The plectrum on the mandolin and the guitar (handbook §4; rows and worked bars are common practice).

d u  down, up: the melody note that begins there, else it again     v ^  down, up: one soft filler
S s  down, up over neighbouring strings, soft                       R  tremolo     tr  treble: down, up, down
h    the left hand alone sounds the melody note there

Behind a sign: p takes the neighbour on the bass side along, q is the one on the treble side, r the next but one, t
those of the shape above the melody.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Any

from nailhead.core.arrange.rows.choices import (
    FIRST_RUNG,
    FRAMES,
    TRIPLET,
    UP_DOWN_UP,
    as_written,
    by_rows,
    by_single,
)
from nailhead.core.arrange.rows.costs import IMPOSSIBLE
from nailhead.core.arrange.rows.hands import (
    Adds,
    Choice,
    Doubling,
    Follows,
    Idiom,
    RightHand,
    Row,
    Rung,
    SingleNotes,
)
from nailhead.core.arrange.rows.patterns import Alphabet, Voice, Want, Where
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Way
from nailhead.core.music.layers import Layer

PICK = Finger.PICK
#: Time-keeping notes are felt rather than heard, in percent of the melody.
SOFT = 45
#: And chords stand behind it.
CHORD = 70
#: A teacher's own instrument may have as many strings.
MOST_STRINGS = 12
#: Seconds that a note must last for a tremolo, for one that leaves out a jig's stroke, and for a treble.
TREMOLO_S, SLOW_S, TREBLE_S = 0.6, 1.0, 0.4


def _struck(way: Way) -> tuple[Voice, ...]:
    return (Voice(PICK, way, Want.LEAD, Where.MELODY),)


def _filler(way: Way) -> tuple[Voice, ...]:
    return (Voice(PICK, way, Want.FILL, loudness=SOFT, must=True, called="filler"),)


def _strum(way: Way, most: int) -> tuple[Voice, ...]:
    return (Voice(PICK, way, Want.STRUM, Where.ABOVE, loudness=CHORD, must=True, called="strum", most=most),)


ALPHABET: Alphabet = {
    "d": _struck(Way.DOWN),
    "u": _struck(Way.UP),
    "v": _filler(Way.DOWN),
    "^": _filler(Way.UP),
    "h": (Voice(None, Way.LEFT, Want.SLUR, must=True),),
    "S": _strum(Way.DOWN, 4),
    "s": _strum(Way.UP, 2),
    "R": _struck(Way.DOWN),
    "tr": _struck(Way.DOWN),
}

MANDOLIN_ROWS = (
    Row("shuffle", "d . | d! u", 2, cost=-4, moving_from=2),
    Row("waltz shuffle", "d . | d! u | d! u", 2, cost=-7, moving_from=2),
    Row("jig", "d u d!", 2, cost=-3, moving_from=2),
    Row("doubled shuffle", "dp . | dp! u", 3, cost=-6, moving_from=3),
    Row("doubled waltz", "dp . | dp! u | dp! u", 3, cost=-9, moving_from=3),
    Row("doubled note", "dp .", 3, cost=-2, moving_from=3),
    Row("doubled jig", "dp u d!", 3, cost=-4, moving_from=3),
    Row("saw", "dp ^p", 5, cost=-4, moving_from=5, to_rung=5),
    Row("roll", "d ^q | vr ^q", 5, cost=-16),
    Row("jig roll", "d ^q vr", 5, cost=-10),
    Row("jig saw", "dp ^p d!", 5, cost=-4, moving_from=5),
    Row("tremolo", "R . | . .", 5, cost=-12, to_rung=5, least_s=TREMOLO_S),
    Row("long tremolo", "R . | . . | . . | . .", 5, cost=-30, least_s=TREMOLO_S),
    Row("tremolo in three", "R . .", 5, cost=-6, to_rung=5, least_s=SLOW_S),
    Row("tremolo through a waltz", "R . | . . | . .", 5, cost=-20, least_s=TREMOLO_S),
    Row("three-three-two", "d! ^q | vr u! | vq ^r | d! ^q", 6, cost=-6, moving_from=6),
    Row("moving roll", "d! ^q | vr! ^q", 6, cost=-4, moving_from=6),
    Row("doubled saw", "dp up", 6, cost=-8, moving_from=6),
    Row("doubled pair", "dp u!", 5, cost=3, moving_from=5),
    Row("doubled jig in eighths", "dp u! d!", 5, cost=3, moving_from=5),
    Row("doubled eighths", "dp up!", 6, cost=5, moving_from=6),
    Row("doubled saw in three", "dp up dp!", 6, cost=-8, moving_from=6),
    Row("treble", "tr .", 6, cost=-5, moving_from=6, least_s=TREBLE_S),
)

#: A single note and a light strum behind it; in eighths from the rung of flow on.
GUITAR_ROWS = (
    Row("touch", "d . | S12 .", 2, cost=-5, to_rung=2),
    Row("held touch", "d . | S12 .", 3),
    Row("moving touch", "d . | d! s12", 2, cost=-4, moving_from=2, to_rung=2),
    Row("jig touch", "d . S12", 2),
    Row("waltz touch", "d . | S12 . | S12 .", 2),
    Row("bass and strum", "d . | St st", 3, cost=-3),
    Row("moving bass and strum", "d st | d! st", 3, cost=-3, moving_from=3),
    Row("moving waltz", "d . | d! st | d! st", 3, cost=-4, moving_from=3),
    Row("full touch", "dp . | d! s12", 3, cost=-1, moving_from=3),
    Row("full held touch", "dp . | S12 .", 3, cost=2),
    Row("full jig touch", "dp . S12", 3, cost=2),
    Row("full note in three", "dp . d!", 3, cost=-1, moving_from=3),
    Row("jig bass and strum", "d . St", 3, cost=-3),
    Row("waltz bass and strum", "d . | St . | St st", 3, cost=-4),
    Row("pick and strum", "d st", 5, cost=-4, to_rung=5),
    Row("held pick and strum", "d st | St st", 5, cost=-8, to_rung=5),
    Row("jig pick and strum", "d st St", 5, cost=-6),
    Row("ghost", "d ^q", 5, cost=-2),
    Row("strummed pair", "dp u!", 5, cost=3, moving_from=5),
    Row("strummed jig", "dp u! d!", 5, cost=3, moving_from=5),
    Row("jig ghost", "d ^q d!", 5, cost=-2, moving_from=5),
    Row("roll", "d ^q | vr ^q", 6, cost=-8),
    Row("jig roll", "d ^q vr", 6, cost=-8),
    Row("three-three-two", "d! ^q | vr u! | vq ^r | d! ^q", 6, cost=-12, moving_from=6),
    Row("double stop", "dp ^q", 6, cost=4),
    Row("jig double stop", "dp ^q d!", 6, cost=4, moving_from=6),
    Row("double-stop pair", "dp u!", 6, cost=3, moving_from=6),
    Row("double stops", "dp up!", 6, cost=5, moving_from=6),
    Row("double-stop jig", "dp u! dp!", 6, cost=5, moving_from=6),
)

_ADDED: Mapping[int, tuple[Adds, ...]] = {4: (Adds.SLURS,), 5: (Adds.FLOW,), 6: (Adds.MOVES,), 7: (Adds.SOLO,)}


def picked_rungs(
    second: str,
    third: str,
    fifth: str,
    sixth: str,
    more: Mapping[int, tuple[Adds, ...]] = MappingProxyType({}),
    versions: Mapping[int, str] = MappingProxyType({}),
) -> tuple[Rung, ...]:
    """The seven rungs of a pick by the names in which they differ.

    `more` is what a rung adds beside the usual, `versions` name rungs that are a way to play the whole tune.
    """
    rungs = (
        Rung("Bare", layer=Layer.PAIRS),
        Rung(second, layer=Layer.PAIRS, empty=12),
        Rung(third, layer=Layer.PAIRS, empty=14),
        Rung("Slurs", empty=14),
        Rung(fifth, empty=24, hole=9),
        Rung(sixth, empty=24, hole=9),
        Rung("Solo", thins=Layer.BONES, empty=24, hole=9),
    )
    return tuple(
        replace(rung, adds=(*_ADDED.get(number, ()), *more.get(number, ())), version=versions.get(number, ""))
        for number, rung in enumerate(rungs, 1)
    )


def picked(alphabet: Alphabet, rows: tuple[Row, ...], covers: int = IMPOSSIBLE, **more: Any) -> RightHand:
    """A hand with a pick that follows the clock, over all strings; `more` are what else it is like."""
    reach = {PICK: dict.fromkeys(range(1, MOST_STRINGS + 1), 0)}
    return RightHand(
        alphabet,
        rows,
        touches=touches_named("pick down", "pick up", "strum down", "strum up"),
        single=SingleNotes({}, (PICK,), clocked=True, triplet=UP_DOWN_UP),
        lines=reach,
        chords=reach,
        plain=(PICK,),
        follows=Follows({}),
        ways={PICK: Way.DOWN},
        restrikes=True,
        rather_slurs=3,
        slurs_thin=True,
        slur_again=6,
        covers=covers,
        yields_place=True,
        **more,
    )


#: How a pick rolls over three strings (common practice).
ROLLS = Choice(
    "rolls",
    "Rolls",
    {
        "alternating": as_written,
        "down down up": by_rows(
            {
                "roll": "d vq | ^r vq",
                "jig roll": "d vq ^r",
                "three-three-two": "d! vq | ^r d! | vq ^r | d! ^q",
            }
        ),
    },
)


def _chromatic(idiom: Idiom) -> Idiom:
    return replace(idiom, chromatic=True)


#: Which way a pick goes in threes (common practice).
THREES = Choice(
    "threes",
    "Jigs go",
    {"down up down": as_written, "down and up through the bar": by_single(through=True)},
)
QUARTER = Choice("jig_quarter", "Behind a quarter in a jig", {"down": as_written, "up": by_single(quarter_up=True)})
#: How a guitarist's bass runs step (common practice).
RUNS = Choice("runs", "Bass runs", {"in the scale": as_written, "chromatic": _chromatic})
_CHOICES = (FIRST_RUNG, ROLLS, THREES, QUARTER, TRIPLET, *FRAMES)
MANDOLIN = Idiom(
    "plectrum",
    "plectrum",
    ("mandolin",),
    picked(ALPHABET, MANDOLIN_ROWS, on_top=True, doubling=Doubling.SAME),
    rungs=picked_rungs("Shuffle", "Doubles", "Flow", "Reach", {3: (Adds.SHAPES,), 6: (Adds.DOUBLES,)}),
    choices=_CHOICES,
)
GUITAR = Idiom(
    "plectrum",
    "plectrum",
    ("guitar",),
    picked(ALPHABET, GUITAR_ROWS, on_top=True),
    runs=True,
    rungs=picked_rungs("Touch", "Chords", "Flow", "Reach", {2: (Adds.SHAPES,), 6: (Adds.DOUBLES,)}),
    choices=(FIRST_RUNG, ROLLS, RUNS, THREES, QUARTER, TRIPLET, *FRAMES),
)
