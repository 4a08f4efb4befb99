"""The hard rules of an arrangement, checked from the outside: from the tune and the strings alone.

Nothing here asks the engine why it did something; only what it put on paper.
"""

from __future__ import annotations

from fractions import Fraction

from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Hand, Role, Stroke
from nailhead.core.music.chord import Chord
from nailhead.core.music.tune import Bar, held_at_start

#: What a medium hand reaches between index and little finger (common practice).
SPAN_MM = 112.0


def violations(ladder: Ladder) -> list[str]:
    """Every breach of H1 to H6, in words; empty when all hold."""
    found: list[str] = []
    chords = _chords(ladder.tune.bars)
    held = held_at_start(ladder.tune.bars)
    for rung, bars in enumerate(ladder.rungs, start=1):
        for index, bar in enumerate(bars):
            where = f"rung {rung} bar {bar.number}: "
            written = ladder.tune.bars[index]
            said = [*_h1(written, bar, held[index]), *_h2(ladder, written, bar, chords[index])]
            said += [*_h3(ladder, bar), *_clock(written, bar), *_h4(written, bar)]
            if rung > 1:
                said += _h5_h6(ladder.rungs[rung - 2][index], bar)
            found += [where + text for text in said]
    return found


def _chords(bars: tuple[Bar, ...]) -> list[list[tuple[Fraction, Chord | None]]]:
    """For each bar the chords by onset, the last one carried over the bar line."""
    rows, current = [], None
    for bar in bars:
        row: list[tuple[Fraction, Chord | None]] = [(Fraction(0), current)]
        row += [(entry.onset, entry.chord) for entry in bar.chords]
        current = row[-1][1]
        rows.append(row)
    return rows


def _h1(written: Bar, bar: ArrangedBar, held: bool) -> list[str]:
    """Every melody note sounds at its onset with its pitch; nothing else calls itself melody."""
    wanted, carried = {}, held
    for event in written.events:
        if event.pitch and not carried:
            wanted[event.onset] = event.pitch.cents
        carried = event.tied
    struck = {
        (stroke.onset, note.pitch.cents)
        for stroke in bar.strokes
        for note in stroke.notes
        if note.role is Role.MELODY and not note.held
    }
    missing = [f"H1 no melody at {onset}" for onset, cents in wanted.items() if (onset, cents) not in struck]
    return missing + [f"H1 melody invented at {onset}" for onset, _ in struck if onset not in wanted]


def _h2(ladder: Ladder, written: Bar, bar: ArrangedBar, chords: list[tuple[Fraction, Chord | None]]) -> list[str]:
    said = []
    tonic = written.key.tonic.semitone
    for stroke in bar.strokes:
        chord = [chord for onset, chord in chords if onset <= stroke.onset][-1]
        for note in stroke.notes:
            sounding = ladder.fit.setup.sounding_cents(note.place)
            if sounding != note.pitch.cents:
                said.append(f"{note.place} does not sound {note.pitch}")
            if note.role is Role.MELODY:
                continue
            tone = int(sounding // 100) % 12
            belongs = chord is not None and tone in chord.tones
            drone = note.place.fret == 0 and (tone - tonic) % 12 in (0, 7)
            clashes = chord is not None and (tone - chord.root.semitone) % 12 in (1, 11)
            if not belongs and not (drone and not clashes):
                said.append(f"H2 {note.pitch} at {stroke.onset} does not belong to {chord}")
    return said


def _h3(ladder: Ladder, bar: ArrangedBar) -> list[str]:
    said = []
    setup = ladder.fit.setup
    for stroke in bar.strokes:
        strings = [note.place.string for note in stroke.notes]
        if len(set(strings)) < len(strings):
            said.append(f"H3 a string twice at {stroke.onset}")
        said += _right_hand(stroke, strings)
        stopped = {(note.place.string, note.place.fret, note.finger) for note in stroke.notes if note.place.fret}
        for shape in bar.shapes:
            if shape.onset <= stroke.onset < shape.onset + shape.duration and stopped & set(shape.stops):
                stopped |= {stop for stop in shape.stops if stop[0] not in strings}
        said += [f"H3 {text} at {stroke.onset}" for text in _left_hand(stopped, setup)]
        said += [f"H3 fret {n.place.fret} is off the neck" for n in stroke.notes if _off_neck(n, setup)]
    return said


def _off_neck(note: FrettedNote, setup) -> bool:  # type: ignore[no-untyped-def]
    return not 0 <= note.place.fret <= setup.string(note.place.string).last_fret


def _left_hand(stopped: set[tuple[int, int, int]], setup) -> list[str]:  # type: ignore[no-untyped-def]
    """At most four fingers, none in two places (a bar lies over one fret), within the span."""
    if not stopped:
        return []
    frets = [fret for _, fret, _ in stopped]
    said = []
    if setup.distance_mm(min(frets), max(frets)) > SPAN_MM:
        said.append(f"frets {min(frets)} to {max(frets)} are too far apart")
    fingers: dict[int, int] = {}
    for _, fret, finger in stopped:
        if not 1 <= finger <= 4:
            said.append(f"fret {fret} has no finger")
        if fingers.setdefault(finger, fret) != fret:
            said.append(f"finger {finger} is in two places")
    return said


def _right_hand(stroke: Stroke, strings: list[int]) -> list[str]:
    """Thumb on the fifth string, finger on the others, brushes over neighbours only."""
    if stroke.hand is Hand.THUMB and strings != [5]:
        return [f"H3 the thumb plays {strings}"]
    if stroke.hand in (Hand.DOWN, Hand.BRUSH) and 5 in strings:
        return ["H3 the finger plays the fifth string"]
    if stroke.hand is Hand.DOWN and len(strings) != 1:
        return [f"H3 one stroke on {strings}"]
    if stroke.hand is Hand.BRUSH and not (2 <= len(strings) <= 3 and max(strings) - min(strings) == len(strings) - 1):
        return [f"H3 a brush over {strings}"]
    return []


def _clock(written: Bar, bar: ArrangedBar) -> list[str]:
    """The thumb never falls on a beat: there the finger comes down (handbook §4)."""
    if bar.length != written.metre.length:
        return []
    beats = set(written.metre.beat_onsets)
    return [
        f"H3 the thumb on the beat at {stroke.onset}"
        for stroke in bar.strokes
        if stroke.hand is Hand.THUMB and stroke.onset in beats
    ]


def _h4(written: Bar, bar: ArrangedBar) -> list[str]:
    at = Fraction(0)
    for stroke in bar.strokes:
        if stroke.onset != at or stroke.duration <= 0:
            return [f"H4 a gap at {at}"]
        at = stroke.end
    return [] if at == written.length else [f"H4 holds {at}, the tune {written.length}"]


def _h5_h6(below: ArrangedBar, bar: ArrangedBar) -> list[str]:
    said = []
    if melody_places(below) != melody_places(bar):
        said.append("H5 the melody has moved")
    if bar.grade.value < below.grade.value or bar.join.value < below.join.value:
        said.append("H6 the grade falls")
    return said


def melody_places(bar: ArrangedBar) -> list[tuple[Fraction, int, int]]:
    """(onset, string, fret) of the melody notes struck in a bar."""
    return [
        (stroke.onset, *note.place)
        for stroke in bar.strokes
        for note in stroke.notes
        if note.role is Role.MELODY and not note.held
    ]
