"""A tune's words with its chords between them, as ChordPro text: what singers put on a stand.

ChordPro 6 (chordpro.org) is the source of the directives: title, key, time, tempo, start_of_verse, start_of_grid.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence

from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.metre import ZERO
from nailhead.core.music.structure import read_structure
from nailhead.core.music.tune import Bar, Tune
from nailhead.formats.abc.writer import ascii_name


def write_chordpro(tune: Tune) -> str:
    """Each verse with its chords, line for line as the phrases go; a tune without words as a grid of chords.

    Chords that the tune has not are suggested and said to be so.
    """
    sung = suggest_chords(tune)
    phrases = [sung.bars[start:stop] for start, stop in read_structure(sung).phrases]
    verses = max((len(event.words) for bar in sung.bars for event in bar.events), default=0)
    lines = list(_head(tune))
    for verse in range(verses):
        lines += ["", f"{{start_of_verse: Verse {verse + 1}}}"]
        lines += [line for phrase in phrases if (line := _sung(phrase, verse))]
        lines.append("{end_of_verse}")
    if not verses:
        lines += ["", "{start_of_grid}", *map(_grid, phrases), "{end_of_grid}"]
    return "\n".join(lines) + "\n"


def _head(tune: Tune) -> Iterator[str]:
    yield f"{{title: {_plain(tune.title)}}}"
    yield f"{{key: {ascii_name(str(tune.key.tonic))}{'m' if tune.key.mode in ('minor', 'dorian') else ''}}}"
    if not tune.metre.free:
        yield f"{{time: {tune.metre.beats}/{tune.metre.unit}}}"
    if tune.tempo:
        yield f"{{tempo: {tune.tempo.bpm}}}"
    if not tune.has_chords:
        yield "{comment: The chords are suggestions.}"


def _plain(text: str) -> str:
    """A text without what would end a directive."""
    return text.replace("{", "(").replace("}", ")")


def _sung(phrase: Sequence[Bar], verse: int) -> str:
    """A line of one verse: each chord before the syllable that it falls on, or where a rest stands."""
    line, joined = "", True
    for bar in phrase:
        chords = {entry.onset: ascii_name(str(entry.chord)) for entry in bar.chords}
        for event in bar.events:
            word = event.words[verse] if verse < len(event.words) else ""
            due = [chords.pop(onset) for onset in sorted(chords) if onset <= event.onset]
            named = "".join(f"[{name}]" for name in due)
            if word and word != "_":
                line += ("" if joined or not line else " ") + named + word.rstrip("-").replace("‑", "-")
                joined = word.endswith("-")
            elif named:
                line += ("" if joined or not line else " ") + named
        line += "".join(f"[{name}]" for name in chords.values())
    return line.rstrip() if any(event.words for bar in phrase for event in bar.events) else ""


def _grid(phrase: Sequence[Bar]) -> str:
    """A row of bars, each with its chords on the beats and dots between them."""
    return "| " + " | ".join(map(_beats, phrase)) + " |"


def _beats(bar: Bar) -> str:
    beats = [onset for onset in bar.metre.beat_onsets if onset < bar.length] or [ZERO]
    cells = ["."] * len(beats)
    for entry in bar.chords:
        cells[max(0, bisect_right(beats, entry.onset) - 1)] = ascii_name(str(entry.chord))
    return " ".join(cells)
