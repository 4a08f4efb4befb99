"""Public-domain tunes in ABC that music21 carries: for tests only, read from the installed package."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune

CORPORA = ("oneills1850", "airdsAirs", "ryansMammoth", "nottingham-dataset")


@dataclass(frozen=True)
class CorpusTune:
    corpus: str
    name: str
    number: int
    text: str

    def __str__(self) -> str:
        return f"{self.corpus}/{self.name} X:{self.number}"


def corpus_folder(corpus: str) -> Path:
    """Where the package keeps a corpus."""
    import importlib.util

    spec = importlib.util.find_spec("music21")
    assert spec and spec.origin
    return Path(spec.origin).parent / "corpus" / corpus


def corpus_tunes(*corpora: str) -> Iterator[CorpusTune]:
    """Every tune of the corpora in file order, its text cut from its file."""
    for corpus in corpora or CORPORA:
        for path in sorted(corpus_folder(corpus).rglob("*.abc")):
            text = path.read_text(encoding="utf-8", errors="replace")
            for part in re.split(r"(?m)^(?=X:)", text):
                if match := re.match(r"X:\s*(\d+)", part):
                    yield CorpusTune(corpus, path.stem, int(match[1]), part)


def sized(usual: int, great: int) -> int:
    """How many tunes a test takes; with LONG in the environment the great sample (`make test-long`)."""
    return great if os.environ.get("LONG") else usual


@lru_cache(maxsize=1)
def _by_size() -> tuple[tuple[CorpusTune, ...], ...]:
    return tuple(sorted((tuple(corpus_tunes(corpus)) for corpus in CORPORA), key=len))


def sample(count: int) -> list[CorpusTune]:
    """A fixed sample: every n-th tune of each corpus, the small corpora whole, the rest shared evenly."""
    chosen: list[CorpusTune] = []
    by_size = _by_size()
    for done, tunes in enumerate(by_size):
        share = min(len(tunes), (count - len(chosen)) // (len(by_size) - done))
        chosen += [tunes[index * len(tunes) // share] for index in range(share)]
    return chosen


def readable(count: int) -> list[Tune]:
    """The tunes of a sample as they are read."""
    return [tune for chosen in sample(count) if (tune := read_tune(chosen.text).tune)]
