"""What a note is called: by letter, by its fixed syllable, or by its number in the key (handbook §2); and how the
letters themselves are read.
"""

from __future__ import annotations

import re

from nailhead.core.music.key import Key
from nailhead.core.music.pitch import STEPS, Pitch

#: The ways to name notes, the first of them not at all.
NOTE_NAMES = ("none", "letters", "Do Re Mi", "numbers")
#: What the seventh step of C and the one flattened are called: in English, and in German (common practice).
LETTERS = ("B and B♭", "H and B")
#: A letter B that begins a name or a bass, with its flat.
_B = re.compile(r"(?<![A-Za-z♭♯])B(♭?)")
_SYLLABLES = dict(zip("CDEFGAB", ("Do", "Re", "Mi", "Fa", "Sol", "La", "Si"), strict=True))


def note_name(pitch: Pitch, key: Key, way: str) -> str:
    """A note's name without its octave; "none" names it by letter, for those who ask all the same.

    Syllables are fixed: C is Do in every key. Numbers count from the tonic, and show only what departs from the key.
    """
    sign = pitch.name[1:]
    if way == "Do Re Mi":
        return _SYLLABLES[pitch.step] + sign
    if way != "numbers":
        return pitch.name
    degree = (STEPS.index(pitch.step) - STEPS.index(key.tonic.step)) % len(STEPS) + 1
    if (pitch.alter, pitch.commas) == key.accidentals.get(pitch.step, (0, 0)):
        return str(degree)
    return f"{sign or '♮'}{degree}"


def lettered(name: str, letters: str) -> str:
    """A key, a chord or a note as it is read where the letters are `letters`: Bm is Hm, B♭7/B is B7/H."""
    if letters == LETTERS[0]:
        return name
    return _B.sub(lambda found: "B" if found[1] else "H", name)
