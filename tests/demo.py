"""The tunes of the invented shelf, for tests."""

from __future__ import annotations

from nailhead.core.music.tune import Tune
from nailhead.demo.shelf import TUNES
from nailhead.formats.abc import read_book


def demo_tunes() -> list[Tune]:
    return [
        entry.tune
        for file in sorted(TUNES.glob("*.abc"))
        for entry in read_book(file.read_text(encoding="utf-8"))
        if entry.tune
    ]
