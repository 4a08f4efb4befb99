"""Which way to play this tune: every tuning, capo and key that holds it, ranked by named costs.

All candidates are weighed by what can be read off the neck; the best few are then put on the strings for real, so that
shifts of the hand count too.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.errors import FitError, SetupError
from nailhead.core.fretboard.fit import OCTAVES, Fit, Wish, fit_tune, try_octaves
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.necks import Ask, Neck, NeckChoice, allowed_tunings, grain, necks_of
from nailhead.core.fretboard.setup import Setup, default_drone
from nailhead.core.fretboard.shapes import Shape, easiest_shape
from nailhead.core.fretboard.tunings import tuning_moved
from nailhead.core.fretboard.weighing import COSTS, WEIGHTS, Chords, Term, scaled, weigh
from nailhead.core.music.chord import Chord, transpose_chord
from nailhead.core.music.key import move_key, parse_key
from nailhead.core.music.pitch import Pitch, transpose
from nailhead.core.music.tune import Tune

#: So many more than are asked for are put on the strings, since shifts may change their order.
PLACED_MORE = 1


@dataclass(frozen=True)
class Plan:
    """One way to play the tune, with all its terms, heaviest first.

    `shapes` has the tune's chords as they sound here, commonest first, each with its easiest shape (None: there is
    none in reach).
    """

    fit: Fit
    terms: tuple[Term, ...]
    shapes: tuple[tuple[Chord, Shape | None], ...] = ()

    @property
    def cost(self) -> int:
        return sum(term.points for term in self.terms)

    def points(self, name: str) -> int:
        return sum(term.points for term in self.terms if term.name == name)


#: What a player puts up with only where nothing else is to be had (common practice).
LAST_RESORTS = ("away from home", "tuned down", "strained strings")


def seldom(plan: Plan, first: Plan) -> bool:
    """Would no player take this way, since the first answer does without what she puts up with here?"""
    return any(plan.points(name) > first.points(name) == 0 for name in LAST_RESORTS)


#: Counts the changes of hand position of a fit; given by the layer that places.
CountShifts = Callable[[Fit], int]


def rank_setups(tune: Tune, instrument: Instrument, ask: Ask, shifts: CountShifts, most: int = 6) -> tuple[Plan, ...]:
    """The ways to play a tune, best first; raises FitError (why nothing holds it) or SetupError for a silly wish."""
    _check(ask)
    scales = {name: weight for name, weight in ask.weights.items() if weight != 4}
    chords = Chords(tune)
    necks = tuple(necks_of(instrument, ask))
    best = _Best(most + PLACED_MORE)
    for candidate in _candidates(tune, instrument, ask, necks):
        terms = weigh(candidate, tune, chords, ask, scales, best.limit)
        if terms is not None:
            best.add(candidate, terms)
    if not best.ways:
        raise _nothing(tune, instrument, ask)
    plans = [_plan(tune, candidate, terms, ask, scales, shifts) for candidate, terms in best.rows()]
    return tuple(sorted(plans, key=lambda plan: plan.cost)[:most])


class _Best:
    """The cheapest ways so far: of the octaves of one way (tuning, capo, key) only the cheapest counts, the first of
    equals wins. `limit` is what the last of them costs: dearer candidates need no weighing.
    """

    def __init__(self, most: int) -> None:
        self.most = most
        self.limit = 10**9
        self.ways: dict[tuple[str, int, int], tuple[int, int, NeckChoice, tuple[Term, ...]]] = {}

    def add(self, candidate: NeckChoice, terms: tuple[Term, ...]) -> None:
        cost = sum(term.points for term in terms)
        way = (candidate.neck.setup.tuning.id, candidate.neck.setup.capo, candidate.moved)
        if way in self.ways and self.ways[way][0] <= cost:
            return
        order = self.ways[way][1] if way in self.ways else len(self.ways)
        self.ways[way] = (cost, order, candidate, terms)
        if len(self.ways) >= self.most:
            self.limit = sorted(row[0] for row in self.ways.values())[self.most - 1]

    def rows(self) -> list[tuple[NeckChoice, tuple[Term, ...]]]:
        best = sorted(self.ways.values(), key=lambda row: row[:2])[: self.most]
        return [(candidate, terms) for _, _, candidate, terms in best]


def why_not(tune: Tune, instrument: Instrument, ask: Ask, tuning: str, capo: int, shifts: CountShifts) -> str:
    """Why a setup that somebody expected is not the first answer: impossible, or dearer, and by what."""
    best = rank_setups(tune, instrument, ask, shifts, 1)[0]
    expected = replace(ask, tunings=(instrument.tuning(tuning).id,))
    try:
        plans = rank_setups(tune, instrument, expected, shifts, 99)
    except FitError as error:
        return str(error)
    plan = next((plan for plan in plans if plan.fit.setup.capo == capo), None)
    if plan is None:
        try:
            fit_tune(
                tune,
                instrument,
                Wish(tuning, capo, None, None if ask.key == "any" else ask.key, ask.strings, ask.aloft),
            )
        except (FitError, SetupError) as error:
            return str(error)
        return f"{tuning} with capo {capo} is far down the list."
    if (plan.fit.setup.tuning, plan.fit.setup.capo) == (best.fit.setup.tuning, best.fit.setup.capo):
        return "It is the first answer."
    names = {term.name for term in (*plan.terms, *best.terms)}
    dearer = sorted(((plan.points(name) - best.points(name), name) for name in names), reverse=True)
    worst = [f"{name} (+{points})" for points, name in dearer if points > 0][:3]
    return f"It costs {plan.cost}, the first answer {best.cost}: {', '.join(worst)}."


def _check(ask: Ask) -> None:
    for name, weight in ask.weights.items():
        if name not in WEIGHTS or not 0 <= weight <= 16:
            raise SetupError(
                f"“{name}” cannot be weighed {weight}.", field="weights", remedy=f"Weigh {', '.join(WEIGHTS)}, 0 to 16."
            )
    if ask.highest_capo is not None and ask.highest_capo < 0:
        raise SetupError("The highest capo is below the nut.", field="highest_capo", remedy="Use 0 for no capo.")
    if ask.voice and ask.voice[0].cents >= ask.voice[1].cents:
        raise SetupError(
            f"The voice goes from {ask.voice[0]} to {ask.voice[1]}.",
            field="voice",
            remedy="Give the lowest note first, the highest second.",
        )


def _nothing(tune: Tune, instrument: Instrument, ask: Ask) -> FitError:
    """The reason why nothing is left: the voice, or what the first tuning allowed says of the tune."""
    if ask.voice:
        low, high = tune.range
        wide = (high.cents - low.cents) // 100
        return FitError(
            f"No way of playing lies within {ask.voice[0]} to {ask.voice[1]}: the tune spans {wide} semitones.",
            field="voice",
            remedy="Widen the voice's range, or allow any key.",
        )
    key = str(move_key(tune.key, _moves(tune, ask)[0] % 12)[0].tonic)
    for tuning in allowed_tunings(instrument, ask):
        try:
            fit_tune(tune, instrument, Wish(tuning.id, 0, None, key, ask.strings))
        except FitError as error:
            return _in_any_key(error) if ask.key == "any" else error
    return FitError("No tuning that is allowed holds the tune.", remedy="Allow more tunings, a capo, or retuning.")


def _in_any_key(error: FitError) -> FitError:
    """The reason where every key was tried: another one is no remedy."""
    remedy = "No key helps: choose another tuning, way of playing or instrument."
    return FitError(f"In no key does the tune lie here. {error.message}", field=error.field, remedy=remedy)


# -- candidates


def _candidates(tune: Tune, instrument: Instrument, ask: Ask, necks: Sequence[Neck]) -> Iterator[NeckChoice]:
    counts = Counter(tune.pitches)
    by_height = sorted(counts, key=lambda pitch: pitch.cents)
    setups: dict[tuple[int, int], Setup] = {}
    for moved in _moves(tune, ask):
        key, fifths = move_key(tune.key, moved % 12)
        for octave in OCTAVES:
            semitones = moved + 12 * octave
            heard = [transpose(pitch, semitones, fifths) for pitch in by_height]
            if ask.voice and not _within(heard, ask.voice):
                continue
            places = [grain(instrument.cents_of(pitch)) for pitch in heard]
            for neck in necks:
                # The lowest and highest notes settle most of it.
                if places[0] not in neck.lowest or places[-1] not in neck.lowest:
                    continue
                frets = [neck.lowest.get(place, -1) for place in places]
                if -1 in frets:
                    continue
                at = (id(neck), key.tonic.semitone)
                if at not in setups:
                    setups[at] = replace(
                        neck.setup, fifth=default_drone(neck.setup.tuning, instrument, key, neck.setup.capo)
                    )
                played = tuple(zip(frets, (counts[pitch] for pitch in by_height), strict=True))
                yield NeckChoice(neck, setups[at], semitones, moved, key, played)
        if moved and instrument.relative:
            yield from _moved_whole(tune, instrument, ask, necks, moved)


def _moved_whole(
    tune: Tune, instrument: Instrument, ask: Ask, necks: Sequence[Neck], moved: int
) -> Iterator[NeckChoice]:
    """The tune under its own names, and the instrument tuned to whatever pitch that is wanted at."""
    low, high = instrument.whole
    offset = moved if low <= moved <= high else moved + (12 if moved < low else -12)
    key, fifths = move_key(tune.key, offset % 12)
    counts = Counter(tune.pitches)
    heard = [transpose(pitch, offset, fifths) for pitch in counts]
    if not low <= offset <= high or (ask.voice and not _within(heard, ask.voice)):
        return
    for octave in OCTAVES:
        places = [grain(instrument.cents_of(transpose(pitch, 12 * octave, 0))) for pitch in counts]
        for neck in necks:
            frets = [neck.lowest.get(place, -1) for place in places]
            if -1 not in frets and not neck.setup.tuning.moved:
                setup = replace(neck.setup, tuning=tuning_moved(neck.setup.tuning, offset, fifths))
                at = tuple(zip(frets, counts.values(), strict=True))
                yield NeckChoice(replace(neck, setup=setup), setup, offset + 12 * octave, moved, key, at)


def _moves(tune: Tune, ask: Ask) -> tuple[int, ...]:
    """Semitones to the keys that are asked for, nearest first."""
    if ask.key == "any":
        return tuple(sorted(range(-6, 6), key=lambda move: (abs(move), move)))
    if ask.key is None:
        return (0,)
    up = (parse_key(ask.key).tonic.semitone - tune.key.tonic.semitone) % 12
    return (up if up <= 6 else up - 12,)


def _within(heard: Sequence[Pitch], voice: tuple[Pitch, Pitch]) -> bool:
    """Can a voice sing these notes, in whatever octave suits it?"""
    cents = [pitch.cents for pitch in heard]
    low, high = min(cents), max(cents)
    down = -((low - voice[0].cents) // 1200)
    return any(voice[0].cents <= low + 1200 * o and high + 1200 * o <= voice[1].cents for o in (down, down + 1))


# -- plans


def _fit_of(tune: Tune, candidate: NeckChoice, ask: Ask) -> Fit:
    fit = try_octaves(tune, candidate.setup, candidate.semitones, ask.strings, octaves=(0,))
    assert fit is not None
    return fit


def _spelled(fit: Fit) -> Fit:
    """A whole instrument that is let down has its strings named as the key names them; a capo has the key moved on."""
    setup = fit.setup
    if not setup.tuning.moved or setup.capo or setup.instrument.commas:
        return fit
    tuning = setup.instrument.tuning(setup.tuning.id, fifths=-fit.shape_fifths)
    return replace(fit, setup=replace(setup, tuning=tuning))


def _plan(
    tune: Tune,
    candidate: NeckChoice,
    terms: tuple[Term, ...],
    ask: Ask,
    scales: Mapping[str, int],
    shifts: CountShifts,
) -> Plan:
    fit = _spelled(_fit_of(tune, candidate, ask))
    count = shifts(fit)
    moves = Term("shifts", COSTS["shifts"] * count, f"The hand moves {count} time{'s' * (count != 1)}.")
    found = [term for term in terms if term.name != "chords"]
    found += [scaled(moves, scales)] if count else []
    shapes = () if ask.strings or fit.setup.instrument.commas else _shapes_of(fit)
    if shapes and (term := _shape_term(fit, dict(shapes))):
        found.append(scaled(term, scales))
    return Plan(fit, tuple(sorted(found, key=lambda term: (-term.points, term.name))), shapes)


#: A chord with no shape in reach asks as much as the hardest.
_NO_SHAPE = 80


def _shapes_of(fit: Fit) -> tuple[tuple[Chord, Shape | None], ...]:
    counts = Counter(entry.chord for bar in fit.tune.bars for entry in bar.chords)
    return tuple((chord, easiest_shape(fit.setup, chord)) for chord, _ in counts.most_common())


def _shape_term(fit: Fit, shapes: Mapping[Chord, Shape | None]) -> Term | None:
    """What the shapes ask of the hand on average, every chord as often as it comes, and the hardest by name."""
    asked = {chord: shape.hand_cost if shape else _NO_SHAPE for chord, shape in shapes.items()}
    heard = [asked[entry.chord] for bar in fit.tune.bars for entry in bar.chords]
    points = round(Fraction(COSTS["chord shapes"] * sum(heard), 10 * len(heard)))
    if not points:
        return None
    hardest = max(asked, key=lambda chord: asked[chord])
    name, shape = transpose_chord(hardest, fit.shape_fifths), shapes[hardest]
    if shape is None:
        return Term("chord shapes", points, f"{name} has no shape in the first positions.")
    fingers = len(set(dict(shape.fingers).values()))
    how = f"{fingers} finger{'s' * (fingers != 1)}{' with a barre' if shape.barre else ''}"
    return Term("chord shapes", points, f"{len(asked)} chord shape{'s' * (len(asked) != 1)}, hardest {name}: {how}.")
