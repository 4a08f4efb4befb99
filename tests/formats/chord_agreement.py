"""How often a proposal's root is the printed chord's, beat by beat, and how often the tonic's would be.

`python -m tests.formats.chord_agreement` prints the figures of docs/readers.md.
"""

from __future__ import annotations

from nailhead.core.music.harmonise import propose_chords, with_chords
from nailhead.core.music.structure import chord_at, harmony_by_bar
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book
from nailhead.formats.musicxml.reader import read_musicxml
from tests.corpora import corpus_folder, corpus_tunes


def compare(tune: Tune) -> tuple[int, int, int]:
    """(beats where our first proposal has the printed root, beats where the tonic is it, beats with a chord)."""
    printed = harmony_by_bar(tune.bars)
    proposal = propose_chords(with_chords(tune, [()] * len(tune.bars)))[0]
    ours = harmony_by_bar(with_chords(tune, proposal.chords).bars)
    met = tonic = beats = 0
    for index, bar in enumerate(tune.bars):
        for onset in bar.metre.beat_onsets:
            chord, mine = chord_at(printed[index], onset), chord_at(ours[index], onset)
            if onset >= bar.length or chord is None:
                continue
            beats += 1
            met += mine is not None and mine.root.semitone == chord.root.semitone
            tonic += chord.root.semitone == bar.key.tonic.semitone
    return met, tonic, beats


def tunes_with_chords(corpus: str) -> list[Tune]:
    """The tunes of a corpus with a printed chord in at least half of their bars."""
    found = [read_book(tune.text)[0].tune for tune in corpus_tunes(corpus)]
    found += [read_musicxml(path.read_bytes()).tune for path in sorted(corpus_folder(corpus).glob("*.mxl"))]
    return [tune for tune in found if tune and 2 * sum(bool(bar.chords) for bar in tune.bars) >= len(tune.bars)]


def agreement(*corpora: str) -> tuple[int, int, int]:
    """The sums of `compare` over the corpora."""
    rows = [compare(tune) for corpus in corpora for tune in tunes_with_chords(corpus)]
    return tuple(map(sum, zip(*rows, strict=True))) if rows else (0, 0, 0)  # type: ignore[return-value]


def main() -> None:
    for corpus in ("nottingham-dataset", "leadSheet"):
        for tune in tunes_with_chords(corpus):
            met, tonic, beats = compare(tune)
            print(f"{corpus}, {tune.title}: ours {met}, always the tonic {tonic}, of {beats} beats")


if __name__ == "__main__":
    main()
