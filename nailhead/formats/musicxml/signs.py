"""What MusicXML's names and numbers mean here: beats, chord kinds, signs, bar lines, accidentals."""

from __future__ import annotations

from fractions import Fraction
from xml.etree.ElementTree import Element

from nailhead.core.figures import read_exact, read_whole
from nailhead.core.music.notation import VALUES
from nailhead.core.music.pitch import split_semitones
from nailhead.core.music.tune import Tempo
from nailhead.formats.musicxml.elements import KINDS
from nailhead.formats.musicxml.melody import DECORATIONS

BEATS = {name: value for value, name in VALUES}
KIND_QUALITIES = {kind: quality for quality, kind in reversed(KINDS.items())}
SIGN_NAMES = {element: name for name, (_, element) in DECORATIONS.items()} | {"inverted-mordent": "uppermordent"}
STYLES = {"light-light": "double", "light-heavy": "final", "heavy": "final", "heavy-heavy": "final"}
#: Elements that stand for something this does not take over, and how to say so.
LEFT_OUT = {
    "segno": "Segno and coda jumps are left out; write the order of the parts instead.",
    "coda": "Segno and coda jumps are left out; write the order of the parts instead.",
    "dynamics": "Dynamics are left out.",
    "wedge": "Dynamics are left out.",
    "figured-bass": "Figured bass is left out.",
    "pedal": "Pedal signs are left out.",
    "octave-shift": "Octave lines are left out; the pitches are those that sound.",
}


def nearest_commas(semitones: Fraction) -> tuple[int, int | Fraction]:
    """An alteration as written in decimals: whole semitones, else the nearest whole number of commas."""
    if semitones.denominator == 1:
        return int(semitones), 0
    for alter in (0, 1, -1, 2, -2):
        commas = (semitones - alter) * Fraction(53, 12)
        if abs(commas) < 9 and abs(commas - round(commas)) < Fraction(1, 1000):
            return alter, round(commas)
    return split_semitones(semitones.limit_denominator(1000))


def read_tempo(beat: Fraction, text: str) -> Tempo | None:
    try:
        bpm = round(read_exact(text, 0, 1000))
    except ValueError:
        return None
    return Tempo(beat, bpm) if 0 < bpm < 1000 else None


def tuplet_ratio(note: Element) -> tuple[int, int] | None:
    """How many notes of a tuplet go in the time of how many; None outside of one."""
    actual, normal = (
        read_whole(note.findtext(f"time-modification/{name}-notes", "0"), 0, 999) for name in ("actual", "normal")
    )
    return (actual, normal) if actual > 1 and normal > 0 else None
