"""A bar's melody with some of its notes: a layer of the tune, or a layer and what a rung brings back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from nailhead.core.arrange.left.context import BarContext, Segment
from nailhead.core.arrange.left.placing import NoteToPlace, Spot, place_melody
from nailhead.core.arrange.rows.hands import Idiom, Rung
from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.layers import Core, Layer
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import Structure

#: Where notes that are kept are struck: own onset -> onset here.
Kept = Mapping[Time, Time]


def keep_notes(segments: Sequence[Segment], kept: Kept, length: Time) -> tuple[Segment, ...]:
    """The melody of a bar of some length with the kept notes alone; each sounds until the next, or a rest.

    What is held from the bar before stays. A tuplet of which a note is gone or moved is none any more.
    """
    items: list[Segment] = []
    broken = _broken_tuplets(segments, kept)
    for place, part in enumerate(segments):
        if part.spot is None or part.held:
            items.append(part)
        elif part.onset in kept:
            at = kept[part.onset]
            tuplet = None if place in broken else part.tuplet
            own = part.onset if at != part.onset else None
            items.append(replace(part, onset=at, tuplet=tuplet, own=own))
    items.sort(key=lambda part: (part.onset, part.spot is not None))
    found: list[Segment] = []
    for part in items:
        if found and found[-1].onset == part.onset and found[-1].spot is None:
            found.pop()
        found.append(part)
    if found and found[0].onset > 0:
        found.insert(0, Segment(Time(0), found[0].onset, None, None))
    ends = [*(part.onset for part in found[1:]), length]
    return tuple(
        part if part.duration == end - part.onset else replace(part, duration=end - part.onset)
        for part, end in zip(found, ends, strict=True)
    )


def _broken_tuplets(segments: Sequence[Segment], kept: Kept) -> set[int]:
    """Places of notes whose tuplet is not kept whole."""
    broken: set[int] = set()
    group: list[int] = []
    for place, part in enumerate(segments):
        if part.tuplet is None:
            group = []
            continue
        group.append(place)
        if len(group) == part.tuplet.size:
            whole = all(
                segments[one].spot is None or kept.get(segments[one].onset) == segments[one].onset for one in group
            )
            if not whole:
                broken |= set(group)
            group = []
    return broken | set(group)


#: Contexts by the first of equal bars.
Contexts = Mapping[int, BarContext]


@dataclass(frozen=True)
class Layers:
    """The contexts of each layer, as the tune has its figures and `even`: with every note on a beat of the hand's."""

    as_tuned: Mapping[Layer, Contexts]
    even: Mapping[Layer, Contexts]

    def __getitem__(self, layer: Layer) -> Contexts:
        return self.as_tuned[layer]

    def of(self, rung: Rung) -> Contexts:
        """What a rung plays at least."""
        return (self.even if rung.even else self.as_tuned)[rung.layer]


def lay_layers(full: Contexts, structure: Structure, core: Core, idiom: Idiom, following: Mapping[int, int]) -> Layers:
    """Every layer that a rung of a way of playing plays or may thin to."""
    as_tuned = {
        layer: _layer_contexts(full, structure, core, layer, False, following) for layer in (*idiom.layers, Layer.FULL)
    }
    even = {
        layer: _layer_contexts(full, structure, core, layer, True, following)
        for layer in dict.fromkeys(rung.layer for rung in idiom.rungs if rung.even)
    }
    return Layers(as_tuned, even)


def _layer_contexts(
    full: Contexts, structure: Structure, core: Core, layer: Layer, even: bool, following: Mapping[int, int]
) -> Contexts:
    """The contexts of a layer: its notes where the full melody places them, fingered by themselves."""
    if layer is Layer.FULL:
        return full
    bare = {}
    for first, context in full.items():
        notes = core.of_layer(layer, first)
        kept = {note.onset: note.evened(layer) if even else note.at(layer) for note in notes}
        bare[first] = replace(context, segments=keep_notes(context.segments, kept, context.bar.length))
    fingered = _fingered(bare, structure)
    return {
        first: replace(context, lead_in=_first_pitch(fingered, structure, following.get(first)))
        for first, context in fingered.items()
    }


def _first_pitch(contexts: Mapping[int, BarContext], structure: Structure, index: int | None) -> Pitch | None:
    if index is None:
        return None
    return next((part.pitch for part in contexts[structure.classes[index]].segments if part.pitch), None)


def _fingered(contexts: Mapping[int, BarContext], structure: Structure) -> dict[int, BarContext]:
    """The same places under the fingers that come easiest when only these notes are played."""
    notes: list[NoteToPlace] = []
    owners: list[tuple[int, int, int]] = []
    setup: Setup | None = None
    for index, first in enumerate(structure.classes):
        context = contexts[first]
        setup = context.setup
        for place, part in enumerate(context.segments):
            if part.spot is None or part.held or part.pitch is None:
                continue
            notes.append(NoteToPlace(setup.cents_of(part.pitch), part.duration, (part.spot.place,)))
            owners.append((index, first, place))
    if setup is None or not notes:
        return dict(contexts)
    spots: dict[tuple[int, int], Spot] = {}
    for (index, first, place), spot in zip(owners, place_melody(notes, setup).spots, strict=True):
        if index == first:
            spots[first, place] = spot
    found = {}
    for first, context in contexts.items():
        segments = tuple(
            replace(part, spot=spots.get((first, place), part.spot)) if part.spot and not part.held else part
            for place, part in enumerate(context.segments)
        )
        found[first] = replace(context, segments=segments)
    return found
