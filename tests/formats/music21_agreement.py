"""Compares our reading of an ABC tune with music21's: pitches, durations and bar starts."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book
from tests.corpora import CorpusTune

Row = tuple[Fraction, Fraction, int | None]


@dataclass(frozen=True)
class Reading:
    """Events as (onset, duration, MIDI number or None for a rest) in whole notes, and where bars begin."""

    events: tuple[Row, ...]
    bar_starts: tuple[Fraction, ...]


def our_reading(tune: Tune) -> Reading:
    events, starts, at = [], [], Fraction(0)
    for bar in tune.bars:
        starts.append(at)
        events += [(at + e.onset, e.duration, e.pitch.midi if e.pitch else None) for e in bar.events]
        at += bar.length
    return Reading(tuple(events), tuple(starts))


#: Signs without pitch, length or bar line that music21's reader trips over: quoted text, decorations, grace
#: notes, slurs and letters that stand for ornaments. docs/abc-agreement.md shows what each one costs.
_SIGNS = re.compile(
    r"\"[^\"\n]*\"|![a-zA-Z0-9<>()+.]+!|\{[^}\n]*\}|\((?!\d)|\)|[~.`TuvkKQPLMORSJH](?!:)|-(?=[<>])|(?<=[<>])-"
)
_FIELD = re.compile(r"[A-Za-z]:")
#: Written otherwise, same meaning by the standard: `::` is `:||:` (§4.8), `x` a rest that is not printed (§4.5).
_SAME = ((re.compile("::"), ":||:"), (re.compile(r"x(?=[\d/\s|:\[\]]|$)"), "z"))


def bare(text: str) -> str:
    """The tune with the signs taken out of its music lines: same notes, lengths and bars by the standard."""
    lines, in_body = [], False
    for line in text.splitlines():
        is_field = bool(_FIELD.match(line))
        lines.append(_bare_line(line) if in_body and not is_field and line[:1] != "%" else line)
        in_body = in_body or line.startswith("K:")
    return "\n".join(lines) + "\n"


def _bare_line(line: str) -> str:
    line = _SIGNS.sub("", line)
    for pattern, instead in _SAME:
        line = pattern.sub(instead, line)
    return line


def without_metre(text: str, unit: Fraction) -> str:
    """The tune with its metre taken away and its unit length said: music21 cuts notes where a bar is overfull."""
    text = re.sub(r"(?m)^M:.*$", f"M:none\nL:{unit}", text, count=1)
    return re.sub(r"(?m)^M:(?!none).*\n|\[M:[^\]]*\]", "", text)


def music21_reading(text: str) -> Reading:
    """Raises whatever music21 raises. Of several notes at once the highest counts.

    music21 lets accidentals hold through the bar only for texts that claim standard 2.x, so the claim is put on top.
    """
    from music21 import converter

    score = converter.parse("%abc-2.1\n" + text, format="abc")
    part = score.parts[0]
    events, starts = [], []
    for measure in part.getElementsByClass("Measure"):
        notes = [n for n in measure.recurse().notesAndRests if not n.duration.isGrace]
        notes = [n for n in notes if n.__class__.__name__ in ("Note", "Rest", "Chord")]
        if not notes:
            continue
        offset = measure.getOffsetInHierarchy(part)
        starts.append(Fraction(offset) / 4)
        for note in notes:
            midi = None if note.isRest else max(pitch.midi for pitch in note.pitches)
            onset = Fraction(offset) + Fraction(note.getOffsetInHierarchy(measure))
            events.append((onset / 4, Fraction(note.quarterLength) / 4, midi))
    return Reading(tuple(events), tuple(starts))


def difference(tune: CorpusTune, stripped: bool = True) -> str:
    """Empty when both readers agree; else one line on where they first do not."""
    entry = read_book(tune.text)[0]
    try:
        theirs = music21_reading(_evened_out(tune.text, entry.tune) if stripped else tune.text)
    except Exception as error:
        theirs_failed = f"music21 fails: {type(error).__name__}: {str(error)[:60]}"
        return f"both fail; {theirs_failed}; ours: {entry.error}" if entry.error else theirs_failed
    if entry.tune is None:
        return f"ours fails: {entry.error}"
    ours = our_reading(entry.tune)
    for mine, other in zip(ours.events, theirs.events, strict=False):
        if mine != other:
            return f"event ours {show(mine)} music21 {show(other)}"
    if len(ours.events) != len(theirs.events):
        return f"count ours {len(ours.events)} music21 {len(theirs.events)}"
    missing = [start for start in ours.bar_starts if start not in theirs.bar_starts]
    if missing:
        return f"bar start {missing[0]} only ours"
    added = [start for start in theirs.bar_starts if start not in ours.bar_starts]
    # music21 cuts a bar that holds too much where the metre ends; the written bar is what counts.
    if any(not _inside_overfull(start, entry.tune) for start in added):
        return f"bar start {added[0]} only music21"
    return ""


def _evened_out(text: str, ours: Tune | None) -> str:
    stripped = bare(text)
    overfull = ours and any(bar.length > bar.metre.length for bar in ours.bars)
    return without_metre(stripped, ours.unit_length) if ours and overfull else stripped


def show(row: Row) -> str:
    return f"at {row[0]} for {row[1]} pitch {row[2]}"


def _inside_overfull(start: Fraction, tune: Tune) -> bool:
    at = Fraction(0)
    for bar in tune.bars:
        if at < start < at + bar.length:
            return bar.length > bar.metre.length
        at += bar.length
    return False
