"""What each window of a bar may keep of the melody: its beats, and the bones out of those."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import NamedTuple

from nailhead.core.music.melody_facts import LEAP, Facts, Note
from nailhead.core.music.tune import Tune
from nailhead.core.music.windows import Window, runs

#: A figure that begins off the beat is the tune's character where it comes in so many of its full bars.
CHARACTER = Fraction(1, 2)


class Pick(NamedTuple):
    """A note of a bar, by its place among the bar's notes, and the tick on which a layer strikes it."""

    place: int
    at: int


#: What a window keeps.
Option = tuple[Pick, ...]


def begun_in(notes: Sequence[Note], window: Window) -> tuple[Note, ...]:
    """The notes that begin in a window."""
    return tuple(note for note in notes if window.start <= note.onset < window.end)


def beat_window(
    facts: Facts, bar: int, window: Window, gap: int, figured: bool
) -> tuple[int, tuple[Note, ...], tuple[Option, ...]]:
    """The notes that begin in a beat, and what may be kept of them.

    `gap` is what a run is faster than; in a tune that is `figured` what begins off the beat behind a long note stays.
    """
    notes, start = facts.bars[bar], window.start
    begun = begun_in(notes, window)
    ringing = next((note for note in notes if note.onset < start < note.end), None)
    early = ringing if ringing and ringing.onset >= start - (window.end - start) / 2 else None
    if not begun:
        return start, begun, ((Pick(early.place, start),), ()) if early else ((),)
    own = tuple(Pick(note.place, note.onset) for note in begun)
    after = next((note.onset for note in notes if note.onset >= window.end), window.end)
    sung = tuple(pick for pick, note in zip(own, begun, strict=True) if note.word)
    if not runs([note.onset for note in begun], after, gap):
        return start, begun, (own,)
    if len(sung) > 1 or (sung and sung != own[:1]):
        return start, begun, (sung,)
    silent = any(low <= start < high for low, high in facts.rests[bar])
    stays = silent or (figured and ringing is not None)
    if any(note.tuplet for note in begun) and (stays or begun[0].onset > start or begun[-1].tied_over):
        return start, begun, (own,)
    options: list[Option] = []
    for pick, note in zip(own, begun, strict=True):
        options.append((pick,) if stays else (Pick(pick.place, start),))
        if note.tied_over and note.onset > start:
            options += [(pick,), *((first, pick) for first in own[:1] if first != pick)]
    if early:
        options.insert(0, (Pick(early.place, start),))
    if begun[0].onset > start > 0 and not silent:
        options.append(())
    if window.counts == 3 and len(begun) > 1 and begun[0].onset == start:
        third = start + (window.end - start) * 2 // 3
        if begun[-1].onset == third and (len(begun) == 2 or abs(begun[-1].height - begun[0].height) >= LEAP):
            options.append((own[0], own[-1]))
    return start, begun, tuple(dict.fromkeys(options))


def figured_tune(tune: Tune, facts: Facts) -> bool:
    """Are dotted or syncopated figures the tune's character: do they come in most of its full bars?"""
    full = [bar for bar, written in enumerate(tune.bars) if facts.bars[bar] and written.length == written.metre.length]
    return bool(full) and sum(_has_figure(facts, bar) for bar in full) >= CHARACTER * len(full)


def _has_figure(facts: Facts, bar: int) -> bool:
    """Does a note ring over a beat in twos, and the next come between the beats?"""
    notes = facts.bars[bar]
    return any(
        window.counts == 2
        and (begun := begun_in(notes, window))
        and begun[0].onset > window.start
        and any(note.onset < window.start < note.end for note in notes)
        for window in facts.windows[bar]
    )


def bone_window(
    unit: Sequence[Window], notes: Sequence[Note], beats: Option, units: int
) -> tuple[int, tuple[Note, ...], tuple[Option, ...]]:
    """The beats of a stroke unit, and which of them may be its bone."""
    start, end = unit[0].start, unit[-1].end
    inside = [pick for pick in beats if start <= pick.at < end]
    begun = tuple(notes[pick.place] for pick in inside)
    if not inside:
        return start, begun, ((), *_rung_in(notes, beats, start))
    rings = any(pick.at < start for pick in beats) and inside[0].at > start
    options: list[Option] = [
        (Pick(pick.place, pick.at if rings or inside[0].at > start else start),) for pick in inside
    ]
    rung_in = _rung_in(notes, beats, start)
    options += rung_in
    if len(unit) == 1 and units == 2 and start > 0 and unit[0].counts == 2:
        options.insert(0, ())  # a waltz's third beat only where something speaks for it
    elif rings and not rung_in:
        options.append(())
    last = [pick for pick in inside[1:] if notes[pick.place].anchor or notes[pick.place].phrase_end]
    options += [(Pick(inside[0].place, start), pick) for pick in last]
    return start, begun, tuple(dict.fromkeys(options))


def _rung_in(notes: Sequence[Note], beats: Option, start: int) -> list[Option]:
    """A beat that sounds over the start of a unit may stand for it."""
    before = [pick for pick in beats if pick.at < start]
    rings = bool(before) and notes[before[-1].place].end > start
    return [(Pick(before[-1].place, start),)] if rings else []
