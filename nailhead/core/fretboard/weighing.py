"""What a way to play costs: named terms in whole points, each with the sentence that tells it."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.fretboard.cautions import MOST_SEMITONES
from nailhead.core.fretboard.fit import melody_bounds
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.necks import Ask, Neck, NeckChoice, current_tuning
from nailhead.core.fretboard.setup import DRONE_MOVES, Setup
from nailhead.core.fretboard.tunings import Tuning, base_id, distance_words
from nailhead.core.music.key import move_key
from nailhead.core.music.tune import Tune

#: Points of each term, and what it stands for (weights ours, order after handbook §3 and §4).
COSTS: dict[str, int] = {
    "stopped notes": 40,  # as a share of all notes: those no open string gives
    "high frets": 4,  # per fret above the first position
    "away from home": 34,  # the shape key has neither tonic nor fifth under the hand in this tuning
    "second home": 10,  # one that players take there without a capo, although the tuning is made for another
    "chords": 3,  # per finger of the tune's usual chord, counted string by string; in the best few …
    "chord shapes": 4,  # … for every ten points that the shapes themselves ask of the hand
    "drones": 22,  # each drone that is not the tonic or the fifth …
    "drones outside the key": 66,  # … and each that is not even in its scale
    "capo": 5,  # per fret, heavier where capos are rare on the instrument …
    "high capo": 9,  # … and per fret above the fourth
    "tuned down": 4,  # per semitone that the whole instrument is let down, and as much again for doing it
    "rare tuning": 26,  # one that the instrument is not usually kept in, or that this way of playing seldom takes
    "retuning": 6,  # per string …
    "semitones up": 5,  # … and per semitone up; down costs two fifths of it
    "strained strings": 60,  # per string that is tuned up further than it is made for
    "fifth string": 2,  # per point of its move (hook or peg)
    "another key": 5,  # per semitone from the key the tune is written in
    "another octave": 6,  # the first …
    "two octaves": 24,  # … and two together
    "wound strings": 30,  # as a share of all notes: those that only wound strings have, where there are two or more
    "low notes": 60,  # as a share of all notes: those below the strings that the melody belongs on
    "shifts": 2,  # per change of hand position, in the best few only
}
#: What a teacher can weigh: name -> the terms it makes heavier or lighter.
WEIGHTS: dict[str, tuple[str, ...]] = {
    "easy left hand": ("stopped notes", "high frets", "chords", "chord shapes", "shifts", "away from home"),
    "ringing": ("stopped notes", "drones"),
    "little retuning": ("rare tuning", "tuned down", "retuning", "semitones up", "fifth string"),
    "low capo": ("capo",),
}
#: Wire whose sound is duller than plain strings'.
WOUND = "wound steel"
#: Up to here a capo is an everyday thing.
_LOW_CAPO = 4


@dataclass(frozen=True, slots=True)
class Term:
    """One named cost of a way to play, with the sentence that tells it."""

    name: str
    points: int
    sentence: str


class Chords:
    """The tune's chords and how often, what they ask of a neck, each worked out once; and how high its notes are."""

    def __init__(self, tune: Tune) -> None:
        self.heights = sorted(pitch.cents for pitch in tune.pitches)
        self.notes = len(self.heights)
        self.counts = Counter(entry.chord for bar in tune.bars for entry in bar.chords)
        self.total = sum(self.counts.values())
        self._tones = [(tuple(chord.tones), count) for chord, count in self.counts.items()]
        self._known: dict[tuple[int, int], int] = {}

    def fingers(self, neck: Neck, semitones: int) -> int:
        """Fingers of all chords together, one string at a time: none for an open chord tone, one for a stop in reach,
        two where there is no chord tone in reach. An estimate that needs no search for shapes.
        """
        if not self.total or neck.setup.instrument.commas:
            return 0
        key = (id(neck), semitones % 12)
        if key not in self._known:
            self._known[key] = sum(
                count * min(asked[(tone + semitones) % 12] for tone in tones)
                for asked in neck.fingers_asked
                for tones, count in self._tones
            )
        return self._known[key]


def weigh(
    candidate: NeckChoice, tune: Tune, chords: Chords, ask: Ask, scales: Mapping[str, int], most: int
) -> tuple[Term, ...] | None:
    """All terms of a candidate; None as soon as they come to more than `most` points."""
    found: tuple[Term, ...] = ()
    parts = (
        _of_the_pitch(candidate, tune, ask),
        _of_the_setup(candidate, ask),
        _of_the_notes(candidate, chords),
        _of_the_strings(candidate, chords, ask),
        _of_the_key(candidate, tune, chords, ask),
    )
    for terms in parts:
        found += tuple(scaled(term, scales) if scales else term for term in terms if term.points)
        if sum(term.points for term in found) > most:
            return None
    return found


def scaled(term: Term, scales: Mapping[str, int]) -> Term:
    points = Fraction(term.points)
    for name, scale in scales.items():
        if term.name in WEIGHTS[name]:
            points = points * scale / 4
    return replace(term, points=round(points)) if points != term.points else term


def _of_the_notes(candidate: NeckChoice, chords: Chords) -> Iterator[Term]:
    setup, frets = candidate.setup, candidate.frets
    total = sum(count for _, count in frets)
    stopped = sum(count for fret, count in frets if fret)
    open_share = round(100 * (total - stopped) / total)
    yield Term(
        "stopped notes", COSTS["stopped notes"] * stopped // total, f"{open_share} % of the notes on open strings."
    )
    top = max(fret for fret, _ in frets)
    above = max(0, top - setup.instrument.first_position_top)
    yield Term("high frets", COSTS["high frets"] * above, f"Goes up to fret {setup.fret_name(top)}.")
    if plain := lowest_plain(setup.instrument):
        low = bisect_left(chords.heights, setup.string(plain).open_cents - 100 * candidate.semitones)
        said = f"{round(100 * low / total)} % of the notes lie on the wound strings."
        yield Term("wound strings", COSTS["wound strings"] * low // total, said)


def _of_the_strings(candidate: NeckChoice, chords: Chords, ask: Ask) -> Iterator[Term]:
    """Notes that the strings of the melody do not reach: there the thumb has nothing left to strike below it."""
    bounds = melody_bounds(candidate.setup, ask.aloft)
    if bounds:
        low = [bisect_left(chords.heights, bound - 100 * candidate.semitones) for bound in bounds]
        said = f"{round(100 * low[0] / chords.notes)} % of the notes lie below string {max(ask.aloft)}."
        yield Term("low notes", COSTS["low notes"] * sum(low) // chords.notes, said)


def lowest_plain(instrument: Instrument) -> int:
    """The last string that is not wound, where two or more are; 0 elsewhere. A melody sounds dull below it."""
    wound = [number for number, gauge in enumerate(instrument.gauges, 1) if gauge.wire == WOUND]
    return min(wound) - 1 if len(wound) > 1 else 0


def _of_the_key(candidate: NeckChoice, tune: Tune, chords: Chords, ask: Ask) -> Iterator[Term]:
    setup = candidate.setup
    shape, _ = move_key(candidate.key, -setup.raised % 12)
    home = setup.tuning.at_hand(shape, setup.capo)
    if not home and not setup.capo and setup.tuning.second_home(shape):
        said = f"{shape} is played in {setup.tuning.name} without a capo, though it is made for another key."
        yield Term("second home", COSTS["second home"], said)
    elif not home:
        yield Term("away from home", COSTS["away from home"], f"{shape} does not lie easily in {setup.tuning.name}.")
    if fingers := chords.fingers(candidate.neck, candidate.semitones):
        points = round(Fraction(COSTS["chords"] * fingers, chords.total))
        yield Term("chords", points, f"{fingers / chords.total:.1f} fingers for the usual chord.")


def _of_the_pitch(candidate: NeckChoice, tune: Tune, ask: Ask) -> Iterator[Term]:
    if candidate.moved and ask.key == "any":
        points = COSTS["another key"] * abs(candidate.moved)
        yield Term("another key", points, f"Sounds {candidate.key}, not {tune.key}.")
    octaves = (candidate.semitones - candidate.moved) // 12
    if octaves:
        points = COSTS["another octave" if abs(octaves) == 1 else "two octaves"]
        yield Term("another octave", points, _octave_words(octaves))


def _octave_words(octaves: int) -> str:
    count = {1: "An octave", 2: "Two octaves"}[abs(octaves)]
    return f"{count} {'higher' if octaves > 0 else 'lower'} than written."


def _of_the_setup(candidate: NeckChoice, ask: Ask) -> Iterator[Term]:
    setup = candidate.setup
    instrument = setup.instrument
    if setup.capo:
        yield Term("capo", capo_points(instrument, setup.capo), f"Capo at fret {setup.capo}.")
    if (moved := -setup.tuning.moved) and not instrument.relative:
        said = f"Every string {distance_words(moved)} lower."
        # Where every key is played as it stands, nobody lets the strings down for one.
        needless = COSTS["away from home"] if setup.tuning.any_key else 0
        yield Term("tuned down", COSTS["tuned down"] * (moved + 1) + needless, said)
    everyday = setup.tuning.usual if ask.everyday is None else base_id(setup.tuning) in ask.everyday
    if not everyday:
        yield Term("rare tuning", COSTS["rare tuning"], f"{setup.tuning.name} is not an everyday tuning.")
    if ask.current:
        yield from _of_the_retuning(setup, current_tuning(instrument, ask))
    if setup.fifth and setup.drone_move:
        points = COSTS["fifth string"] * DRONE_MOVES[setup.drone_move]
        how = f"hook at fret {setup.hook_fret}" if setup.hook_fret else "by its peg"
        yield Term("fifth string", points, f"Fifth string to {setup.fifth.pitch_class}, {how}.")
    yield from _of_the_pull(setup)
    yield from _of_the_drones(candidate, ask)


def _of_the_pull(setup: Setup) -> Iterator[Term]:
    """Strings that are tuned up further than they bear; a short one is counted by its hook or peg."""
    instrument = setup.instrument
    made_for = instrument.tunings[0].pitches
    strained = (
        0
        if instrument.relative
        else sum(
            new.midi - old.midi > MOST_SEMITONES and number not in dict(instrument.short_strings)
            for number, (new, old) in enumerate(zip(setup.tuning.pitches, made_for, strict=True), 1)
        )
    )
    if strained:
        said = f"{strained} string{'s' * (strained > 1)} tuned up further than strings are made for."
        yield Term("strained strings", COSTS["strained strings"] * strained, said)


def _of_the_drones(candidate: NeckChoice, ask: Ask) -> Iterator[Term]:
    setup, key = candidate.setup, candidate.key
    written = setup.instrument.written_tonic
    if written and (key.tonic.semitone - setup.raised - written.semitone) % 12 == 0:
        return  # the open courses are what that note is played over
    clashing = [number for number in ask.drones if not _suits(setup, number, key.tonic.semitone)]
    strange = [number for number in clashing if _semitone(setup, number) not in key.scale]
    if clashing:
        names = " and ".join(str(setup.tuning.pitches[number - 1].pitch_class) for number in clashing)
        points = COSTS["drones"] * (len(clashing) - len(strange)) + COSTS["drones outside the key"] * len(strange)
        beside = "outside the key" if strange else "beside the tonic and fifth"
        yield Term("drones", points, f"{names} drones {beside}.")


def capo_points(instrument: Instrument, capo: int) -> int:
    """What a capo costs by itself: more up the neck, and where players hardly use one."""
    high = COSTS["high capo"] * max(0, capo - _LOW_CAPO)
    return COSTS["capo"] * instrument.capo_weight * capo + high


def _of_the_retuning(setup: Setup, current: Tuning) -> Iterator[Term]:
    """From the tuning the instrument is in; where that is not known, nothing is counted."""
    moves = [new.midi - old.midi for new, old in zip(setup.tuning.pitches, current.pitches, strict=True)]
    if strings := sum(bool(move) for move in moves):
        said = f"{strings} string{'s' * (strings > 1)} to retune from {current.name}."
        yield Term("retuning", COSTS["retuning"] * strings, said)
        pull = sum(move if move > 0 else -Fraction(2 * move, 5) for move in moves)
        yield Term("semitones up", round(COSTS["semitones up"] * pull), f"{_tension(moves)} semitones in all.")


def _tension(moves: Sequence[int]) -> int:
    return sum(map(abs, moves))


def _suits(setup: Setup, number: int, tonic: int) -> bool:
    return (_semitone(setup, number) - tonic) % 12 in (0, 7)


def _semitone(setup: Setup, number: int) -> int:
    """The pitch class of an open string."""
    return int(setup.string(number).open_cents // 100) % 12
