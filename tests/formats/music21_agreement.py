"""Compares our reading of an ABC tune with music21's: pitches, durations and bar starts."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.music.tune import Tune
from nailhead.formats.abc import Notice, read_book
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
#: Written otherwise, same meaning by the standard: `::` is `:||:` (§4.8). `=` and `=20` at line ends are what a mail
#: program has left in some files.
_SAME = ((re.compile("::"), ":||:"), (re.compile(r"=(?:20)?\s*$"), ""))
_VOICE = re.compile(r"\s*\[V:\s*([^\s\]]*)")
#: A rest that is not printed (§4.5); music21 drops it.
_HIDDEN_REST = re.compile(r"(?<![A-Za-z\]])x(?=[\d/\s|:\[\]]|$)", re.M)


def bare(text: str) -> str:
    """The tune with the signs taken out of its music lines: same notes, lengths and bars by the standard."""
    lines, in_body, first_voice = [], False, ""
    for line in text.splitlines():
        if in_body and (voice := _VOICE.match(line)):
            first_voice = first_voice or voice[1]
            if voice[1] != first_voice:
                continue  # music21 puts the voices of one block behind one another
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
    part = next((part for part in score.parts if part.recurse().notes), score.parts[0])
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
        theirs = music21_reading(_evened_out(tune.text, entry.tune, entry.notices) if stripped else tune.text)
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


def _evened_out(text: str, ours: Tune | None, notices: Sequence[Notice]) -> str:
    stripped = bare(text)
    # A hidden rest in a bar that is full without it only carries a sign; our reader says that it leaves it out.
    if not any("invisible rest" in notice.message for notice in notices):
        stripped = _HIDDEN_REST.sub("z", stripped)
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


#: What is left in the four corpora, by cause: docs/abc-agreement.md says who is wrong.
LEFT: dict[str, tuple[str, ...]] = {
    "a bar rest Z inside a bar": (
        "oneills1850/0351-0400 X:387",
        "oneills1850/0626-0700 X:637",
        "oneills1850/1176-1275 X:1185",
    ),
    "a hidden rest written against a note": ("oneills1850/0811-0899 X:881",),
    "a note in two broken rhythms": (
        "oneills1850/0001-0050 X:9",
        "oneills1850/1625-1700 X:1684",
        "oneills1850/1625-1700 X:1685",
        "ryansMammoth/BuckleysHornpipe X:1",
    ),
    "nested or odd tuplets": ("oneills1850/0051-0100 X:83", "oneills1850/1625-1700 X:1649"),
    "a key or unit length that changes between bar lines": (
        "oneills1850/0051-0100 X:67",
        "oneills1850/0550-0625 X:570",
        "oneills1850/0951-0981 X:964",
    ),
    "an accidental inside several notes at once": ("oneills1850/0550-0625 X:599",),
    "damaged text": (
        "oneills1850/0732-0758_bs X:745",
        "oneills1850/0732-0758_mh X:745",
        "airdsAirs/book3 X:411",
        "airdsAirs/book4 X:722",
        "airdsAirs/book5 X:811",
        "ryansMammoth/HeadlightJig X:1",
        "ryansMammoth/ImOverYoungToMarryYetReel X:1",
        "ryansMammoth/MyLadysGoonHasGairsOntStrathspey X:1",
        "ryansMammoth/TidalWaveJig X:1",
    ),
}
