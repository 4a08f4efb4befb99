"""Kick-offs and endings as rows, for any metre (handbook §7; which notes is common practice).

A row has a bar a line with its chord, the tonic's or the one that leads to it, or one for each half. The tokens of a
bar share its pulse groups evenly; twice as many tokens as groups share each group as long and short. A token is a scale
degree (1 to 7 above the tonic, 0 and below it under the tonic) with a sign behind it:

~  the shuffle: long, short, short         '  stopped: struck, then silence
=  two short notes                         >  no degree: a walk to the tune's first note         -  silence
"""

from __future__ import annotations

from dataclasses import dataclass

HOME, AWAY = "home", "away"


@dataclass(frozen=True, slots=True)
class FrameRow:
    """Bars around a tune: (tokens, chord) each; none where the tune's own last phrase serves."""

    name: str
    bars: tuple[tuple[str, str], ...] = ()


#: What leads in, the usual one first.
KICK_OFFS = (
    FrameRow("four bars", (("1~ -2~", HOME), ("1~ 3~", HOME), ("1~ -2~", HOME), ("1~ >", HOME))),
    FrameRow("two bars", (("1~ -2~", HOME), ("1~ >", HOME))),
    FrameRow("the last phrase"),
)
#: What closes; every one stops.
ENDINGS = (
    FrameRow("four bars", (("5 4", AWAY), ("3 1", HOME), ("2 0", AWAY), ("1' -", HOME))),
    FrameRow("two bars", (("1 5= 6 5", HOME), ("- 0' 1' -", f"{AWAY} {HOME}"))),
    FrameRow("two stops", (("3 2 0 2", AWAY), ("1' 1'", HOME))),
)


def frame_row(rows: tuple[FrameRow, ...], name: str) -> FrameRow:
    """A row by its name; "" is the usual one."""
    return next((row for row in rows if row.name == name), rows[0])
