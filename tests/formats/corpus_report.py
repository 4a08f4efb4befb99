"""`make corpus`: the ABC reader against music21 on every tune of the four corpora."""

from __future__ import annotations

import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor

from tests.corpora import CORPORA, corpus_tunes
from tests.formats.music21_agreement import difference


def main() -> None:
    step = int(sys.argv[1]) if len(sys.argv) > 1 else 1
    with ProcessPoolExecutor(2) as pool:
        for corpus in CORPORA:
            tunes = list(corpus_tunes(corpus))[::step]
            said = list(pool.map(difference, tunes, chunksize=16))
            agree = said.count("")
            print(f"{corpus}: {agree} of {len(tunes)} agree ({100 * agree / len(tunes):.1f} %)")
            kinds = Counter(line.split(" ")[0] + " " + line.split(" ")[1] for line in said if line)
            for kind, count in kinds.most_common():
                print(f"   {count} x {kind}")
            for tune, line in zip(tunes, said, strict=True):
                if line:
                    print(f"   {tune}: {line}")


if __name__ == "__main__":
    main()
