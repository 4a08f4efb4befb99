"""What the right hand's search pays, in points (handbook §4 and §6; weights ours, see docs/engine.md)."""

from __future__ import annotations

#: A way that no hand can go.
IMPOSSIBLE = 10**6
#: A sum that holds such a price, though other terms be worth something.
HOPELESS = IMPOSSIBLE // 2

COSTS = {
    "finger twice": 5,  # the striking finger comes twice running at speed, where that may be at all
    "finger forced": 200,  # the same where it may not be, and no other finger reaches the melody
    "bass run": 40,  # the thumb by itself twice running on its own strings
    "struck off the beat": 60,  # a finger that falls on beats comes down between two of them
    "struck behind the beat": 4,  # the same in a group of three, where it has time to
    "slur": 0,  # the left hand sounds an off-beat note
    "left pluck": 3,  # it plucks an open string that was not struck
    "drop thumb": 2,  # the thumb leaves the fifth string
    "string twice": 5,  # a string is struck twice running inside a roll
    "string cut": 30,  # the same where every finger has a string of its own
    "melody string": 5,  # filling on the string that the melody rings on
    "drone": 1,  # a drone that is no chord tone, on another string than the short one
    "again": 2,  # the melody note is struck again
    "brush instead": 2,  # where the melody's string has nothing, the nail brushes
    "open string instead": 5,  # where there is no chord to brush, one open drone
    "later choice": 1,  # per string further down a slot's list
    "nothing there": 6,  # a slot finds no string that belongs to the chord
    "pattern changes": 9,  # another motion inside the bar …
    "pattern changes at the bar line": 4,  # … or from bar to bar
    "hop": 1,  # a bass finger hops to the next string and back
    "moved note": 10,  # a melody note taken elsewhere than below, and …
    "moved note per fret": 1,  # … per fret it lies higher
    "moved run": 4,  # a run spread over the strings
}
