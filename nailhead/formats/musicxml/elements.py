"""Elements that tablature and melody share, in the order the MusicXML 4.0 definition asks for."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from nailhead import __version__
from nailhead.core.music.chord import Chord
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Metre
from nailhead.core.music.notation import NoteValue, note_values
from nailhead.core.music.pitch import Pitch, altered_semitones
from nailhead.core.music.tune import Bar, Tempo, Tune
from nailhead.core.plain import plain

HEADER = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" '
    '"http://www.musicxml.org/dtds/partwise.dtd">\n'
)
KINDS = {
    "": "major", "m": "minor", "7": "dominant", "m7": "minor-seventh", "maj7": "major-seventh",
    "6": "major-sixth", "m6": "minor-sixth", "9": "dominant-ninth", "m9": "minor-ninth", "add9": "major",
    "sus4": "suspended-fourth", "sus2": "suspended-second", "7sus4": "suspended-fourth", "5": "power",
    "dim": "diminished", "dim7": "diminished-seventh", "m7b5": "half-diminished", "aug": "augmented",
    "mmaj7": "major-minor",
}  # fmt: skip


def text(parent: Element, name: str, value: object, /, **attributes: str) -> Element:
    """A child element that holds a text."""
    element = SubElement(parent, name, attributes)
    element.text = plain(str(value))
    return element


def score(tune: Tune, part_name: str) -> tuple[Element, Element]:
    """An empty score of one part: (root, part)."""
    root = Element("score-partwise", version="4.0")
    text(SubElement(root, "work"), "work-title", tune.title)
    text(SubElement(SubElement(root, "identification"), "encoding"), "software", f"Nailhead {__version__}")
    part_list = SubElement(SubElement(root, "part-list"), "score-part", id="P1")
    text(part_list, "part-name", part_name)
    return root, SubElement(root, "part", id="P1")


def document(root: Element) -> str:
    """The finished document as text."""
    indent(root)
    return HEADER + tostring(root, encoding="unicode") + "\n"


def key(attributes: Element, value: Key) -> None:
    element = SubElement(attributes, "key")
    text(element, "fifths", max(-7, min(7, value.fifths)))
    text(element, "mode", value.mode)


def metre(attributes: Element, value: Metre) -> None:
    names = {"C": "common", "C|": "cut"}
    if value.free:
        SubElement(SubElement(attributes, "time"), "senza-misura")
        return
    time = SubElement(attributes, "time")
    if value.symbol in names:
        time.set("symbol", names[value.symbol])
    additive = "+" in str(value)
    text(time, "beats", "+".join(map(str, value.grouping)) if additive else value.beats)
    text(time, "beat-type", value.unit)


def tempo(measure: Element, value: Tempo | None) -> None:
    """The metronome mark and what a player takes from it, quarters a minute."""
    if value is None:
        return
    quarters = value.bpm * value.beat * 4
    printed = note_values(value.beat)
    # A beat such as 5/8 has no note value of its own; the mark then counts quarters.
    beat, bpm = (printed[0], value.bpm) if len(printed) == 1 else (note_values(Fraction(1, 4))[0], round(quarters))
    direction = SubElement(measure, "direction", placement="above")
    metronome = SubElement(SubElement(direction, "direction-type"), "metronome")
    text(metronome, "beat-unit", beat.name)
    for _ in range(beat.dots):
        SubElement(metronome, "beat-unit-dot")
    text(metronome, "per-minute", bpm)
    SubElement(direction, "sound", tempo=f"{float(quarters):.6g}")


def rehearsal(measure: Element, label: str) -> None:
    if label:
        text(SubElement(SubElement(measure, "direction"), "direction-type"), "rehearsal", label)


def harmony(measure: Element, chord: Chord, offset: int) -> None:
    element = SubElement(measure, "harmony")
    root = SubElement(element, "root")
    text(root, "root-step", chord.root.step)
    if chord.root.alter:
        text(root, "root-alter", chord.root.alter)
    text(element, "kind", KINDS[chord.quality], text=chord.quality)
    if chord.bass:
        bass = SubElement(element, "bass")
        text(bass, "bass-step", chord.bass.step)
        if chord.bass.alter:
            text(bass, "bass-alter", chord.bass.alter)
    if offset:
        text(element, "offset", offset)


def pitch(note: Element, value: Pitch) -> None:
    element = SubElement(note, "pitch")
    alter = altered_semitones(value.alter, value.commas)
    text(element, "step", value.step)
    if alter:
        text(element, "alter", alter if alter.denominator == 1 else f"{float(alter):.7f}")
    text(element, "octave", value.octave)


def value(
    note: Element,
    divisions: int,
    printed: NoteValue,
    ties: tuple[bool, bool] = (False, False),
    voice: int = 1,
    stem: str = "",
) -> None:
    """Duration, ties (stop, start), voice, type, dots, the ratio of a tuplet and where the stem goes."""
    text(note, "duration", int(printed.duration * 4 * divisions))
    if ties[0]:
        SubElement(note, "tie", type="stop")
    if ties[1]:
        SubElement(note, "tie", type="start")
    text(note, "voice", voice)
    text(note, "type", printed.name)
    for _ in range(printed.dots):
        SubElement(note, "dot")
    if printed.ratio:
        change = SubElement(note, "time-modification")
        text(change, "actual-notes", printed.ratio[0])
        text(change, "normal-notes", printed.ratio[1])
    if stem:
        text(note, "stem", stem)


def tied(notations: Element, ties: tuple[bool, bool]) -> None:
    if ties[0]:
        SubElement(notations, "tied", type="stop")
    if ties[1]:
        SubElement(notations, "tied", type="start")


def lyrics(note: Element, words: Sequence[str], before: Sequence[str]) -> None:
    """One lyric a verse; `before` are the last syllables of the verses, for where a word goes on."""
    for verse, word in enumerate(words):
        if word == "":
            continue
        lyric = SubElement(note, "lyric", number=str(verse + 1))
        if word == "_":
            SubElement(lyric, "extend", type="continue")
            continue
        inside = verse < len(before) and before[verse].endswith("-")
        syllabic = ("middle" if inside else "begin") if word.endswith("-") else ("end" if inside else "single")
        text(lyric, "syllabic", syllabic)
        text(lyric, "text", word.removesuffix("-"))


def left_barline(measure: Element, bar: Bar) -> None:
    if not bar.opens_repeat and not bar.endings:
        return
    barline = SubElement(measure, "barline", location="left")
    if bar.opens_repeat:
        text(barline, "bar-style", "heavy-light")
    if bar.endings:
        numbers = ",".join(map(str, bar.endings))
        text(barline, "ending", numbers + ".", number=numbers, type="start")
    if bar.opens_repeat:
        SubElement(barline, "repeat", direction="forward")


def right_barline(measure: Element, bars: Sequence[Bar], index: int) -> None:
    bar = bars[index]
    ending = ending_that_stops(bars, index)
    style = {"double": "light-light", "final": "light-heavy"}.get(bar.barline)
    if bar.closes_repeat:
        style = "light-heavy"
    if not style and not ending:
        return
    barline = SubElement(measure, "barline", location="right")
    if style:
        text(barline, "bar-style", style)
    if ending:
        kind = "stop" if bar.closes_repeat or bar.barline != "single" else "discontinue"
        SubElement(barline, "ending", number=",".join(map(str, ending)), type=kind)
    if bar.closes_repeat:
        times = {"times": str(bar.closes_repeat)} if bar.closes_repeat > 2 else {}
        SubElement(barline, "repeat", {"direction": "backward", **times})


def ending_that_stops(bars: Sequence[Bar], index: int) -> tuple[int, ...]:
    """The ending whose last bar this is, or ()."""
    following = bars[index + 1] if index + 1 < len(bars) else None
    if not (bars[index].ends_section or following is None or following.endings):
        return ()
    for at in range(index, -1, -1):
        if at < index and bars[at].ends_section:
            return ()
        if bars[at].endings:
            return bars[at].endings
    return ()
