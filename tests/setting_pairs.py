"""Settings of one tune in public-domain collections, and how far their cores agree; run by `make corpus`."""

from __future__ import annotations

import itertools
import random
import re
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from nailhead.core.errors import NailheadError
from nailhead.core.music.core_melody import core_of
from nailhead.core.music.form import read_form
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.layers import Layer
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import Structure, read_structure
from nailhead.core.music.tune import Tune, sounding_notes
from nailhead.core.music.windows import beat_windows, stroke_units, ticks_of
from nailhead.formats.abc import read_tune
from tests.corpora import CorpusTune, corpus_tunes

#: A stretch of a tune that gets one bone: from and to, in whole notes from the start.
Stretch = tuple[Fraction, Fraction]
#: The pitch class that a rule hears in a stretch, above the tonic.
Heard = Callable[[Stretch], int | None]
#: Pairs that agree less are two tunes of one name, those that agree more are copies.
LEAST, MOST = 0.35, 0.97


@dataclass(frozen=True)
class Setting:
    """A tune with its structure, its notes in time, and the stretches of each part."""

    tune: Tune
    structure: Structure
    notes: tuple[tuple[Fraction, Fraction, Pitch], ...]
    parts: tuple[tuple[Stretch, ...], ...]


def _titles(text: str) -> set[str]:
    """The names of a tune, without articles, kinds and punctuation."""
    found = set()
    for match in re.finditer(r"(?m)^T:\s*(.*)$", text):
        name = re.sub(r"\(.*?\)", "", match[1].lower())
        name = re.sub(r",\s*(the|a|an)\b.*|^(the|a|an)\s+|[^a-z ]", "", name)
        name = re.sub(r"( the)? (jig|reel|hornpipe|waltz|clog|polka)$", "", " ".join(name.split()))
        found.add(name)
    return found - {""}


def _read(chosen: CorpusTune) -> Setting | None:
    try:
        tune = read_tune(chosen.text).tune
    except NailheadError:
        return None
    if tune is None or tune.metre.free:
        return None
    tune = suggest_chords(tune)
    structure, ticks = read_structure(tune), ticks_of(tune)
    starts = [Fraction(0), *itertools.accumulate(bar.length for bar in tune.bars)]
    notes = tuple(
        (starts[note.bar] + note.onset, starts[note.bar] + note.onset + note.duration, note.pitch)
        for note in sounding_notes(tune)
    )
    parts = []
    for part in read_form(tune).parts:
        row = []
        for bar in range(part.start, part.stop):
            if tune.bars[bar].length != tune.bars[bar].metre.length:
                continue
            units = stroke_units(tune, structure, bar, beat_windows(tune, structure, bar, ticks))
            if [len(unit) for unit in units] == [2, 1]:  # a waltz's bar has one bone for sure
                units = ((*units[0], *units[1]),)
            row += [
                (starts[bar] + Fraction(unit[0].start, ticks), starts[bar] + Fraction(unit[-1].end, ticks))
                for unit in units
            ]
        parts.append(tuple(row))
    return Setting(tune, structure, notes, tuple(parts))


@lru_cache(maxsize=1)
def _pairs_by_name() -> tuple[tuple[CorpusTune, CorpusTune], ...]:
    by_name = defaultdict(list)
    for chosen in corpus_tunes():
        for name in _titles(chosen.text):
            by_name[name].append(chosen)
    pairs = {
        (str(one), str(other)): (one, other)
        for _, tunes in sorted(by_name.items())
        for one, other in itertools.combinations(tunes, 2)
    }
    return tuple(pairs.values())


def setting_pairs() -> list[tuple[CorpusTune, CorpusTune]]:
    """All pairs with one title."""
    return list(_pairs_by_name())


def _above(setting: Setting, pitch: Pitch) -> int:
    return (pitch.midi - setting.tune.key.tonic.semitone) % 12


def _rules(setting: Setting, chance: random.Random) -> dict[str, Heard]:
    """What each rule hears in a stretch."""

    def inside(stretch: Stretch) -> list[tuple[Fraction, Fraction, Pitch]]:
        return [note for note in setting.notes if note[0] < stretch[1] and note[1] > stretch[0]]

    def on_beat(stretch: Stretch) -> int | None:
        found = inside(stretch)
        return _above(setting, found[0][2]) if found else None

    def longest(stretch: Stretch) -> int | None:
        found = inside(stretch)
        lengths = [min(note[1], stretch[1]) - max(note[0], stretch[0]) for note in found]
        return _above(setting, found[lengths.index(max(lengths))][2]) if found else None

    def at_random(stretch: Stretch) -> int | None:
        found = inside(stretch)
        return _above(setting, chance.choice(found)[2]) if found else None

    starts = [Fraction(0), *itertools.accumulate(bar.length for bar in setting.tune.bars)]
    core = core_of(setting.tune, setting.structure, {})
    bones = sorted(
        (starts[note.bar] + note.at(Layer.BONES), _above(setting, note.pitch))
        for note in core.notes
        if note.layer is Layer.BONES
    )

    def of_core(stretch: Stretch) -> int | None:
        before = [bone for bone in bones if bone[0] <= stretch[0]]
        within = [bone for bone in bones if stretch[0] < bone[0] < stretch[1]]
        silent = not any(note[0] <= stretch[0] < note[1] for note in setting.notes)
        if within and (silent or not before):
            return within[0][1]
        return before[-1][1] if before else None

    return {"beat": on_beat, "longest": longest, "random": at_random, "core": of_core}


def agreement(pairs: list[tuple[CorpusTune, CorpusTune]], differ: bool = True) -> dict[str, float]:
    """By rule the share of stretches in which two settings hear the same pitch class above the tonic.

    Pairs have one metre and parts of equal length; with `differ` those alone that agree on the beats in 35 to 97 % of
    their stretches, else all that are one tune (35 % and more). "pairs" and "stretches" count them.
    """
    chance, read = random.Random(1), lru_cache(maxsize=None)(_read)
    total: dict[str, float] = defaultdict(float)
    for one, other in pairs:
        a, b = read(one), read(other)
        if a is None or b is None or str(a.tune.metre) != str(b.tune.metre):
            continue
        both = [
            row
            for first, second in zip(a.parts, b.parts, strict=False)
            if len(first) == len(second)
            for row in zip(first, second, strict=True)
        ]
        if len(both) < 8:
            continue
        mine, theirs = _rules(a, chance), _rules(b, chance)
        same = {name: sum(mine[name](x) == theirs[name](y) for x, y in both) for name in mine}
        share = same["beat"] / len(both)
        if share < LEAST or (differ and share > MOST):
            continue
        total["pairs"] += 1
        total["stretches"] += len(both)
        for name, count in same.items():
            total[name] += count
    stretches = total["stretches"] or 1
    return {name: (count if name in ("pairs", "stretches") else count / stretches) for name, count in total.items()}


def main() -> None:
    """Prints both tables."""
    for differ, what in ((False, "all pairs that are one tune"), (True, "pairs that differ")):
        found = agreement(setting_pairs(), differ)
        rules = ", ".join(f"{name} {found[name]:.1%}" for name in ("core", "beat", "longest", "random"))
        print(f"core: {what}: {found['pairs']:.0f} pairs, {found['stretches']:.0f} stretches: {rules}")


if __name__ == "__main__":
    main()
