"""The guitar under the fingers: a bass in the thumb, the melody on the strings above (handbook §4; rows and worked
bars are common practice).

T  the thumb's bass, with it the melody note that begins there     C  the melody note with the whole chord below it
F G  the melody note over bass and string 3, or string 2
Q  index and middle on the inner strings, with the melody note     n  the melody note by any finger, or nothing
I M A  index, middle, ring: the melody note, else one soft filler     *  the same by any finger
K  the thumb slaps the bass strings     h  the left hand alone sounds the melody note there

Behind T: b the chord's root, f another bass tone (its fifth, else its third), g the one after that.
"""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.rows.choices import FIRST_RUNG, FRAMES, as_written, by_hand, by_rows
from nailhead.core.arrange.rows.hands import Choice, Idiom, RightHand, Row
from nailhead.core.arrange.rows.left_hand import LeftHand
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
from nailhead.core.arrange.values import Way

#: The strings of the thumb.
BASSES = (6, 5, 4)
#: Signs whose thumb plays a bass by itself or under the melody.
_BASS_SIGNS = "TFG"
#: Seconds that half a bar of an air lasts at least.
SLOW_S = 1.8

_BASS = Voice(THUMB, Way.PLUCK, Want.FILL, Where.ROOT, must=True, loudness=CHORD, called="bass", chordal=True)
_SLAP = Voice(THUMB, Way.SLAP, Want.FILL, Where.OTHER_BASS, must=True, called="slap", muted=True)

ALPHABET: Alphabet = {
    "T": (JOINED, _BASS),
    "C": (MELODY, plucked(THUMB, 6, 5, 4), plucked(INDEX, 3), plucked(MIDDLE, 2), plucked(RING, 1)),
    "Q": (JOINED, plucked(INDEX, 3), plucked(MIDDLE, 2)),
    "F": (MELODY, _BASS, plucked(INDEX, 3, must=True)),
    "G": (MELODY, _BASS, plucked(MIDDLE, 2, must=True)),
    "K": (_SLAP,),
    "*": filler(None, chordal=True),
    "n": (JOINED,),
    "I": filler(INDEX, chordal=True),
    "M": filler(MIDDLE, chordal=True),
    "A": filler(RING, chordal=True),
    "h": (SLURRED,),
}

ROWS = (
    Row("root pinch", "Tb n! | n! n!", 2, cost=-4, moving_from=2, to_rung=2),
    Row("root beat", "Tb n!", 2, cost=2, moving_from=2, to_rung=2),
    Row("jig root pinch", "Tb n! n!", 2, cost=-3, moving_from=2, to_rung=2),
    Row("waltz root pinch", "Tb n! | n! n! | n! n!", 2, cost=-8, moving_from=2, to_rung=2),
    Row("block chord", "C n! | n! n!", 3, cost=-24, moving_from=3, to_rung=4, least_s=SLOW_S),
    Row("alternating thumb", "Tb n! | Tf! n!", 3, cost=-8, moving_from=3, to_rung=4),
    Row("alternating thumb with a slur", "Tb n! | Tf! h!", 4, cost=-8, moving_from=4, to_rung=4),
    Row("slur over the bass", "Tb h! | Tf! n!", 4, cost=-8, moving_from=4, to_rung=4),
    Row("thumb beat", "Tb n!", 3, cost=2, moving_from=3),
    Row("jig thumb", "Tb n! n! | Tf! n! n!", 3, cost=-10, moving_from=3, to_rung=4),
    Row("jig thumb beat", "Tb n! n!", 3, cost=-2, moving_from=3, to_rung=4),
    Row("bass and chord in three", "Tb n! | Q! n! | Q! n!", 3, cost=-14, moving_from=3, to_rung=4),
    Row("thumb roll", "Tb I3! | Tf! M2!", 5, cost=-16, moving_from=5),
    Row("thumb roll inwards", "Tb M2! | Tf! I3!", 5, cost=-15, moving_from=5),
    Row("thumb roll outwards", "Tb I3! | Tf! A1!", 5, cost=-14, moving_from=5),
    Row("thumb roll with a slur", "Tb I3! | Tf! h!", 5, cost=-16, moving_from=5),
    Row("thumb under the line", "Tb *! | Tf! *!", 5, cost=-12, moving_from=5),
    Row("thumb and finger", "Tb *!", 5, cost=-1, moving_from=5),
    Row("jig thumb roll", "Tb I3! M2!", 5, cost=-12, moving_from=5),
    Row("jig thumb roll inwards", "Tb M2! I3!", 5, cost=-11, moving_from=5),
    Row("jig thumb under the line", "Tb *! *!", 5, cost=-10, moving_from=5),
    Row("waltz roll", "Tb I3! | M2! A1! | M2! I3!", 5, cost=-22, moving_from=5),
    Row("waltz thumb roll", "Tb I3! | Tf! M2! | Tf! I3!", 5, cost=-22, moving_from=5),
    Row("waltz thumb under the line", "Tb *! | Tf! *! | Tf! *!", 5, cost=-18, moving_from=5),
    Row("three basses", "Tb I3! | Tf! M2! | Tg! I3! | Tf! M2!", 6, cost=-42, moving_from=6),
    Row("three basses with a slur", "Tb I3! | Tf! h! | Tg! I3! | Tf! M2!", 6, cost=-42, moving_from=6),
    Row("three basses under the line", "Tb *! | Tf! *! | Tg! *! | Tf! *!", 6, cost=-34, moving_from=6),
    Row("jig basses in turn", "Tb *! *! | Tf! *! *!", 6, cost=-26, moving_from=6),
    Row("full roll", "Fb *! | Tf! *!", 6, cost=-6, moving_from=6),
    Row("full treble roll", "Gb *! | Tf! *!", 6, cost=-5, moving_from=6),
    Row("full beat", "Fb *!", 6, cost=6, moving_from=6),
    Row("full treble beat", "Gb *!", 6, cost=7, moving_from=6),
    Row("full jig", "Fb *! *!", 6, cost=-4, moving_from=6),
    Row("full treble jig", "Gb *! *!", 6, cost=-3, moving_from=6),
    Row("full waltz", "Fb *! | Tf! *! | Tf! *!", 6, cost=-14, moving_from=6),
    Row("slap", "Tb I3! | K M2!", 6, cost=-24, moving_from=6),
    Row("slap in the line", "Tb *! | K *!", 6, cost=-14, moving_from=6),
    Row("waltz slap", "Tb *! | K *! | K *!", 6, cost=-22, moving_from=6),
)

#: Thumb 6 to 4, index 3, middle 2, ring 1 (common practice); in a line the others help out.
LINES = {
    THUMB: {6: 0, 5: 0, 4: 0, 3: 6, 2: 14},
    INDEX: {3: 0, 2: 1, 1: 4, 4: 3, 5: 8, 6: 12},
    MIDDLE: {2: 0, 1: 1, 3: 3, 4: 8, 5: 12, 6: 14},
    RING: {1: 0, 2: 6, 3: 10, 4: 14},
}
_STEADY = {row.name: row.text.replace("Tf", "Tb").replace("Tg", "Tb") for row in ROWS}
#: What the thumb does (common practice).
BASS = Choice("bass", "The thumb's bass", {"alternating": as_written, "steady": by_rows(_STEADY)})


def _damped(right: RightHand) -> RightHand:
    """The bass under the palm of the hand that plucks it."""
    under = {
        sign: tuple(replace(voice, way=Way.DAMP) if voice.chordal and voice.by is THUMB else voice for voice in voices)
        for sign, voices in right.alphabet.items()
        if sign in _BASS_SIGNS
    }
    return replace(right, alphabet={**right.alphabet, **under})


def _with_string_3(idiom: Idiom) -> Idiom:
    """The thumb plays string 3 as it does the ones below."""
    reach, right = (*BASSES, 3), idiom.right
    thumb = {THUMB: {**right.lines[THUMB], 3: 0}}
    right = replace(
        right,
        lines={**right.lines, **thumb},
        chords={**right.chords, THUMB: dict.fromkeys(reach, 0)},
        follows=replace(right.follows, running={THUMB: frozenset(reach)}),
    )
    return replace(idiom, right=right, left=replace(idiom.left, roots=reach), prefers=(1, 2))


#: Where players differ about the thumb (common practice).
DAMPING = Choice("damping", "The bass is", {"damped": by_hand(_damped), "left to ring": as_written})
THUMB_STRINGS = Choice(
    "thumb_strings", "The thumb plays", {"strings 6 to 4": as_written, "string 3 as well": _with_string_3}
)
GUITAR_FINGERS = Idiom(
    "fingerstyle",
    "fingerstyle",
    ("guitar",),
    plucking(ALPHABET, ROWS, LINES, BASSES, dict.fromkeys(BASSES, 0), ("slap", "damped thumb")),
    left=LeftHand(roots=BASSES, hops=True, harmonics=True),
    rungs=plucked_rungs("Root", "Thumb", "Roll", "Reach"),
    prefers=(1, 2, 3),
    choices=(FIRST_RUNG, BASS, DAMPING, PLUCKING_FINGERS, THUMB_STRINGS, *FRAMES),
)
