"""Stretches of an arrangement to play again and again, and how a loop of them leads back without a gap."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from nailhead.core.arrange.values import ArrangedBar, Role, Stroke
from nailhead.core.music.metre import ZERO, Time
from nailhead.core.practice.material import Material, Spot


@dataclass(frozen=True, slots=True)
class Span:
    """From `start` to `end` of a bar, in whole notes from its own beginning."""

    spot: Spot
    start: Time
    end: Time

    @property
    def length(self) -> Time:
        return self.end - self.start


@dataclass(frozen=True)
class Loop:
    """`spans` are played round and round; `lead_in` before the first round alone, and the last span gives it its end.

    With `pickup` a round ends in the upbeat that the first bar has, so that it leads back as the tune does.
    """

    spans: tuple[Span, ...]
    lead_in: tuple[Span, ...] = ()
    pickup: bool = False

    @property
    def length(self) -> Time:
        """One round, in whole notes."""
        return sum((span.length for span in self.spans), ZERO)


def whole(material: Material, spot: Spot) -> Span:
    return Span(spot, ZERO, material.bars[spot].length)


def loop_of(material: Material, spans: Sequence[Span]) -> Loop:
    """A loop over spans. Where an upbeat leads into their first bar, and the last one has its beats to spare, each
    round ends in that upbeat (handbook §8: the pickup trick).

    Spare are beats in which no melody note begins, or which are the upbeat of the phrase behind; an upbeat that is
    looped itself needs none.
    """
    spans = tuple(spans)
    first, last = spans[0], spans[-1]
    if first.start or last.end != material.bars[last.spot].length:
        return Loop(spans)
    lead = _upbeat_into(material, first.spot)
    if lead is None:
        return Loop(spans)
    missing = material.written(last.spot).metre.length - last.length if not material.offset(last.spot) else ZERO
    if missing == lead.length:
        return Loop((*spans, lead), (lead,), pickup=True)  # the tune's own bar leaves the room
    cut = last.end - lead.length
    if cut > ZERO and (_rests_from(material.bars[last.spot], cut) or _turns_at(material, last.spot, cut)):
        return Loop((*spans[:-1], replace(last, end=cut), lead), (lead,), pickup=True)
    return Loop(spans, (lead,))


def _upbeat_into(material: Material, spot: Spot) -> Span | None:
    """The upbeat that is played right before a bar: a bar of its own somewhere in the tune, or before a phrase as much
    of the bar before it as the tune's own upbeat takes.
    """
    for before, after in zip(material.order, material.order[1:], strict=False):
        if after.index == spot.index and material.offset(before):
            return whole(material, before)
    inside = next((one for one, after in zip(material.order, material.order[1:], strict=False) if after == spot), None)
    if inside is None or not material.offset(material.order[0]):
        return None
    end = material.bars[inside].length
    start = end - material.bars[material.order[0]].length
    return Span(inside, start, end) if start > ZERO and _turns_at(material, inside, start) else None


def _turns_at(material: Material, spot: Spot, onset: Time) -> bool:
    """Does a bar end a phrase, and the upbeat of the next one begin in it at a moment?"""
    ends = {stop - 1 for _, stop in material.ladder.structure.phrases}
    return spot.index in ends and any(stroke.onset == onset for stroke in _sung(material.bars[spot]))


def _rests_from(bar: ArrangedBar, onset: Time) -> bool:
    """Does no melody note begin at a moment of a bar or after it?"""
    return all(stroke.onset < onset for stroke in _sung(bar))


def _sung(bar: ArrangedBar) -> Iterator[Stroke]:
    """The strokes in which a melody note begins."""
    for stroke in bar.strokes:
        if any(note.role in (Role.MELODY, Role.FILL) and not note.held for note in stroke.notes):
            yield stroke


def cut(bar: ArrangedBar, start: Time, end: Time) -> ArrangedBar:
    """What a bar plays between two of its times, beginning at 0; what rings in from before rests."""
    strokes = []
    for stroke in bar.strokes:
        if stroke.end <= start or stroke.onset >= end:
            continue
        begins, stops = max(stroke.onset, start), min(stroke.end, end)
        touches = stroke.touches if stroke.onset >= start else ()
        strokes.append(replace(stroke, onset=begins - start, duration=stops - begins, touches=touches))
    return replace(bar, strokes=tuple(strokes), shapes=(), kept=(), moved=(), early=())


def join_span(material: Material, before: Spot, after: Spot) -> tuple[Span, Span]:
    """The place between two bars: the last half of the one, the first half of the other, cut at a beat."""
    left, right = material.bars[before], material.bars[after]
    cut = _middle(material, before)
    stop = _middle(material, after)
    start = cut if ZERO < cut < left.length else ZERO
    end = stop if ZERO < stop < right.length else right.length
    return Span(before, start, left.length), Span(after, ZERO, end)


def join_title(material: Material, before: Spot, after: Spot) -> str:
    """How a join is called: by the bars' numbers, an upbeat by what it is."""
    first, last = material.written(before).number, material.written(after).number
    if material.offset(before):
        return f"From the upbeat into bar {last}"
    if material.offset(after):
        return f"From bar {first} into the upbeat"
    return f"From bar {first} into {last}" if first != last else f"Bar {first} into itself"


def halves(material: Material, spot: Spot) -> tuple[Span, Span] | None:
    """Both halves of a bar, cut at a beat; None for a bar of one beat."""
    bar, cut = material.bars[spot], _middle(material, spot)
    if not ZERO < cut < bar.length:
        return None
    return Span(spot, ZERO, cut), Span(spot, cut, bar.length)


def _middle(material: Material, spot: Spot) -> Time:
    """The beat nearest to the middle of a bar, the later of two."""
    bar, offset = material.bars[spot], material.offset(spot)
    beats = [onset - offset for onset in material.written(spot).metre.beat_onsets]
    inside = [beat for beat in beats if ZERO < beat < bar.length]
    return min(inside, key=lambda beat: (abs(beat - bar.length / 2), -beat), default=ZERO)
