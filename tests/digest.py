"""A digest of every stroke of the banjo's ladders on 300 real tunes: what no change of the engine moves unseen.

`make digest` compares with the digests kept in `tests/digests.txt`, one short hash for each tune, idiom and rung, and
names what differs. `python -m tests.digest --write` renews them; `--dump FILE` writes every bar as text, `--against
FILE` prints the bars that differ from such a dump.
"""

from __future__ import annotations

import argparse
import hashlib
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Stroke
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.formats.abc import read_tune
from tests.corpora import CorpusTune, sample
from tests.struck import letters

IDIOMS = ("clawhammer", "three-finger")
SAMPLE = 300
KEPT = Path(__file__).with_name("digests.txt")

#: (tune, idiom, rung) -> its bars as text.
Rows = dict[tuple[str, str, int], list[str]]


def note_text(note: FrettedNote) -> str:
    """String, fret, finger, role and how the note is come to."""
    slur = note.slur
    came = f"{slur.ornament[0]}{slur.start}{'s' * slur.slow}{'g' * slur.grace}" if slur else ""
    return f"{note.place.string}:{note.place.fret}f{note.finger}{note.role[0]}{'=' * note.held}{came}"


def stroke_text(stroke: Stroke) -> str:
    """A stroke in the letters of a tab, whatever values say it in the engine."""
    notes = "+".join(sorted(note_text(note) for note in stroke.notes))
    triplet = "~" if stroke.tuplet else ""
    return f"{stroke.onset}/{stroke.duration}{triplet}{letters(stroke)}[{notes}]"


def bar_text(bar: ArrangedBar) -> str:
    """A bar with its patterns, shapes, kept fingers, moves, remarks and grades."""
    strokes = " ".join(map(stroke_text, bar.strokes))
    shapes = " ".join(f"{shape.onset}{shape.chord}{shape.stops}" for shape in bar.shapes)
    kept = " ".join(f"{kept.place}{kept.finger}{kept.onset}-{kept.until}" for kept in bar.kept)
    said = " ".join((*bar.remarks, bar.plainer, *(moved.why for moved in bar.moved)))
    grades = f"{bar.grade.value}.{bar.join.value}"
    return f"{bar.number}: {strokes} | {','.join(bar.patterns)} | {shapes} | {kept} | {said} | {grades}"


def tune_rows(chosen: CorpusTune) -> Rows:
    """Both idioms in open G; rung 8 stands for the second time through."""
    tune = read_tune(chosen.text).tune
    assert tune
    try:
        fit = fit_tune(tune, find_instrument("banjo"), Wish(tuning="gDGBD"))
    except FitError:
        return {}
    found: Rows = {}
    for idiom in IDIOMS:
        ladder = build_ladder(fit, idiom)
        for rung, bars in enumerate(ladder.rungs, start=1):
            found[str(chosen), idiom, rung] = [bar_text(bar) for bar in bars]
        found[str(chosen), idiom, 8] = [bar_text(bar) for _, bar in sorted(ladder.second.items())]
    return found


def all_rows(count: int = SAMPLE) -> Rows:
    found: Rows = {}
    with ProcessPoolExecutor() as pool:
        for rows in pool.map(tune_rows, sample(count), chunksize=4):
            found |= rows
    return found


def digest(bars: list[str]) -> str:
    return hashlib.sha256("\n".join(bars).encode()).hexdigest()[:10]


def lines_of(rows: Rows) -> Iterator[str]:
    """One line a tune and idiom: eight hashes, rung by rung."""
    for name, idiom in dict.fromkeys((name, idiom) for name, idiom, _ in rows):
        yield f"{name}\t{idiom}\t" + " ".join(digest(rows[name, idiom, rung]) for rung in range(1, 9))


def dumped(rows: Rows) -> Iterator[str]:
    for (name, idiom, rung), bars in rows.items():
        for bar in bars:
            yield f"{name}\t{idiom}\t{rung}\t{bar}"


def main(argv: list[str]) -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--write", action="store_true", help="keep the digests of this engine")
    parser.add_argument("--dump", type=Path, help="write every bar as text")
    parser.add_argument("--against", type=Path, help="print the bars that differ from a dump")
    asked = parser.parse_args(argv)
    rows = all_rows()
    if asked.dump:
        asked.dump.write_text("\n".join(dumped(rows)) + "\n", encoding="utf-8")
    if asked.against:
        before = asked.against.read_text(encoding="utf-8").splitlines()
        after = list(dumped(rows))
        pairs = [(old, new) for old, new in zip(before, after, strict=False) if old != new]
        for old, new in pairs:
            print(f"- {old}\n+ {new}")
        print(f"{len(pairs)} of {len(after)} bars differ; {len(before)} before.")
    if asked.write:
        KEPT.write_text("\n".join(lines_of(rows)) + "\n", encoding="utf-8")
    kept = KEPT.read_text(encoding="utf-8").splitlines()
    changed = [new.split("\t")[:2] for old, new in zip(kept, lines_of(rows), strict=True) if old != new]
    for name, idiom in changed:
        print(f"changed: {name}, {idiom}")
    print(f"{len(kept) - len(changed)} of {len(kept)} digests of a tune in an idiom are as kept.")
    return 1 if changed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
