"""The versions of a bar's melody that a rung tries: its layer, what it brings back, what it lets go for a roll."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

from nailhead.core.arrange.fit.catching import EVEN, caught
from nailhead.core.arrange.fit.fills import with_figures, with_fill, with_run
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.moving import Placing, placings, usual
from nailhead.core.arrange.left.context import BarContext, Segment
from nailhead.core.arrange.left.layered import Kept, Layers, keep_notes
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.music.layers import Layer
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import beat_words

#: What a fill at the end of a phrase is worth.
FILL = 30
#: And two bass notes that step to a new chord.
BASS_RUN = 20
#: So many notes in a row are a run.
RUN_NOTES = 4
#: What a scale run that comes whole is worth.
RUN = 25
#: What a note is worth that comes early in a solo.
PUSH = 12
#: What a note of the layer costs that goes for a roll.
GONE = 6


@dataclass(frozen=True)
class Version:
    """A bar's melody, the places it may lie in, what it costs to play this one, and what is said of it."""

    context: BarContext
    placings: tuple[Placing, ...]
    cost: int = 0
    said: str = ""


class Versions:
    """Finds them for one way of playing; each is worked out once. `layers` are contexts by layer and class of bars."""

    def __init__(self, layers: Layers, idiom: Idiom) -> None:
        self.layers, self.idiom = layers, idiom
        self._found: dict[tuple[object, ...], tuple[Version, ...]] = {}
        self._contexts: dict[tuple[object, ...], BarContext] = {}
        self._grids: dict[int, Grid] = {}
        self._places: dict[tuple[int, bool, bool], tuple[Placing, ...]] = {}

    def base(self, first: int, rung: int) -> BarContext:
        """The bar's notes of the layer that the rung plays."""
        return self.layers.of(self.idiom.rung(rung))[first]

    def of(self, first: int, rung: int) -> tuple[Version, ...]:
        """The versions a rung tries for a class of bars."""
        row, idiom = self.idiom.rung(rung), self.idiom
        adds = tuple(idiom.has(what, rung) for what in (Adds.MOVES, Adds.FLOW, Adds.SOLO, Adds.PUSHES))
        key = (first, row.layer, row.catches, row.thins, adds)
        if key not in self._found:
            found = self._played(first, rung)
            self._found[key] = tuple(self._solo(found)) if idiom.has(Adds.SOLO, rung) else tuple(found)
        return self._found[key]

    def _played(self, first: int, rung: int) -> Iterator[Version]:
        row, base = self.idiom.rung(rung), self.base(first, rung)
        if row.catches:
            version = caught(
                self._grid(first),
                self.layers[row.layer][first],
                self._evened(first, rung),
                self._stays(first, rung),
                self.idiom,
                rung,
                self._keeping(first, base),
            )
            yield Version(version.context, (version.placing,), version.cost, version.said)
            if row.thins:
                fewer = self.layers[row.thins][first]
                yield Version(fewer, (usual(fewer),), GONE * _gone(version.context, fewer))
            return
        places = self._placings(base, rung)
        if self._evened(first, rung):
            yield Version(base, places, said=EVEN)
            return
        if row.layer is Layer.FULL:
            # Who plays every note plays it the melodic way where the notes run.
            yield Version(base, tuple(placing for placing in places if not placing.spreads))
            yield Version(base, tuple(placing for placing in places if placing.spreads), -RUN)
        thinned = list(self._thinned(first, base, row.thins, rung)) if row.thins else []
        runs: list[Version] = []
        if row.thins and self.idiom.right.spreads and self.idiom.has(Adds.MOVES, rung):
            runs = [one for one in self._with_runs(first, base, row.thins, rung) if one.placings]
        # Between every note and the bones lies what is hardly ever played: a run comes whole or not at all.
        if row.layer is not Layer.FULL and len(thinned) < (1 if runs else 2):
            yield Version(base, places)
        yield from thinned[-1:] if runs else thinned
        if row.thins and self.idiom.has(Adds.PUSHES, rung):
            yield from self._pushed(first, base, row.thins)
        yield from runs

    def _evened(self, first: int, rung: int) -> dict[Time, Time]:
        """The notes that the rung strikes on a beat although its layer has them between two: own onset -> beat."""
        layer = self.layers[self.idiom.rung(rung).layer][first]
        between = {part.source: part.onset for part in layer.segments if part.spot and not part.held}
        base = (part for part in self.base(first, rung).segments if part.spot and not part.held)
        return {part.source: part.onset for part in base if part.onset != between[part.source]}

    def _grid(self, first: int) -> Grid:
        """The full melody of a bar in its usual places."""
        if first not in self._grids:
            full = self.layers[Layer.FULL][first]
            self._grids[first] = Grid(full, usual(full).spots, {})
        return self._grids[first]

    def _keeping(self, first: int, base: BarContext) -> Callable[[Kept], BarContext]:
        """Makes the bar with the notes that are kept; the same notes are the same bar on every rung."""
        full = self.layers[Layer.FULL][first]

        def keep(kept: Kept) -> BarContext:
            key = (first, base.lead_in, *sorted(kept.items()))
            if key not in self._contexts:
                segments = keep_notes(full.segments, kept, full.bar.length)
                self._contexts[key] = replace(base, segments=segments)
            return self._contexts[key]

        return keep

    def _placings(self, context: BarContext, rung: int) -> tuple[Placing, ...]:
        key = (id(context), self.idiom.has(Adds.MOVES, rung), rung >= self.idiom.right.drone_sings)
        if key not in self._places:
            self._places[key] = tuple(placings(context, rung, self.idiom))
        return self._places[key]

    def _stays(self, first: int, rung: int) -> frozenset[Time]:
        """Own onsets of the notes that the rung below plays at least."""
        if rung > 2 and self.idiom.rung(rung - 1).catches:
            context = self.of(first, rung - 1)[0].context
        else:
            context = self.base(first, max(1, rung - 1))
        return frozenset(part.source for part in context.segments if part.spot and not part.held)

    def _thinned(self, first: int, base: BarContext, thins: Layer, rung: int) -> Iterator[Version]:
        """Fewer and fewer of the notes that the thinnest layer does without: those between its bones go first."""
        bones = self.layers[thins][first]
        stay = {part.source for part in bones.segments if part.spot and not part.held}
        extra = [part for part in base.segments if part.spot and not part.held and part.source not in stay]
        if not extra:
            return
        here = {part.source: part.onset for part in base.segments if part.spot and not part.held}
        first_gone = [part for part in extra if not _leads_on(part.onset, base)]
        for gone in ([*first_gone], [*extra]) if len(first_gone) < len(extra) else ([*extra],):
            if not gone:
                continue
            left = {part.source for part in gone}
            kept: dict[Time, Time] = {own: at for own, at in here.items() if own not in left}
            version = self._keeping(first, base)(kept)
            yield Version(version, self._placings(version, rung), GONE * len(gone))

    def _pushed(self, first: int, base: BarContext, thins: Layer) -> Iterator[Version]:
        """The thinnest layer with its last note on a later beat a count early; never the first note of the bar."""
        full, bones = self.layers[Layer.FULL][first], self.layers[thins][first]
        parts = [part for part in bones.segments if part.spot and not part.held]
        beats = {onset - full.offset for onset in full.bar.metre.beat_onsets}
        for before, part in () if full.stops else reversed(list(pairwise(parts))):
            early = part.onset - full.count
            if part.onset in beats and part.tuplet is None and early > before.onset:
                kept = {one.source: early if one is part else one.onset for one in parts}
                context = self._keeping(first, base)(kept)
                said = f"The note {beat_words(part.onset, full.offset, full.bar.metre.unit)} comes early."
                yield Version(context, (usual(context),), GONE * _gone(base, bones) - PUSH, said)
                return

    def _with_runs(self, first: int, base: BarContext, thins: Layer, rung: int) -> Iterator[Version]:
        """Scale runs come whole, in the melodic way, over what else the bar plays."""
        full, bones = self.layers[Layer.FULL][first], self.layers[thins][first]
        run = scale_run(full)
        if not run:
            return
        for other in (base, bones):
            kept = {part.source: part.onset for part in other.segments if part.spot and not part.held}
            kept = {
                own: own if run[0] <= at <= run[-1] else at for own, at in kept.items() if not run[0] <= own <= run[-1]
            }
            kept |= {own: own for own in run}
            context = self._keeping(first, base)(kept)
            said = "The run comes whole, every note on another string."
            spread = tuple(placing for placing in self._placings(context, rung) if placing.spreads)
            yield Version(context, spread, -RUN, said)

    def _solo(self, found: Iterator[Version]) -> Iterator[Version]:
        """With a fill where a phrase ends, a walk or, where every finger strikes by itself, a figure."""
        for version in found:
            walk = with_fill(version.context)
            fills = [("Walks on to the next phrase.", walk)] if walk else []
            if self.idiom.right.fingered:
                fills += [
                    (f"Fills in to the next phrase: {figure.name}.", filled)
                    for figure, filled in with_figures(version.context)
                ]
            if not fills:
                yield version
                if run := with_run(version.context, self.idiom.chromatic):
                    said = f"Steps to the {version.context.next_chord} chord."
                    yield Version(run, (usual(run),), version.cost - BASS_RUN, f"{version.said} {said}".strip())
            for said, filled in fills:
                yield Version(filled, (usual(filled),), version.cost - FILL, f"{version.said} {said}".strip())


def _gone(context: BarContext, fewer: BarContext) -> int:
    """How many notes fewer there are."""
    return sum(part.spot is not None for part in context.segments) - sum(
        part.spot is not None for part in fewer.segments
    )


def scale_run(full: BarContext) -> tuple[Time, ...]:
    """Onsets of the longest row of notes a count apart that walks by steps; () for fewer than four."""
    rows: list[list[Segment]] = [[]]
    for part in full.segments:
        last = rows[-1][-1] if rows[-1] else None
        walks = (
            last is not None
            and part.pitch is not None
            and last.pitch is not None
            and part.onset - last.onset == full.count
            and abs(part.pitch.diatonic - last.pitch.diatonic) == 1
        )
        if part.pitch is None or part.held or part.tuplet:
            rows.append([])
        elif walks:
            rows[-1].append(part)
        else:
            rows.append([part])
    longest = max(rows, key=len)
    return tuple(part.onset for part in longest) if len(longest) >= RUN_NOTES else ()


def _leads_on(onset: Time, context: BarContext) -> bool:
    """Is it on the bar's last beat, where a roll has a strong slot that leads on?"""
    beats = context.bar.metre.beat_onsets
    return onset + context.offset >= (beats[-1] if beats else 0)
