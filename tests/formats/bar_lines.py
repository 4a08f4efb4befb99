"""How often metre and pickup are found again in printed tunes whose bar lines have been taken away.

`python -m tests.formats.bar_lines` prints the figures of docs/readers.md for all tunes of the corpora, in two halves.
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from nailhead.core.music.quantise import METRES, PlayedNote, guess_bars
from nailhead.core.music.tune import Tune, find_problems
from nailhead.formats.abc import read_book
from tests.corpora import CorpusTune, corpus_tunes


def played(tune: Tune) -> list[PlayedNote]:
    """Every written bar once, ties joined, as a program plays it."""
    notes: list[PlayedNote] = []
    at, tie = Fraction(0), None
    for bar in tune.bars:
        for event in bar.events:
            if event.pitch and tie == event.pitch:
                notes[-1] = PlayedNote(notes[-1].onset, at + event.end, notes[-1].midi)
            elif event.pitch:
                notes.append(PlayedNote(at + event.onset, at + event.end, event.pitch.midi))
            tie = event.pitch if event.tied else None
        at += bar.length
    return notes


def usable(found: CorpusTune) -> Tune | None:
    """A tune in one of the guessed metres, every bar right, without endings (they upset the count of bars)."""
    tune = read_book(found.text)[0].tune
    if tune is None or f"{tune.metre.beats}/{tune.metre.unit}" not in METRES or find_problems(tune):
        return None
    whole = all(bar.metre == tune.metre and bar.length == tune.metre.length for bar in tune.bars[1:-1])
    return tune if whole and len(tune.bars) >= 8 and not any(bar.endings for bar in tune.bars) else None


def found_again(tunes: Sequence[CorpusTune], metre_known: bool = False) -> tuple[int, int]:
    """(tunes whose metre and pickup come back exactly, tunes tried). 2/4 for 4/4 and the like counts as wrong."""
    right = of = 0
    for found in tunes:
        tune = usable(found)
        if tune is None:
            continue
        of += 1
        first = next(event.onset for bar in tune.bars[:1] for event in bar.events if event.pitch)
        pickup = tune.bars[0].length - first if tune.has_pickup else -first % tune.metre.length
        metre, guessed = guess_bars(played(tune), tune.metre if metre_known else None)
        right += (metre.beats, metre.unit, guessed) == (tune.metre.beats, tune.metre.unit, pickup)
    return right, of


def main() -> None:
    tunes = list(corpus_tunes())
    for known in (False, True):
        for name, half in (("even", tunes[::2]), ("odd", tunes[1::2])):
            right, of = found_again(half, known)
            print(f"metre {'known' if known else 'guessed'}, {name} half: {right} of {of} ({100 * right / of:.1f} %)")


if __name__ == "__main__":
    main()
