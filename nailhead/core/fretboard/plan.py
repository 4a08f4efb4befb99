"""Which way to play this tune: every tuning, capo and key that holds it, ranked by named costs.

All candidates are weighed by what can be read off the neck; the best few are then put on the strings for real, so that
shifts of the hand count too.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from nailhead.core.errors import FitError, SetupError
from nailhead.core.fretboard.fit import OCTAVES, Fit, Wish, fit_tune, try_octaves
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.necks import Ask, Candidate, Neck, allowed_tunings, grain, necks_of
from nailhead.core.fretboard.setup import default_drone
from nailhead.core.fretboard.tunings import find_tuning
from nailhead.core.fretboard.weighing import COSTS, WEIGHTS, Chords, Term, scaled, weigh
from nailhead.core.music.key import move_key, parse_key
from nailhead.core.music.pitch import Pitch, transpose
from nailhead.core.music.tune import Tune

#: So many more than are asked for are put on the strings, since shifts may change their order.
PLACED_MORE = 1


@dataclass(frozen=True)
class Plan:
    """One way to play the tune, with all its terms, heaviest first."""

    fit: Fit
    terms: tuple[Term, ...]

    @property
    def cost(self) -> int:
        return sum(term.points for term in self.terms)

    def points(self, name: str) -> int:
        return sum(term.points for term in self.terms if term.name == name)


#: Counts the changes of hand position of a fit; given by the layer that places.
CountShifts = Callable[[Fit], int]


def rank_setups(tune: Tune, instrument: Instrument, ask: Ask, shifts: CountShifts, most: int = 6) -> tuple[Plan, ...]:
    """The ways to play a tune, best first; raises FitError (why nothing holds it) or SetupError for a silly wish."""
    _check(ask)
    scales = {name: weight for name, weight in ask.weights.items() if weight != 4}
    chords = Chords(tune)
    necks = tuple(necks_of(instrument, ask))
    weighed = []
    for order, candidate in enumerate(_candidates(tune, instrument, ask, necks)):
        terms = weigh(candidate, tune, chords, instrument, ask, scales)
        weighed.append((sum(term.points for term in terms), order, candidate, terms))
    if not weighed:
        raise _nothing(tune, instrument, ask)
    weighed.sort(key=lambda row: row[:2])
    # Of the octaves of one way to play only the cheapest counts.
    ways = {(row[2].neck.setup.tuning.id, row[2].neck.setup.capo, row[2].moved): row for row in reversed(weighed)}
    best = sorted(ways.values(), key=lambda row: row[:2])[: most + PLACED_MORE]
    plans = [_plan(tune, candidate, terms, ask, scales, shifts) for _, _, candidate, terms in best]
    return tuple(sorted(plans, key=lambda plan: plan.cost)[:most])


def why_not(tune: Tune, instrument: Instrument, ask: Ask, tuning: str, capo: int, shifts: CountShifts) -> str:
    """Why a setup that somebody expected is not the first answer: impossible, or dearer, and by what."""
    best = rank_setups(tune, instrument, ask, shifts, 1)[0]
    expected = replace(ask, tunings=(find_tuning(tuning, instrument.id).id,))
    try:
        plans = rank_setups(tune, instrument, expected, shifts, 99)
    except FitError as error:
        return str(error)
    plan = next((plan for plan in plans if plan.fit.setup.capo == capo), None)
    if plan is None:
        try:
            fit_tune(tune, instrument, Wish(tuning, capo, None, None if ask.key == "any" else ask.key, ask.strings))
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
            return error
    return FitError("No tuning that is allowed holds the tune.", remedy="Allow more tunings, a capo, or retuning.")


# -- candidates


def _candidates(tune: Tune, instrument: Instrument, ask: Ask, necks: Sequence[Neck]) -> Iterator[Candidate]:
    counts = Counter(tune.pitches)
    drones: dict[tuple[str, int], Pitch | None] = {}
    for moved in _moves(tune, ask):
        key, fifths = move_key(tune.key, moved % 12)
        for octave in OCTAVES:
            semitones = moved + 12 * octave
            heard = [transpose(pitch, semitones, fifths) for pitch in counts]
            if ask.voice and not _within(heard, ask.voice):
                continue
            places = [grain(instrument.cents_of(pitch)) for pitch in heard]
            for neck in necks:
                frets = [neck.lowest.get(place, -1) for place in places]
                if -1 in frets:
                    continue
                tuning = neck.setup.tuning
                at = (tuning.id, key.tonic.semitone)
                if at not in drones:
                    drones[at] = default_drone(tuning, instrument, key)
                setup = replace(neck.setup, fifth=drones[at])
                yield Candidate(neck, setup, semitones, moved, key, tuple(zip(frets, counts.values(), strict=True)))


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


def _fit_of(tune: Tune, candidate: Candidate, ask: Ask) -> Fit:
    fit = try_octaves(tune, candidate.setup, candidate.semitones, ask.strings, octaves=(0,))
    assert fit is not None
    return fit


def _plan(
    tune: Tune,
    candidate: Candidate,
    terms: tuple[Term, ...],
    ask: Ask,
    scales: Mapping[str, int],
    shifts: CountShifts,
) -> Plan:
    fit = _fit_of(tune, candidate, ask)
    count = shifts(fit)
    moves = Term("shifts", COSTS["shifts"] * count, f"The hand moves {count} time{'s' * (count != 1)}.")
    found = (*terms, scaled(moves, scales)) if count else terms
    return Plan(fit, tuple(sorted(found, key=lambda term: (-term.points, term.name))))
