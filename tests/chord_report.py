"""Do suggested chords come home? How often a part of a real tune that closes on its tonic is led into."""

from __future__ import annotations

import sys

from nailhead.core.music.harmonise import LEADING, MODAL_LEADING, suggest_chords, with_chords
from nailhead.core.music.structure import harmony_by_bar
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book
from tests.corpora import sample


def closes(tune: Tune) -> list[tuple[int, bool]]:
    """(last bar of a part that closes on its tonic, is it led into?), for the chords that are suggested.

    The lead may be in the bar before, or in the last bar before its tonic: the dominant, in modal tunes the flat
    seventh or the minor dominant too (common practice).
    """
    chorded = suggest_chords(with_chords(tune, [()] * len(tune.bars)))
    harmony = harmony_by_bar(chorded.bars)
    found = []
    for index, bar in enumerate(chorded.bars):
        if index == 0 or not (bar.ends_section or index + 1 == len(chorded.bars)):
            continue
        chords = [span.chord for span in harmony[index] if span.chord]
        last = next((event.pitch for event in reversed(bar.events) if event.pitch), None)
        home = bar.key.tonic
        if not chords or chords[-1].root != home or last is None or last.midi % 12 not in chords[-1].tones:
            continue
        before = [span.chord for span in harmony[index - 1] if span.chord] + chords[:-1]
        leading = LEADING.get(bar.key.mode, MODAL_LEADING)
        found.append((index, any(chord.root.fifths - home.fifths in leading for chord in before)))
    return found


def led(tunes: list[Tune]) -> tuple[int, int]:
    """How many closes are led into, of how many."""
    found = [one for tune in tunes for _, one in closes(tune)]
    return sum(found), len(found)


def real_tunes(count: int) -> list[Tune]:
    """The sample's tunes that can be read."""
    read = (read_book(chosen.text)[0].tune for chosen in sample(count))
    return [tune for tune in read if tune is not None and not tune.metre.free]


def main(count: int = 300) -> None:
    """Prints the share."""
    yes, of = led(real_tunes(count))
    print(f"chords: {yes} of {of} closes on the tonic are led into by the dominant ({yes / of:.1%})")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
