"""What the left hand does to come to a note from another fret of its string: when it may, and what it is then."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.rows.left_hand import LeftHand
from nailhead.core.arrange.values import FrettedNote, Ornament, Slur
from nailhead.core.fretboard.setup import Place, Setup


def may_slur(left: LeftHand, before: Place, after: Place, setup: Setup) -> bool:
    """Can a left hand sound a place from another: on its string, in reach, by an ornament that it makes?"""
    apart = after.fret - before.fret
    if before.string != after.string or not apart:
        return False
    far = setup.frets_apart(before.fret, after.fret) if left.one_finger else abs(apart)
    if far > left.slur_frets:
        return False
    if Ornament.SLIDE in left.ornaments and before.fret and after.fret:
        return True
    return (Ornament.HAMMER if apart > 0 else Ornament.PULL) in left.ornaments


def slur_into(left: LeftHand, before: FrettedNote, note: FrettedNote) -> FrettedNote:
    """The note sounded by the left hand from the one before on its string, which is at most three counts back.

    From an open string it is a hammer-on, to one a pull-off; between fingers it is whichever they allow, and a slide
    where one finger takes both.
    """
    low, high = before.place.fret, note.place.fret
    if high == 0:
        return replace(note, slur=Slur(Ornament.PULL, low))
    if low == 0:
        return replace(note, slur=Slur(Ornament.HAMMER, 0))
    if Ornament.HAMMER in left.ornaments and high > low and note.finger > before.finger:
        return replace(note, slur=Slur(Ornament.HAMMER, low))
    if Ornament.PULL in left.ornaments and high < low and note.finger < before.finger:
        return replace(note, slur=Slur(Ornament.PULL, low))
    return replace(note, finger=before.finger, slur=Slur(Ornament.SLIDE, low))


def grace_into(left: LeftHand, note: FrettedNote, setup: Setup, barred: bool) -> Slur | None:
    """A quick ornament that arrives at a struck note's own pitch, or None where neck or hand offer none.

    From the open string to the first frets a hammer-on, higher up a slide from below. Under a finger that stops other
    strings as well (`barred`) there is neither.
    """
    fret, string = note.place.fret, setup.string(note.place.string)
    if fret == 0 or string.drone or barred:
        return None
    if fret <= left.grace_hammer and Ornament.HAMMER in left.ornaments:
        return Slur(Ornament.HAMMER, 0, grace=True)
    start = setup.frets_below(fret, left.grace_slide)
    if start and Ornament.SLIDE in left.ornaments:
        return Slur(Ornament.SLIDE, start, grace=True)
    return None
