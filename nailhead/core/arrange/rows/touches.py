"""What every touch is called, how it is written and how it sounds: one row each, read by sheet, formats and sound.

`letter` is what a text tab writes and a pattern of that hand is spelt with, `sign` what the sheet writes under the
stems ("" for an arrow the way the hand goes), `word` what a legend says. `pluck` is the finger of MusicXML's element
of that name (MusicXML 4.0: p i m a), `bow` its sign for a pick's way, `roll` where the sound of a strum goes.
`spread_s` are the seconds from string to string, `loud` is against a struck note, `rings_s` how long it rings at most,
0 for as long as strings do (by ear, ours).
"""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.arrange.values import Finger, Stroke, Touch, Trembling, Way


@dataclass(frozen=True, slots=True)
class TouchRow:
    """A touch by one finger one way, over one string or `several`."""

    id: str
    by: Finger | None
    way: Way
    several: bool
    letter: str
    sign: str
    word: str
    pluck: str = ""
    bow: str = ""
    roll: str = ""
    spread_s: float = 0.0
    loud: float = 1.0
    rings_s: float = 0.0


#: Seconds between the strings of a brush or strum.
_SPREAD = 0.014
#: A note that the left hand sounds is softer than one that is struck.
_SLURRED = 0.75
#: Seconds that a string rings under the palm.
_DAMPED = 0.35
_F, _W = Finger, Way

TOUCHES: tuple[TouchRow, ...] = (
    TouchRow("nail", _F.NAIL, _W.DOWN, False, "d", "", "strike down", pluck="i"),
    TouchRow("brush", _F.NAIL, _W.DOWN, True, "B", "B", "brush", pluck="i", roll="up", spread_s=_SPREAD),
    TouchRow("drag", _F.NAIL, _W.DRAG, False, "g", "~", "the nail runs on", pluck="i"),
    TouchRow("thumb", _F.THUMB, _W.PLUCK, False, "T", "T", "thumb", pluck="p"),
    TouchRow("index", _F.INDEX, _W.PLUCK, False, "I", "I", "index", pluck="i"),
    TouchRow("middle", _F.MIDDLE, _W.PLUCK, False, "M", "M", "middle", pluck="m"),
    TouchRow("ring", _F.RING, _W.PLUCK, False, "A", "A", "ring finger", pluck="a"),
    TouchRow("pick down", _F.PICK, _W.DOWN, False, "d", "", "strike down", bow="down-bow"),
    TouchRow("pick up", _F.PICK, _W.UP, False, "u", "", "strike up", bow="up-bow"),
    TouchRow("strum down", _F.PICK, _W.DOWN, True, "S", "", "strum down", bow="down-bow", roll="up", spread_s=_SPREAD),
    TouchRow("strum up", _F.PICK, _W.UP, True, "s", "", "strum up", bow="up-bow", roll="down", spread_s=_SPREAD),
    TouchRow("thumb down", _F.THUMB, _W.DOWN, False, "d", "", "thumb down", pluck="p", bow="down-bow"),
    TouchRow("thumb up", _F.THUMB, _W.UP, False, "u", "", "thumb up", pluck="p", bow="up-bow"),
    TouchRow(
        "thumb strum",
        _F.THUMB,
        _W.DOWN,
        True,
        "S",
        "",
        "strum down with the thumb",
        pluck="p",
        bow="down-bow",
        roll="up",
        spread_s=_SPREAD,
    ),
    TouchRow(
        "thumb strum up",
        _F.THUMB,
        _W.UP,
        True,
        "s",
        "",
        "strum up with the thumb",
        pluck="p",
        bow="up-bow",
        roll="down",
        spread_s=_SPREAD,
    ),
    TouchRow(
        "damped thumb",
        _F.THUMB,
        _W.DAMP,
        False,
        "T",
        "T.",
        "thumb, the palm on its strings",
        pluck="p",
        rings_s=_DAMPED,
    ),
    TouchRow("slap", _F.THUMB, _W.SLAP, False, "K", "×", "slap"),
    TouchRow("left hand", None, _W.LEFT, False, "-", "", "left hand alone", loud=_SLURRED),
    TouchRow("left pluck", None, _W.PLUCK, False, "+", "+", "left hand plucks", loud=_SLURRED),
    TouchRow("rings on", None, _W.RINGS, False, "", "", "rings on"),
)
#: How two touches at once are written in a text tab.
TOGETHER = "P"
#: … or one after the other.
ROLLED = "~P"
#: Strings that are struck damped, …
DAMPED = "X"
#: … and a stroke that is shaken.
SHAKEN = {Trembling.TREMOLO: "R", Trembling.TREBLE: "tr"}
_BY_KIND = {(row.by, row.way, row.several): row for row in TOUCHES}
_BY_ID = {row.id: row for row in TOUCHES}


def row_of(by: Finger | None, way: Way, several: bool = False) -> TouchRow:
    """The row of a touch; one string where there is no row for several. Every touch of the engine has one."""
    return _BY_KIND.get((by, way, several)) or _BY_KIND[by, way, False]


def touch_row(touch: Touch) -> TouchRow:
    return row_of(touch.by, touch.way, len(touch.notes) > 1)


def touches_named(*names: str) -> tuple[TouchRow, ...]:
    """The rows of some ids, in that order; raises KeyError for one that is not there."""
    return tuple(_BY_ID[name] for name in names)


def stroke_letter(stroke: Stroke) -> str:
    """What a text tab writes under a stroke: one letter, P for several touches, X for damped strings, "" for a rest."""
    if len(stroke.touches) > 1:
        return TOGETHER if stroke.shake is None else ROLLED
    if stroke.shake and stroke.shake.trembling in SHAKEN:
        return SHAKEN[stroke.shake.trembling]
    if stroke.touches and stroke.touches[0].muted and stroke.touches[0].way is not Way.SLAP:
        return DAMPED
    return touch_row(stroke.touches[0]).letter if stroke.touches else ""
