"""Changes a teacher makes to a tune on the desk. Each takes a tune and gives a new one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from nailhead.core.errors import NailheadError, TheoryError, TuneError
from nailhead.core.music.form import expand_order, parts_of
from nailhead.core.music.harmonise import with_chords
from nailhead.core.music.key import Key, interval_between
from nailhead.core.music.metre import Time
from nailhead.core.music.numbers import number_of, read_chord
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.structure import harmony_by_bar
from nailhead.core.music.transpose import transpose_tune
from nailhead.core.music.tune import Bar, ChordAt, Tune

#: What stands in a chart for "the same chord goes on".
SAME = ("%", ".", "-", "–")


def chart_texts(tune: Tune, numbers: bool) -> tuple[str, ...]:
    """The chord chart: for every written bar its chords parted by spaces, as letters or numbers; "" for none."""
    return tuple(
        " ".join(number_of(entry.chord, bar.key) if numbers else str(entry.chord) for entry in bar.chords)
        for bar in tune.bars
    )


def set_chart(tune: Tune, texts: Sequence[str]) -> Tune:
    """The tune with the chords of a whole chart, one text a written bar; raises TuneError that names the bar."""
    if len(texts) != len(tune.bars):
        raise TuneError(f"The chart has {len(texts)} bars, the tune {len(tune.bars)}.", field="chords")
    before = chart_texts(tune, numbers=False)
    rows = [
        bar.chords if text.strip() == old else chords_of_text(bar, text)
        for bar, text, old in zip(tune.bars, texts, before, strict=True)
    ]
    return with_chords(tune, rows)


def chords_of_text(bar: Bar, text: str) -> tuple[ChordAt, ...]:
    """Chords for one bar: "G", "G D7" (half a bar each), or one a beat; letters or numbers, "%" for the same again."""
    words = text.replace("|", " ").split()
    onsets = chord_onsets(bar, len(words))
    entries: list[ChordAt] = []
    for onset, word in zip(onsets, words, strict=True):
        if word in SAME:
            continue
        try:
            entries.append(ChordAt(onset, read_chord(word, bar.key)))
        except NailheadError as error:
            raise TheoryError(error.message, bar=bar.number, field="chords", remedy=error.remedy) from error
    return tuple(entries)


def chord_onsets(bar: Bar, count: int) -> tuple[Time, ...]:
    """Where so many chords of a bar stand: at its start, at its halves, or on its beats."""
    beats = [onset for onset in bar.metre.beat_onsets if onset < bar.length] or [Time(0)]
    if count <= 1:
        return (Time(0),) * count
    if count == 2 and len(beats) > 1:
        return (Time(0), beats[(len(beats) + 1) // 2])
    if count > len(beats):
        raise TuneError(
            f"Bar {bar.number} has {len(beats)} beats, not {count}.",
            bar=bar.number,
            field="chords",
            remedy="Write at most one chord a beat.",
        )
    return tuple(beats[:count])


def full_chart(tune: Tune) -> tuple[str, ...]:
    """The chord that rules at the start of every bar, for reading; "" before the first."""
    return tuple(str(spans[0].chord) if spans and spans[0].chord else "" for spans in harmony_by_bar(tune.bars))


def move_to_key(tune: Tune, tonic: PitchClass, *, upwards: bool | None = None) -> Tune:
    """The tune on another tonic: the nearer way, or up or down as asked. The mode stays."""
    semitones, _ = interval_between(tune.key.tonic, tonic)
    down = semitones > 6 if upwards is None else not upwards
    return transpose_tune(tune, semitones - 12 if down and semitones else semitones)


def rename_key(tune: Tune, key: Key) -> Tune:
    """The same notes under another key signature, everywhere where the tune's own key ruled."""
    bars = tuple(replace(bar, key=key) if bar.key == tune.key else bar for bar in tune.bars)
    return replace(tune, key=key, bars=bars)


def set_order(tune: Tune, order: str) -> Tune:
    """The tune with its performance order, "AABB" or "(AABB)2"; parts without a label get the letter they are shown by.

    Raises TuneError for a part the tune does not have.
    """
    order = order.strip()
    parts = parts_of(tune)
    expand_order(order, [part.letter for part in parts])
    if not order:
        return replace(tune, order="")
    bars = list(tune.bars)
    for part in parts:
        bars[part.start] = replace(bars[part.start], part=bars[part.start].part or part.letter)
    return replace(tune, order=order, bars=tuple(bars))


def set_part(tune: Tune, place: int, label: str) -> Tune:
    """The tune with a part that begins at a written bar; an empty label takes the part's name away."""
    _check_place(tune, place)
    bars = list(tune.bars)
    bars[place] = replace(bars[place], part=label.strip()[:40])
    return replace(tune, bars=tuple(bars))


def set_repeat(tune: Tune, first: int, last: int, times: int) -> Tune:
    """The tune with written bars `first` to `last` played so many times; 1 takes the repeat away."""
    _check_place(tune, first)
    _check_place(tune, last)
    if first > last or not 1 <= times <= 16:
        raise TuneError(
            "A repeat runs from a bar to a later one, 1 to 16 times.", field="repeat", bar=tune.bars[first].number
        )
    bars = list(tune.bars)
    bars[first] = replace(bars[first], opens_repeat=times > 1)
    barline = bars[last].barline
    if times > 1 and barline == "single":
        barline = "double"
    bars[last] = replace(bars[last], closes_repeat=times if times > 1 else 0, barline=barline)
    return replace(tune, bars=tuple(bars))


def set_endings(tune: Tune, place: int, times: Sequence[int]) -> Tune:
    """The tune with an ending that begins at a written bar; no times take it away."""
    _check_place(tune, place)
    bars = list(tune.bars)
    bars[place] = replace(bars[place], endings=tuple(sorted(set(times))))
    return replace(tune, bars=tuple(bars))


def _check_place(tune: Tune, place: int) -> None:
    if not 0 <= place < len(tune.bars):
        raise TuneError(f"There is no bar at place {place}.", field="place", remedy="Choose a bar of the tune.")
