"""The hard rules of an arrangement, checked from the outside: from the tune and the strings alone.

Nothing here asks the engine why it did something; only what it put on paper.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from fractions import Fraction

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.values import ArrangedBar, Finger, FrettedNote, Ornament, Role, Stroke, Way
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.core_melody import find_core
from nailhead.core.music.form import played_bars
from nailhead.core.music.layers import Core, CoreNote, Layer
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar
from tests.ladder_measures import crossed, stolen
from tests.struck import letters

#: What a medium hand reaches between index and little finger, and with the thumb over frets that lie on the lap
#: (common practice).
SPAN_MM, LAP_SPAN_MM = 112.0, 140.0


#: Semitones that a natural harmonic sounds above the open string, by the fret it is touched over (the second, third and
#: fourth partial).
PARTIALS = {12: 12, 7: 19, 5: 24}


def in_tune(setup: Setup, place: Place, pitch: Pitch, touched: bool = False) -> bool:
    """Does a place sound a note; or a comma off, where neither of the saz's first two courses has a fret for it?"""
    if touched:
        return setup.sounding_cents(Place(place.string, 0)) + 100 * PARTIALS[place.fret] == setup.cents_of(pitch)
    off = abs(setup.sounding_cents(place) - setup.cents_of(pitch))
    if off != Fraction(1200, 53) or not setup.instrument.commas:
        return off == 0
    frets = [(string, fret) for string in (1, 2) for fret in range(setup.instrument.frets + 1)]
    heard = {setup.sounding_cents(Place(*fret)) for fret in frets}
    return place.string in (1, 2) and setup.cents_of(pitch) not in heard


def violations(ladder: Ladder, frame: bool = True) -> list[str]:
    """Every breach of H1 to H6, in words; empty when all hold. Without `frame` kick-off and ending are not built."""
    found: list[str] = []
    chords = _chords(ladder.tune.bars)
    core = find_core(ladder.tune)
    for rung, bars in enumerate(ladder.rungs, start=1):
        for index, bar in enumerate(bars):
            below = ladder.rungs[rung - 2][index] if rung > 1 else None
            said = _h1(core, index, ladder, bar, rung)
            said += _bar_rules(ladder, ladder.tune.bars[index], bar, chords[index], rung)
            said += [*_h1a(ladder, below, bar, rung), *_h5_h6(below, bar)] if below else []
            found += [f"rung {rung} bar {bar.number}: {text}" for text in said]
        found += [f"rung {rung} {text}" for text in _over_bar_lines(ladder, bars)]
    found += [f"second time {text}" for text in _second_over_bar_lines(ladder)]
    for index, bar in ladder.second.items():
        said = _h1(core, index, ladder, bar, 7) + _bar_rules(ladder, ladder.tune.bars[index], bar, chords[index], 7)
        found += [f"second time bar {bar.number}: {text}" for text in said]
    return found + (_frame_rules(ladder) if frame else [])


def _frame_rules(ladder: Ladder) -> list[str]:
    found = []
    for frame in (ladder.kick_off, ladder.ending):
        if frame:
            rows = _chords(frame.tune.bars)
            for written, bar, row in zip(frame.tune.bars, frame.bars, rows, strict=True):
                found += [f"{frame.tune.title} {text}" for text in _bar_rules(ladder, written, bar, row, 7)]
    return found


def _bar_rules(
    ladder: Ladder, written: Bar, bar: ArrangedBar, chords: list[tuple[Fraction, Chord | None]], rung: int
) -> list[str]:
    said = [*_h2(ladder, written, bar, chords, rung), *_h3(ladder, bar)]
    hands = [text for rule in HANDS[hand_of(ladder)] for text in rule(ladder, written, bar)]
    return [*said, *hands, *_slurs(bar), *_kept(bar), *_h4(written, bar)]


def _chords(bars: tuple[Bar, ...]) -> list[list[tuple[Fraction, Chord | None]]]:
    """For each bar the chords by onset, the last one carried over the bar line."""
    rows, current = [], None
    for bar in bars:
        row: list[tuple[Fraction, Chord | None]] = [(Fraction(0), current)]
        row += [(entry.onset, entry.chord) for entry in bar.chords]
        current = row[-1][1]
        rows.append(row)
    return rows


def hand_of(ladder: Ladder) -> str:
    """Whose rules they are: a way of playing that is another on another instrument stands with its kind."""
    kind = f"{ladder.idiom.id}, {ladder.fit.setup.instrument.kind}"
    return kind if kind in HANDS else ladder.idiom.id


#: The layer that each rung must play whole (the ladder's own page): what else a rung plays is more.
_PICKED = ("pairs", "pairs", "pairs", "full", "full", "full", "bones")
_PLUCKED = ("pairs", "pairs", "pairs", "pairs", "full", "full", "bones")
LAYERS = {
    "plectrum": _PICKED,
    "noter": _PICKED,
    "chord-melody": _PICKED,
    "fingerstyle": _PLUCKED,
    "strum": _PLUCKED,
    "clawhammer": ("beat", "beat", "beat", "beat", "beat", "beat", "bones"),
    "three-finger": ("pairs", "pairs", "pairs", "pairs", "bones", "bones", "bones"),
}
EVERY_NOTE = ("full", "full", "full", "full", "full", "full", "bones")
#: Rungs that may leave what the rung below plays, if they say so: rolls and solos.
MAY_LEAVE = {"clawhammer": (7,), "three-finger": (5, 6, 7)}


def _h1(core: Core, place: int, ladder: Ladder, bar: ArrangedBar, rung: int) -> list[str]:
    """The notes of the rung's layer sound with their pitch, where the tune or the layer has them; nothing else calls
    itself melody. A full melody that no stroke carries loses notes with a remark.
    """
    struck = {
        (stroke.onset, note.pitch.cents)
        for stroke in bar.strokes
        for note in stroke.notes
        if note.role is Role.MELODY and not note.held
    }
    notes = core.by_bar.get(place, ())
    layer = Layer(LAYERS.get(ladder.idiom.id, EVERY_NOTE)[rung - 1])
    says_so = any("Leaves out" in one for one in bar.remarks)
    if layer is Layer.PAIRS and says_so:
        layer = Layer.BEAT
    said = []
    for note in notes:
        places = {note.onset, note.even, *note.places, *_early(note, ladder, place, rung)}
        if layer.holds(note.layer) and not any((at, note.pitch.cents) in struck for at in places):
            said.append(f"H1 no melody for {note.pitch} of {note.onset}")
        due = {note.evened(layer)} if rung <= 3 else {note.evened(layer), note.at(layer)}
        there = any((at, note.pitch.cents) in struck for at in due)
        if rung <= 5 and ladder.idiom.id == "clawhammer" and layer.holds(note.layer) and not there:
            said.append(f"H1 {note.pitch} is not at {note.evened(layer)}")
    if (ladder.idiom.id, rung) == ("clawhammer", 6) and not any("Leaves out" in one for one in bar.remarks):
        said += [
            f"H1 {note.pitch} of {note.onset} is gone without a word"
            for note in notes
            if (note.onset, note.pitch.cents) not in struck
        ]
    known = {
        (at, note.pitch.cents)
        for note in notes
        for at in (note.onset, note.even, *note.places, *_early(note, ladder, place, rung))
    }
    return said + [f"H1 melody invented at {onset}" for onset, cents in struck if (onset, cents) not in known]


def _early(note: CoreNote, ladder: Ladder, place: int, rung: int) -> list[Fraction]:
    """In the solo of rolls a note of the bones may come a count before its beat, never one that a bar begins with."""
    if (ladder.idiom.id, rung) != ("three-finger", 7) or not Layer.BONES.holds(note.layer):
        return []
    at = note.at(Layer.BONES)
    return [at - _count(ladder.tune.bars[place])] if at else []


def _h1a(ladder: Ladder, below: ArrangedBar, bar: ArrangedBar, rung: int) -> list[str]:
    """What a rung plays of the melody, the next one plays too; rolls and solos say what they leave."""
    gone = played_of(below) - played_of(bar)
    if not gone or (rung in MAY_LEAVE.get(ladder.idiom.id, (7,)) and any("Leaves" in one for one in bar.remarks)):
        return []
    if any("Leaves out" in one for one in bar.remarks):
        return []
    return [f"H1a {sorted(map(str, gone))} is played below and not here"]


def played_of(bar: ArrangedBar) -> set[Fraction]:
    """Onsets in the tune of the melody notes that a bar plays."""
    early = dict(bar.early)
    return {
        early.get(stroke.onset, stroke.onset)
        for stroke in bar.strokes
        for note in stroke.notes
        if note.role is Role.MELODY and not note.held
    }


def _h2(
    ladder: Ladder, written: Bar, bar: ArrangedBar, chords: list[tuple[Fraction, Chord | None]], rung: int
) -> list[str]:
    said = []
    tonic = written.key.tonic.semitone
    for stroke in bar.strokes:
        chord = [chord for onset, chord in chords if onset <= stroke.onset][-1]
        for note in stroke.notes:
            sounding = ladder.fit.setup.sounding_cents(note.place)
            if not in_tune(ladder.fit.setup, note.place, note.pitch, note.harmonic):
                said.append(f"{note.place} does not sound {note.pitch}")
            if note.role is Role.MELODY or note.place.string in ladder.idiom.drones:
                continue
            if note.place in sounding_places(bar, stroke, solo=rung == 7) and ladder.idiom.id not in BANJO:
                continue  # the melody struck again
            if note.role is Role.FILL:
                tone = int(sounding // 100) % 12
                blue = rung > 5 and _blue_third(bar, stroke, tone, chord)
                named = (note.pitch.alter, note.pitch.commas) == written.key.accidentals.get(note.pitch.step, (0, 0))
                in_scale = named if ladder.fit.setup.instrument.commas else tone in written.key.scale
                if not blue and (rung < 7 or not in_scale):
                    said.append(f"H2 a fill of {note.pitch} at {stroke.onset}")
                continue
            tone = int(sounding // 100) % 12
            belongs = chord is not None and tone in chord.tones
            drone = note.place.fret == 0 and (tone - tonic) % 12 in (0, 7)
            clashes = chord is not None and (tone - chord.root.semitone) % 12 in (1, 11)
            if not belongs and not (drone and not clashes):
                said.append(f"H2 {note.pitch} at {stroke.onset} does not belong to {chord}")
    return said


def _blue_third(bar: ArrangedBar, at: Stroke, tone: int, chord: Chord | None) -> bool:
    """The minor third of a fill that goes straight on to the major one (common practice)."""
    following = next((stroke for stroke in bar.strokes if stroke.onset > at.onset), None)
    if chord is None or following is None or (tone - chord.root.semitone) % 12 != 3:
        return False
    return any((note.pitch.midi - chord.root.semitone) % 12 == 4 for note in following.notes)


BANJO = ("clawhammer", "three-finger")


def sounding_places(bar: ArrangedBar, at: Stroke, solo: bool) -> list[Place]:
    """The place of the melody note that began last; of any before in a solo, where fillers may be notes of the tune."""
    before = [stroke for stroke in bar.strokes if stroke.onset <= at.onset]
    melody = [note.place for stroke in before for note in stroke.notes if note.role is Role.MELODY]
    return melody if solo else melody[-1:]


def _h3(ladder: Ladder, bar: ArrangedBar) -> list[str]:
    said = []
    setup = ladder.fit.setup
    for stroke in bar.strokes:
        strings = [note.place.string for note in stroke.notes]
        if len(set(strings)) < len(strings):
            said.append(f"H3 a string twice at {stroke.onset}")
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
    if setup.distance_mm(min(frets), max(frets)) > (LAP_SPAN_MM if setup.instrument.kind == "dulcimer" else SPAN_MM):
        said.append(f"frets {min(frets)} to {max(frets)} are too far apart")
    fingers: dict[int, int] = {}
    for _, fret, finger in stopped:
        if not 1 <= finger <= 4:
            said.append(f"fret {fret} has no finger")
        if fingers.setdefault(finger, fret) != fret:
            said.append(f"finger {finger} is in two places")
    return said


def _clawhammer(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """The nail strikes down on the beat, brushes neighbours; the thumb never falls on a beat (handbook §4).

    Off the fifth string it only drops to the bass side of the string just struck, and has two counts to get back.
    """
    said: list[str] = []
    before: Stroke | None = None
    beats = set(written.metre.beat_onsets) if bar.length == written.metre.length else set()
    for stroke in bar.strokes:
        at = f"at {stroke.onset}"
        for touch in stroke.touches:
            strings = [note.place.string for note in touch.notes]
            if (touch.by, touch.way) == (Finger.THUMB, Way.PLUCK):
                drops = len(strings) == 1 and 2 <= strings[0] <= 4
                behind = before and Finger.THUMB not in before.fingers and before.notes
                if strings != [5] and not (drops and behind and max(n.place.string for n in before.notes) < strings[0]):
                    said.append(f"H3 the thumb plays {strings} {at}")
                if before and Finger.THUMB in before.fingers and stroke.onset - before.onset <= _count(written):
                    said.append(f"H3 the thumb comes twice running {at}")
                if stroke.onset in beats:
                    said.append(f"H3 the thumb on the beat {at}")
            elif (touch.by, touch.way) == (Finger.NAIL, Way.DOWN):
                if 5 in strings:
                    said.append(f"H3 the finger plays the fifth string {at}")
                if len(strings) > 3 or max(strings) - min(strings) != len(strings) - 1:
                    said.append(f"H3 a brush over {strings} {at}")
            elif (touch.by, touch.way) == (Finger.NAIL, Way.DRAG):
                struck = [n.place.string for n in before.notes] if before and before.fingers == (Finger.NAIL,) else []
                if struck != [strings[0] + 1] or stroke.onset - before.onset > _count(written):  # type: ignore[union-attr]
                    said.append(f"H3 a nail dragged from {struck} to {strings} {at}")
            elif (touch.by, touch.way) == (None, Way.PLUCK):
                just = [n.place.string for n in before.notes] if before else []
                if len(touch.notes) != 1 or touch.notes[0].place.fret or strings[0] in (5, *just):
                    said.append(f"H3 the left hand plucks {touch.notes} {at}")
                nail = before and Finger.NAIL in before.fingers and stroke.onset - before.onset <= _count(written)
                if set(clock_of(written.metre).groups) == {3} and not nail:
                    said.append(f"H3 the left hand plucks where the nail has time to strike {at}")
            elif touch.struck:
                said.append(f"H3 a clawhammer hand with {touch.by} {touch.way} {at}")
        if len(stroke.touches) > 1:
            said.append(f"H3 two touches at once {at}")
        before = stroke if stroke.sounded else before
    return said


#: Strings of each finger: thumb 5 4 3, index 3 2 and 4, middle 1 and 2 (handbook §4). Single notes of
#: the melody may be any finger's, where one would else strike twice running (common practice).
FINGER_STRINGS = {Finger.THUMB: {3, 4, 5}, Finger.INDEX: {1, 2, 3, 4}, Finger.MIDDLE: {1, 2}}


def _three_finger(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """Each finger plucks one of its strings, at most two at once."""
    said = []
    for stroke in bar.strokes:
        roles = {note.place.string: note.role for note in stroke.notes}
        for finger, string in struck_by(stroke):
            line = string < 5 and roles[string] is not Role.CHORD
            if string not in FINGER_STRINGS.get(finger, ()) and not line:
                said.append(f"H3 {finger} on string {string} at {stroke.onset}")
        plucks = [touch for touch in stroke.touches if touch.struck]
        if len(plucks) > 2 or any(len(touch.notes) != 1 or touch.way is not Way.PLUCK for touch in plucks):
            said.append(f"H3 {plucks} at {stroke.onset}")
    return said


def _own_strings(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """What accompanies is plucked by the finger whose string it is (4 and lower thumb, 3 index, 2 middle, 1 ring;
    without the ring finger index 3 and 2, middle 2 and 1); of two the lower one is the thumb's (common practice).
    """
    home = {3: {Finger.INDEX}, 2: {Finger.MIDDLE}, 1: {Finger.RING}}
    if Finger.RING not in ladder.idiom.right.plain:
        home = {3: {Finger.INDEX}, 2: {Finger.INDEX, Finger.MIDDLE}, 1: {Finger.MIDDLE}}
    said = []
    for stroke in bar.strokes:
        for touch in stroke.touches:
            for note in touch.notes:
                own = {Finger.THUMB, *home.get(note.place.string, ())}
                if touch.by and note.role is Role.CHORD and touch.by not in own:
                    said.append(f"{touch.by} plucks string {note.place.string} at {stroke.onset}")
    return said


def _no_finger_twice(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """None twice running at the speed of a count (handbook §4), but for chords of three and more, and a thumb that
    plays a line by itself on the strings that are its own (common practice).
    """
    said = []
    for stroke, following in itertools.pairwise(bar.strokes):
        if stroke.duration <= _count(written) and not _may_repeat(ladder, stroke, following):
            again = {finger for finger, _ in struck_by(stroke)} & {finger for finger, _ in struck_by(following)}
            said += [f"H3 {finger} twice running at {following.onset}" for finger in again]
    return said


def _may_repeat(ladder: Ladder, *strokes: Stroke) -> bool:
    """A chord of three, or the thumb alone on the bass strings; a banjo's thumb never."""
    struck = [struck_by(stroke) for stroke in strokes]
    alone = all(len(one) == 1 and one[0][0] is Finger.THUMB and one[0][1] >= 4 for one in struck)
    return any(len(one) > 2 for one in struck) or (alone and ladder.idiom.id not in BANJO)


def struck_by(stroke: Stroke) -> list[tuple[Finger, int]]:
    """(finger, string) of what the right hand strikes."""
    return [(touch.by, note.place.string) for touch in stroke.touches if touch.by for note in touch.notes]


def _melody_on_top(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """At its onset the melody is the highest pitch struck."""
    said = []
    for stroke in bar.strokes:
        melody = [note.pitch.cents for note in stroke.notes if note.role is Role.MELODY and not note.held]
        others = [note.pitch.cents for note in stroke.notes if note.role is not Role.MELODY]
        if melody and others and max(others) > max(melody):
            said.append(f"G2 something sounds above the melody at {stroke.onset}")
    return said


def _pick_by_the_clock(
    ladder: Ladder, written: Bar, bar: ArrangedBar, either: frozenset[Fraction] = frozenset()
) -> list[str]:
    """Down on the even counts of a group, up on the odd ones, also after rests, slurs and ringing; `either` way there.

    A group of three goes down, up, down (common practice).
    """
    said, count = [], _count(written)
    sizes = [3] * 12 if written.metre.compound else [2] * 24
    if len(set(written.metre.grouping)) > 1:
        sizes = list(written.metre.grouping) * 4
    wanted = {}
    at = Fraction(0)
    for size in sizes:
        wanted |= {at + place * count: (Way.DOWN, Way.UP)[place % 2] for place in range(size)}
        at += size * count
    # A bar that is short may lack its beginning or its end.
    for late in (
        {Fraction(0), written.metre.length - bar.length} if bar.length < written.metre.length else {Fraction(0)}
    ):
        said = []
        for stroke in bar.strokes:
            for touch in stroke.touches:
                way = wanted.get(stroke.onset + late)
                if stroke.tuplet and bar.length < written.metre.length:
                    continue  # a triplet that leads in goes up, down, up (handbook §10)
                if touch.struck and way is not None and touch.way is not way and stroke.onset + late not in either:
                    said.append(f"G4 {touch.way} at {stroke.onset}")
        if not said:
            return []
    return said


def _pick_by_the_group(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """The same, but that a group of three may go down, up, up as well (common practice on the saz)."""
    count = _count(written)
    thirds, at = set(), Fraction(0)
    for size in written.metre.grouping if written.metre.unit == 8 else ():
        at += size * count
        thirds |= {at - count} if size == 3 else set()
    return _pick_by_the_clock(ladder, written, bar, frozenset(thirds))


def _own_fingers_and_ornaments(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """Nothing is struck by a finger, slurred by an ornament, or let ring by a string that is not the idiom's."""
    idiom, said = ladder.idiom, []
    kinds = {(row.by, row.way) for row in idiom.right.touches}
    for stroke in bar.strokes:
        for touch in stroke.touches:
            if touch.struck and (touch.by, touch.way) not in kinds:
                said.append(f"a foreign touch, {touch.by} {touch.way}, at {stroke.onset}")
            for note in touch.notes:
                if note.slur and note.slur.ornament not in idiom.left.ornaments:
                    said.append(f"a foreign {note.slur.ornament} at {stroke.onset}")
                melody = note.role is Role.MELODY or note.place.fret > 0
                if melody and idiom.strings and note.place.string not in idiom.strings:
                    said.append(f"melody or a stop on string {note.place.string} at {stroke.onset}")
    return said


def _one_touch(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """A pick or a strumming thumb is one movement over neighbouring strings."""
    said = []
    for stroke in bar.strokes:
        strings = sorted(note.place.string for note in stroke.notes)
        if len(stroke.touches) > 1 or (strings and strings[-1] - strings[0] != len(strings) - 1):
            said.append(f"H3 {stroke.touches} at {stroke.onset}")
    return said


def _nothing_covered(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """No filler on the string that the melody, or a fill, rings on, but the melody's own note again.

    Where the tune rests, nothing rings.
    """
    said, rings = [], None
    rests = [(event.onset, event.onset + event.duration) for event in written.events if event.pitch is None]
    for stroke in bar.strokes:
        if any(start <= stroke.onset < end for start, end in rests):
            rings = None
        sung = [note.place for note in stroke.notes if note.role in (Role.MELODY, Role.FILL)]
        if sung:
            rings = sung[0]
        elif rings and any(note.place.string == rings.string and note.place != rings for note in stroke.notes):
            said.append(f"G7 a filler on the melody's string at {stroke.onset}")
    return said


def _thumb_below(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """Of several fingers at once the thumb is on the lowest string, then index, middle and ring, one string each."""
    order = [Finger.THUMB, Finger.INDEX, Finger.MIDDLE, Finger.RING]
    said = []
    for stroke in bar.strokes:
        fingers = sorted(struck_by(stroke), key=lambda struck: order.index(struck[0]))
        strings = [string for _, string in fingers]
        if strings != sorted(set(strings), reverse=True) or len({finger for finger, _ in fingers}) < len(fingers):
            said.append(f"H3 {fingers} at {stroke.onset}")
    return said


def _no_fingers_crossed(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """Of two strokes a count apart the thumb is not on the treble side of the index, nor the index of the middle."""
    return ["H3 fingers lie across each other"] * crossed(bar, written.metre)


def _nothing_stolen(ladder: Ladder, written: Bar, bar: ArrangedBar) -> list[str]:
    """A filler never takes the place that the melody strikes one count later."""
    return ["H3 a filler takes the next melody note's place"] * stolen(bar, written.metre)


#: Way of playing -> what its right hand must keep to, beside the rules for all.
HANDS: dict[str, tuple[Callable[[Ladder, Bar, ArrangedBar], list[str]], ...]] = {
    "plectrum": (_melody_on_top, _pick_by_the_clock, _own_fingers_and_ornaments, _one_touch, _nothing_covered),
    "plectrum, saz": (_pick_by_the_group, _own_fingers_and_ornaments, _one_touch),
    "plectrum, saz-short": (_pick_by_the_group, _own_fingers_and_ornaments, _one_touch),
    "noter": (_own_fingers_and_ornaments, _one_touch),
    "chord-melody": (_melody_on_top, _own_fingers_and_ornaments, _one_touch),
    "fingerstyle": (_melody_on_top, _own_fingers_and_ornaments, _nothing_covered, _no_finger_twice, _own_strings),
    "strum": (_melody_on_top, _own_fingers_and_ornaments, _one_touch, _nothing_covered),
    "clawhammer": (_clawhammer, _nothing_stolen),
    "three-finger": (_three_finger, _no_finger_twice, _no_fingers_crossed, _nothing_stolen),
    "trial plectrum": (_melody_on_top, _pick_by_the_clock, _own_fingers_and_ornaments, _one_touch),
    "trial fingerstyle": (_melody_on_top, _own_fingers_and_ornaments, _thumb_below, _no_finger_twice),
    "trial strum": (_melody_on_top, _own_fingers_and_ornaments, _one_touch),
    "trial noter": (_own_fingers_and_ornaments, _one_touch),
}


def _count(written: Bar) -> Fraction:
    """The shortest stroke of a metre (handbook §4: eighths in 4/4, 3/4 and 6/8, sixteenths in 2/4)."""
    if (written.metre.beats, written.metre.unit) == (2, 4):
        return Fraction(1, 16)
    return Fraction(1, 16) if written.metre.unit == 16 else Fraction(1, 8)


def _over_bar_lines(ladder: Ladder, bars: tuple[ArrangedBar, ...]) -> list[str]:
    """The same finger at speed from one bar into the next, in the order of playing."""
    return _twice_running(ladder, [(index, bars[index]) for index in played_bars(ladder.tune)])


def _second_over_bar_lines(ladder: Ladder) -> list[str]:
    """The same in a solo whose bars are varied whenever they come again."""
    played, visited = [], set()
    for index in played_bars(ladder.tune):
        first = ladder.rungs[-1][index]
        played.append((index, ladder.second.get(index, first) if index in visited else first))
        visited.add(index)
    return _twice_running(ladder, played)


def _twice_running(ladder: Ladder, played: list[tuple[int, ArrangedBar]]) -> list[str]:
    if _no_finger_twice not in HANDS[ladder.idiom.id]:
        return []
    said = []
    for (index, one), (_, two) in itertools.pairwise(played):
        last, first = one.strokes[-1], two.strokes[0]
        again = {hand for hand, _ in struck_by(last)} & {hand for hand, _ in struck_by(first)}
        if again and last.duration <= _count(ladder.tune.bars[index]) and not _may_repeat(ladder, last, first):
            said.append(f"H3 {sorted(again)} twice running from bar {one.number} to {two.number}")
    return said


def _slurs(bar: ArrangedBar) -> list[str]:
    """A slur lies on one string, comes from where the string was stopped, and is in reach; a grace is struck."""
    said = []
    frets: dict[int, int] = {}
    for stroke in bar.strokes:
        for note in stroke.notes:
            slur, place = note.slur, note.place
            at = f"at {stroke.onset}"
            if stroke.slurred and (slur is None or slur.grace):
                said.append(f"slur: nothing sounds the note {at}")
            if slur and abs(slur.start - place.fret) not in range(1, 5):
                said.append(f"slur: from fret {slur.start} to {place.fret} {at}")
            if slur and not slur.grace and frets.get(place.string, slur.start) != slur.start:
                said.append(f"slur: string {place.string} was not at fret {slur.start} {at}")
            if slur and slur.grace and not stroke.struck:
                said.append(f"slur: a grace that is not struck {at}")
            if slur and slur.ornament is Ornament.HAMMER and slur.start >= place.fret:
                said.append(f"slur: a hammer-on goes down {at}")
            if slur and slur.ornament is Ornament.PULL and slur.start <= place.fret:
                said.append(f"slur: a pull-off goes up {at}")
            frets[place.string] = place.fret
    return said


def _kept(bar: ArrangedBar) -> list[str]:
    """A kept finger is wanted again, and in between neither it nor a lower fret of its string is used."""
    said = []
    for kept in bar.kept:
        between = [stroke for stroke in bar.strokes if kept.onset < stroke.onset < kept.until]
        for stroke in between:
            for note in stroke.notes:
                if note.finger == kept.finger or (
                    note.place.string == kept.place.string and note.place.fret <= kept.place.fret
                ):
                    said.append(f"kept finger {kept.finger} is lifted at {stroke.onset}")
        ends = [stroke for stroke in bar.strokes if stroke.onset == kept.until]
        if kept.until < bar.length and not any(note.place == kept.place for s in ends for note in s.notes):
            said.append(f"kept finger {kept.finger} is not wanted again at {kept.until}")
    return said


def _h4(written: Bar, bar: ArrangedBar) -> list[str]:
    at = Fraction(0)
    for stroke in bar.strokes:
        if stroke.onset != at or stroke.duration <= 0:
            return [f"H4 a gap at {at}"]
        at = stroke.end
    return [] if at == written.length else [f"H4 holds {at}, the tune {written.length}"]


def _h5_h6(below: ArrangedBar, bar: ArrangedBar) -> list[str]:
    said = []
    old, new = (
        {dict(it.early).get(onset, onset): place for onset, *place in reversed(melody_places(it))}
        for it in (below, bar)
    )
    for onset in sorted(old.keys() & new.keys()):
        if old[onset] != new[onset]:
            reported = {
                dict(it.early).get(moved.onset, moved.onset) for it in (bar, below) for moved in it.moved if moved.why
            }
            if onset not in reported or not any("is taken on string" in remark for remark in bar.remarks):
                said.append(f"H5 the melody has moved at {onset} and nothing is said")
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


def misplaced_strokes(ladder: Ladder) -> list[str]:
    """On rung 2 of clawhammer: long notes on the half bar without note, brush and fifth string at their counts.

    In 4/4 and cut time a half note is struck, brushed a quarter later and followed by the thumb an eighth after that,
    in 2/4 in half the time; a bar that has nothing to brush there must say so (handbook §4).
    """
    if ladder.idiom.id != "clawhammer":
        return []
    said = []
    for written, bar in zip(ladder.tune.bars, ladder.rungs[1], strict=True):
        count = _count(written)
        if written.metre.length != 8 * count or bar.length != written.metre.length or bar.remarks:
            continue
        struck = {stroke.onset: letters(stroke) for stroke in bar.strokes if stroke.sounded}
        for onset, length in melody_lengths(written, bar):
            if onset % (4 * count) == 0 and length >= 4 * count:
                hands = [struck.get(onset + place * count) for place in range(4)]
                if hands not in (["d", None, brush, "T"] for brush in ("B", "d")):
                    said.append(f"bar {bar.number}: {hands} at {onset}")
    return said


def melody_lengths(written: Bar, bar: ArrangedBar) -> list[tuple[Fraction, Fraction]]:
    """(onset, time until the next melody note or rest) of the melody notes struck in a bar, ties joined."""
    onsets = [onset for onset, *_ in melody_places(bar)]
    ends = sorted({*onsets, *(event.onset for event in written.events if event.pitch is None), written.length})
    return [(onset, next(end for end in ends if end > onset) - onset) for onset in onsets]


#: Counts of a whole bar's roll on which the melody may begin: the first, fourth, fifth and seventh (handbook §4); the
#: alternating thumb plays the odd ones (common practice).
STRONG = {
    "forward": {0, 3, 4, 6},
    "backward": {0, 3, 4, 6},
    "forward-reverse": {0, 3, 4, 6},
    "alternating thumb": {0, 2, 4, 6},
}


def misplaced_melody(ladder: Ladder) -> list[str]:
    """Melody notes off the strong slots in bars that are one named roll throughout, rungs 3 to 6."""
    if ladder.idiom.id != "three-finger":
        return []
    said, core = [], ladder.ground.core
    for rung in range(3, 7):
        for index, (written, bar) in enumerate(zip(ladder.tune.bars, ladder.rungs[rung - 1], strict=True)):
            if len(bar.patterns) != 1 or bar.patterns[0] not in STRONG or bar.length != written.metre.length:
                continue
            # What the roll happens to strike of the tune besides its bones may stand anywhere.
            bones = {at for note in core.of_layer(Layer.BONES, index) for at in (note.onset, *note.places)}
            counts = {onset / _count(written) for onset, *_ in melody_places(bar) if onset in bones}
            if not counts <= STRONG[bar.patterns[0]]:
                said.append(f"rung {rung} bar {bar.number}: melody at {sorted(map(str, counts))}")
    return said
