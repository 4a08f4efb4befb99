"""The plectrum over open courses, dulcimer and saz (handbook §4; rows and worked bars are common practice).

S s  out, in over all courses: the melody note that begins there, else it again     d u  the same on its course alone
e    in over all courses, for a melody note that begins there
v ^  out, in: one soft filler                                       h  the left hand alone sounds the melody note there

Digits behind a sign are courses.
"""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.rows.choices import (
    FIRST_RUNG,
    FRAMES,
    TRIPLET,
    as_written,
    by_hand,
    by_left,
    by_rows,
    turned,
)
from nailhead.core.arrange.rows.costs import COSTS
from nailhead.core.arrange.rows.hands import Adds, Choice, Idiom, Row
from nailhead.core.arrange.rows.left_hand import FIFTHS_AND_FOURTHS, OCTAVES, LeftHand, Trill
from nailhead.core.arrange.rows.patterns import Alphabet, Voice, Want, Where
from nailhead.core.arrange.rows.plectrum import PICK, SOFT, picked, picked_rungs
from nailhead.core.arrange.values import Ornament, Way


def _struck(way: Way, also: Where | None = None) -> tuple[Voice, ...]:
    return (Voice(PICK, way, Want.LEAD, Where.MELODY, also=also),)


def _filler(way: Way) -> tuple[Voice, ...]:
    return (Voice(PICK, way, Want.FILL, loudness=SOFT, must=True, called="open course"),)


ALPHABET: Alphabet = {
    "S": _struck(Way.DOWN, Where.SHAPE),
    "s": _struck(Way.UP, Where.SHAPE),
    "d": _struck(Way.DOWN),
    "u": _struck(Way.UP),
    "e": (replace(_struck(Way.UP, Where.SHAPE)[0], begins=True, must=True),),
    "v": _filler(Way.DOWN),
    "^": _filler(Way.UP),
    "h": (Voice(None, Way.LEFT, Want.SLUR, must=True),),
}

NOTER_ROWS = (
    Row("long short short", "S . | S! s", 2, cost=-12, moving_from=2),
    Row("long short short in three", "S . | S! s | S! s", 2, cost=-20, moving_from=2),
    Row("out", "S .", 2, cost=-1, moving_from=2),
    Row("jig", "S . S!", 2, cost=-2, moving_from=2),
    Row("out and in on every note", "S! s!", 3, cost=-2, moving_from=3),
    Row("jig on every note", "S! s! S!", 3, cost=-3, moving_from=3),
    Row("out and slide", "S h!", 4, cost=-4, moving_from=4),
    Row("out and in", "S s", 5, cost=-4),
    Row("jig out and in", "S s S!", 5, cost=-4, moving_from=5),
    Row("slide, out and in", "S h! | S! s!", 6, cost=-10, moving_from=6),
    Row("jig slide, out and in", "S h! S!", 6, cost=-6, moving_from=6),
)

FINGERED_ROWS = (
    Row("out", "S .", 2, cost=-2, moving_from=2),
    Row("held", "S . | . .", 2, cost=-8, to_rung=2),
    Row("jig out", "S . d!", 2, cost=-2, moving_from=2),
    Row("jig held", "S . .", 2, cost=-2, to_rung=2),
    Row("chord and one", "S . | S! u", 3, cost=-12, moving_from=3),
    Row("chord and one in three", "S . | S! u | S! u", 3, cost=-20, moving_from=3),
    Row("jig chord", "S u d!", 3, cost=-3, moving_from=3),
    Row("picked", "S ^2 | v3 ^2", 5, cost=-8),
    Row("picked note", "S ^2", 5, cost=-4),
    Row("jig picked", "S ^2 v3", 5, cost=-6),
    Row("chord under a pair", "S u!", 5, cost=3, moving_from=5),
    Row("chord under three", "S u! d!", 5, cost=3, moving_from=5),
    Row("jig picked note", "S ^2 d!", 5, cost=-4, moving_from=5),
    Row("waltz picked", "S ^2 | v3 ^2 | v3 ^2", 5, cost=-10),
    Row("picked note, out and in", "S ^2 | S! e!", 6, cost=-14, moving_from=6),
    Row("out and in", "S! s!", 6, cost=-4, moving_from=6),
    Row("jig chord in eighths", "S u! d!", 6, cost=-5, moving_from=6),
)

SAZ_ROWS = (
    Row("top course", "d . | v3 ^3", 2, cost=-2, to_rung=2),
    Row("moving top course", "d . | d! ^3", 2, cost=-2, moving_from=2, to_rung=2),
    Row("top course behind a note", "d ^3", 2, cost=4, to_rung=2),
    Row("top course in three", "d ^3 v3", 2, cost=-2, to_rung=2),
    Row("top course again", "d u", 2, cost=6, to_rung=2),
    Row("top course again in three", "d . u", 2, cost=6, to_rung=2),
    Row("top course in a rest", "v3 ^3", 2, cost=2),
    Row("top course in a rest of three", "v3 ^3 v3", 2, cost=2),
    Row("top course before a note", "v3 u!", 2, cost=2, moving_from=2),
    Row("top course before two notes", "v3 u! d!", 2, cost=2, moving_from=2),
    Row("top course and a note in three", "v3 ^3 d!", 2, cost=2, moving_from=2),
    Row("through", "S .", 3, cost=-2, moving_from=3),
    Row("through and top course", "S . | v3 ^3", 3, cost=-4),
    Row("moving through", "S . | S! ^3", 3, cost=-6, moving_from=3),
    Row("through in three", "S ^3 v3", 3, cost=-4, to_rung=4),
    Row("through with a note", "S . d!", 3, cost=-3, moving_from=3),
    Row("rocking", "S ^3", 5, cost=-4, to_rung=5),
    Row("rocking through", "S ^3 | S s", 5, cost=-10, to_rung=5),
    Row("rocking in three", "S s s", 5, cost=-6),
    Row("rocking with a note", "S ^3 d!", 5, cost=-4, moving_from=5, to_rung=5),
    Row("every note through", "S! s!", 5, cost=4, moving_from=5),
    Row("sweeping", "S s", 6, cost=-6),
    Row("sweeping with a note", "S s d!", 6, cost=-6, moving_from=6),
)


_SAZ = ("saz", "saz-short")
#: Where players differ on the second stroke of a jig, and on the third of a group of three (common practice).
JIG = Choice(
    "jig_stroke",
    "Second stroke of a jig",
    {"out": as_written, "in": by_rows({"jig": "S . s!", "jig on every note": "S! s! s!"})},
)
THREE = Choice(
    "third_stroke",
    "Third stroke of three",
    {"up": as_written, "down": by_rows({"rocking in three": "S s S"})},
)
#: What a held note is trilled with on the saz (common practice).
TRILL = Choice(
    "trill",
    "Trills",
    {"scale note above": as_written, "next fret": by_left(trill=Trill.FRET), "none": by_left(trill=None)},
)
#: What the second course of a saz does from the rung of sweeping on (common practice).
SECOND = Choice(
    "second_course",
    "The second course",
    {"open": as_written, "in fifths and fourths": by_left(parallels=FIFTHS_AND_FOURTHS)},
)


def _with_chords(idiom: Idiom) -> Idiom:
    """From the rung of moves on the chord's shape is held over all courses, found anew under each strong note."""
    first = idiom.first(Adds.MOVES)
    rungs = tuple(
        replace(rung, adds=(*rung.adds, Adds.SHAPES)) if number == first else rung
        for number, rung in enumerate(idiom.rungs, 1)
    )
    return replace(idiom, rungs=rungs, left=replace(idiom.left, reshapes=True))


#: Chords on a saz, from the rung of sweeping on (common practice).
CHORDS = Choice("saz_chords", "Chords", {"none": as_written, "three courses": _with_chords})
#: Which way a hand goes on the beat over a dulcimer, and how many courses of a saz carry the melody (common practice).
BEAT = Choice("beat_stroke", "Stroke on the beat", {"out": as_written, "in": by_hand(turned)})
COURSES = Choice(
    "courses",
    "The melody goes",
    {
        "through all courses": as_written,
        "on one course": by_rows({row.name: row.text.replace("S", "d").replace("s", "u") for row in SAZ_ROWS}),
    },
)
NOTER = Idiom(
    "noter",
    "noter and drone",
    ("dulcimer",),
    picked(ALPHABET, NOTER_ROWS, COSTS["melody string"], takes_along=3),
    LeftHand(frozenset({Ornament.SLIDE}), one_finger=True, slur_frets=2, grace_slide=1, short_slides=True),
    rungs=picked_rungs("Strum", "Drones", "Out and in", "Slides"),
    strings=(1,),
    drones=(2, 3, 4),
    choices=(FIRST_RUNG, JIG, BEAT, *FRAMES),
)
FINGERED = Idiom(
    "chord-melody",
    "chord melody",
    ("dulcimer",),
    picked(ALPHABET, FINGERED_ROWS, on_top=True),
    LeftHand(reshapes=True, parallels=OCTAVES),
    rungs=picked_rungs("Open courses", "Chords", "Picked", "Reach", {3: (Adds.SHAPES,)}),
    drones=(3,),
    prefers=(1,),
    choices=(FIRST_RUNG, BEAT, *FRAMES),
)
SAZ = Idiom(
    "plectrum",
    "plectrum",
    _SAZ,
    picked(ALPHABET, SAZ_ROWS),
    LeftHand(trill=Trill.SCALE, grace_pull=True),
    rungs=picked_rungs(
        "Top course",
        "Through",
        "Rocking",
        "Sweeping",
        {2: (Adds.RESTS,)},
        {3: "Simple", 6: "Ornamented"},
    ),
    drones=(2, 3),
    choices=(FIRST_RUNG, THREE, COURSES, SECOND, CHORDS, TRILL, TRIPLET, *FRAMES),
)
