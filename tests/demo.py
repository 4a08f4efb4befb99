"""The tunes of the invented shelf, for tests."""

from __future__ import annotations

from nailhead.core.music.tune import Tune
from nailhead.demo.shelf import TUNES
from nailhead.formats.abc import read_book


def all_demo_tunes() -> list[Tune]:
    """Every tune of the shelf."""
    return [
        entry.tune
        for file in sorted(TUNES.glob("*.abc"))
        for entry in read_book(file.read_text(encoding="utf-8"))
        if entry.tune
    ]


def demo_tunes() -> list[Tune]:
    """Those in semitones, for frets and for readers that know no commas."""
    return [tune for tune in all_demo_tunes() if not any(pitch.commas for pitch in tune.pitches)]
