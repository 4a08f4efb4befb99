"""`make corpus`: the ABC reader against music21 on every tune of the four corpora.

`--raw` gives music21 the tunes as they stand, without `bare`; `--every N` takes each n-th tune.
"""

from __future__ import annotations

import argparse
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial

from tests.corpora import CORPORA, corpus_tunes
from tests.formats.music21_agreement import difference


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--raw", action="store_true")
    parser.add_argument("--every", type=int, default=1)
    options = parser.parse_args()
    total = agreed = 0
    with ProcessPoolExecutor(2) as pool:
        for corpus in CORPORA:
            tunes = list(corpus_tunes(corpus))[:: options.every]
            said = list(pool.map(partial(difference, stripped=not options.raw), tunes, chunksize=16))
            total, agreed = total + len(tunes), agreed + said.count("")
            print(f"{corpus}: {said.count('')} of {len(tunes)} agree ({100 * said.count('') / len(tunes):.1f} %)")
            for kind, count in Counter(" ".join(line.split()[:2]) for line in said if line).most_common():
                print(f"   {count} x {kind}")
            for tune, line in zip(tunes, said, strict=True):
                if line and not options.raw:
                    print(f"   {tune}: {line}")
    print(f"all: {agreed} of {total} agree ({100 * agreed / total:.1f} %)")


if __name__ == "__main__":
    main()
