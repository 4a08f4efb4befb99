"""Tunes for the saz by a generator: additive metres, comma accidentals that come and go, lines that walk by step.

No collection at hand has such tunes with their commas. Each seed gives one tune, always the same.
"""

from __future__ import annotations

import random
from fractions import Fraction

from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune

#: Metre -> its groups in eighths, as dances have them (common practice).
GROUPS = {"5/8": (2, 3), "7/8": (2, 2, 3), "9/8": (2, 2, 2, 3), "10/8": (3, 2, 2, 3), "4/4": (4, 4)}
#: From the G below the tonic up, and the two that carry commas: B lowered by two, F raised by three.
SCALE = ("G", "A", "B", "c", "d", "e", "f", "g", "a")
_TONIC = 1
#: How a group is divided, by its length.
_DIVIDED = {2: ((2,), (1, 1)), 3: ((3,), (2, 1), (1, 1, 1)), 4: ((4,), (2, 2), (2, 1, 1), (1, 1, 2))}


def saz_tune(seed: int) -> Tune:
    """Eight bars of one metre, in A minor with a lowered second; here and there a raised sixth or a rest."""
    pick = random.Random(seed)
    metre = list(GROUPS)[seed % len(GROUPS)]
    at, bars = pick.choice((1, 3, 5)), []
    for number in range(8):
        notes = []
        for size in GROUPS[metre]:
            for length in pick.choice(_DIVIDED[size]):
                at = max(0, min(len(SCALE) - 1, at + pick.choice((-2, -1, -1, 0, 1, 1, 2))))
                notes.append(_note(pick, at, length))
        if number % 4 == 3:
            at = _TONIC
            notes = [*notes[:-1], f"A{notes[-1][-1] if notes[-1][-1].isdigit() else ''}"]
        bars.append("".join(notes))
    text = f"X:1\nT:Generated {seed}\nM:{metre}\nL:1/8\nQ:1/8={pick.choice((150, 190, 230))}\nK:Am _24/53b\n"
    tune = read_tune(text + "|".join(bars) + "|]\n").tune
    assert tune
    assert all(bar.length == Fraction(metre) for bar in tune.bars)
    return tune


def _note(pick: random.Random, at: int, length: int) -> str:
    name = SCALE[at]
    if name == "f" and pick.random() < 0.5:
        name = "^36/53f"
    elif pick.random() < 0.06:
        name = "z"
    return f"{name}{length if length > 1 else ''}"
