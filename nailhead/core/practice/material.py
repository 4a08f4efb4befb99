"""What there is to learn of an arrangement: the bars as they are played, which are new, which come back.

Two bars are the same when the hands do the same: strings, frets, fingers of the right hand, slurs and times. What a
player has learnt is known by that content, not by a place, so that it survives an edit elsewhere.
"""

from __future__ import annotations

import hashlib
import itertools
from dataclasses import dataclass

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.performing import perform
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Stroke
from nailhead.core.music.metre import Time
from nailhead.core.music.tune import Bar

#: Signs of a content's name.
NAME = 12


@dataclass(frozen=True, slots=True)
class Spot:
    """Written bar `index`; `again` as it is played from the second time on, where that is otherwise."""

    index: int
    again: bool = False


@dataclass(frozen=True)
class Material:
    """An arrangement to learn. `order` are the spots as played, `bars` what is played on each.

    `content` names what the hands do there, `first` is the spot where that is met for the first time, in playing order.
    """

    ladder: Ladder
    order: tuple[Spot, ...]
    bars: dict[Spot, ArrangedBar]
    content: dict[Spot, str]
    first: dict[Spot, Spot]

    @property
    def new(self) -> tuple[Spot, ...]:
        """Each different bar once, in the order of playing."""
        return tuple(dict.fromkeys(self.first[spot] for spot in self.order))

    @property
    def joins(self) -> tuple[tuple[Spot, Spot], ...]:
        """Each different step from a bar to the next, in the order of playing, repeats and endings with them."""
        found: dict[tuple[str, str], tuple[Spot, Spot]] = {}
        for before, after in itertools.pairwise(self.order):
            found.setdefault((self.content[before], self.content[after]), (before, after))
        return tuple(found.values())

    def written(self, spot: Spot) -> Bar:
        return self.ladder.tune.bars[spot.index]

    def offset(self, spot: Spot) -> Time:
        """How far into a full bar it begins."""
        return self.ladder.structure.offsets[spot.index]

    def same_as(self, spot: Spot) -> tuple[Spot, ...]:
        """Every spot with the same content, itself among them, in written order."""
        name = self.content[spot]
        return tuple(sorted((one for one in self.bars if self.content[one] == name), key=_place))


def _place(spot: Spot) -> tuple[int, bool]:
    return spot.index, spot.again


def material_of(ladder: Ladder, arrangement: Arrangement) -> Material:
    """What is played, bar by bar; `ladder` has the kept cells in it."""
    order: list[Spot] = []
    bars: dict[Spot, ArrangedBar] = {}
    firsts: dict[int, ArrangedBar] = {}
    for played in perform(ladder, arrangement):
        first = firsts.setdefault(played.index, played.bar)
        spot = Spot(played.index, played.time > 1 and played.bar.strokes != first.strokes)
        order.append(spot)
        bars.setdefault(spot, played.bar)
    content = {spot: content_of(bar, ladder.tune.bars[spot.index]) for spot, bar in bars.items()}
    met: dict[str, Spot] = {}
    for spot in order:
        met.setdefault(content[spot], spot)
    return Material(ladder, tuple(order), bars, content, {spot: met[name] for spot, name in content.items()})


def content_of(bar: ArrangedBar, written: Bar) -> str:
    """A short name of what the hands do in a bar: the same for the same, whatever the bar's number."""
    return name_of(str(written.metre), *(_stroke(stroke) for stroke in bar.strokes))


def name_of(*parts: str) -> str:
    """A short name for some texts, stable between runs."""
    return hashlib.blake2s("\n".join(parts).encode()).hexdigest()[:NAME]


def _stroke(stroke: Stroke) -> str:
    touches = " ".join(
        f"{touch.by or ''}{touch.way}{'x' if touch.muted else ''}" + ",".join(map(_note, touch.notes))
        for touch in stroke.touches
    )
    shake = f"{stroke.shake.trembling}{stroke.shake.fret}" if stroke.shake else ""
    return f"{stroke.onset}+{stroke.duration} {touches} {shake}"


def _note(note: FrettedNote) -> str:
    slur = f"{note.slur.ornament}{note.slur.start}{note.slur.slow}{note.slur.grace}" if note.slur else ""
    return f"{note.place.string}:{note.place.fret}{'=' if note.held else ''}{note.bend or ''}{slur}"
