"""Writes the same tune in another metre: 4/4 as 2/2, or as 2/4 with halved notes."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from nailhead.core.errors import TuneError
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.notation import note_values
from nailhead.core.music.tune import Bar, Tempo, Tune

_SHORTEST_UNIT, _LONGEST_UNIT = Fraction(1, 64), Fraction(1)


def respell_metre(tune: Tune, metre: Metre) -> Tune:
    """The tune with every bar of its metre written in `metre`, lengths halved or doubled as that needs.

    What is heard stays the same: the tempo's beat is scaled with the notes. Raises TuneError where the bars of the
    two metres are not the same up to halving and doubling (4/4 and 3/4), or where their beats differ (6/8 and 3/4).
    """
    if tune.metre.free or metre.free:
        raise TuneError("A tune without metre cannot be written in another.", field="metre", remedy="Give it bars.")
    scale = metre.length / tune.metre.length
    powers = (scale.numerator & (scale.numerator - 1), scale.denominator & (scale.denominator - 1))
    if (
        any(powers)
        or metre.compound != tune.metre.compound
        or len(set(metre.grouping)) != len(set(tune.metre.grouping))
    ):
        raise TuneError(
            f"A tune in {tune.metre} cannot be written in {metre}: a bar does not hold the same beats.",
            field="metre",
            remedy="Choose 4/4, 2/2 or 2/4 for one another.",
        )
    unit = min(max(tune.unit_length * scale, _SHORTEST_UNIT), _LONGEST_UNIT)
    tempo = Tempo(tune.tempo.beat * scale, tune.tempo.bpm) if tune.tempo else None
    bars = tuple(_scaled(bar, scale, metre if bar.metre == tune.metre else bar.metre) for bar in tune.bars)
    return replace(tune, metre=metre, bars=bars, unit_length=unit, tempo=tempo)


def _scaled(bar: Bar, scale: Time, metre: Metre) -> Bar:
    if metre == bar.metre and scale != 1:
        raise TuneError(
            f"Bar {bar.number} has a metre of its own, {bar.metre}.",
            bar=bar.number,
            field="metre",
            remedy="Change the metre of that bar in the ABC first.",
        )
    events = tuple(replace(event, onset=event.onset * scale, duration=event.duration * scale) for event in bar.events)
    for event in events:
        note_values(event.duration, event.tuplet)
    chords = tuple(replace(entry, onset=entry.onset * scale) for entry in bar.chords)
    return replace(bar, metre=metre, events=events, chords=chords)
