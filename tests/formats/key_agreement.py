"""How often the key that the melody speaks for is the printed one: `python -m tests.formats.key_agreement`."""

from __future__ import annotations

from nailhead.core.music.keyfinding import key_warning, rank_keys
from nailhead.formats.abc import read_book
from tests.corpora import CORPORA, CorpusTune, corpus_tunes


def agreement(tunes: list[CorpusTune]) -> tuple[int, int, int, int]:
    """(tonic and mode are the printed ones, only the tonic is, tunes contradicted by a warning, tunes)."""
    both = tonic = warned = count = 0
    for found in tunes:
        tune = read_book(found.text)[0].tune
        if tune is None:
            continue
        best = rank_keys(tune)[0].key
        same = best.tonic.semitone == tune.key.tonic.semitone
        count += 1
        both += same and best.mode == tune.key.mode
        tonic += same and best.mode != tune.key.mode
        warned += bool(key_warning(tune))
    return both, tonic, warned, count


def main() -> None:
    for corpus in CORPORA:
        both, tonic, warned, count = agreement(list(corpus_tunes(corpus)))
        print(f"{corpus}: {both} of {count} ({100 * both / count:.1f} %), tonic alone {tonic} more, warned {warned}")


if __name__ == "__main__":
    main()
