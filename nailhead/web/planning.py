"""The setup screen behind its handlers: ranked ways to play a tune, why not another one, the neck to scale."""

from __future__ import annotations

from collections import Counter

from nailhead.core.arrange.idioms import Idiom, find_idiom
from nailhead.core.arrange.ladder import build_ladder, count_shifts
from nailhead.core.errors import SetupError
from nailhead.core.fretboard.cautions import retuned
from nailhead.core.fretboard.fit import Fit
from nailhead.core.fretboard.instruments import Instrument, find_instrument
from nailhead.core.fretboard.necks import Ask
from nailhead.core.fretboard.plan import Plan, rank_setups, why_not
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.fretboard.tunings import find_tuning
from nailhead.core.music.pitch import Pitch, parse_pitch
from nailhead.core.music.tune import Tune
from nailhead.web.plan_models import (
    NeckFret,
    NeckModel,
    NeckNote,
    PlanModel,
    PlanWish,
    RetuningModel,
    TermModel,
    WhyNot,
)
from nailhead.web.render import setup_answer

#: A neck is drawn at least to this fret, further where the tune goes.
_DRAWN = 12


def _ask(wish: PlanWish, idiom: Idiom) -> Ask:
    return Ask(
        key=wish.key,
        tunings=tuple(wish.tunings) if wish.tunings is not None else None,
        current=wish.current,
        may_retune=wish.may_retune,
        highest_capo=wish.highest_capo,
        voice=_voice(wish),
        strings=idiom.strings,
        drones=idiom.drones,
        weights=dict(wish.weights),
    )


def _voice(wish: PlanWish) -> tuple[Pitch, Pitch] | None:
    if not wish.voice_low and not wish.voice_high:
        return None
    if not wish.voice_low or not wish.voice_high:
        raise SetupError("A voice has a lowest and a highest note.", field="voice", remedy="Give both: A3 and D5.")
    return parse_pitch(wish.voice_low, "voice"), parse_pitch(wish.voice_high, "voice")


def plans_for(tune: Tune, wish: PlanWish) -> list[PlanModel]:
    """Ranked ways to play a tune on an instrument."""
    instrument = find_instrument(wish.instrument)
    idiom = find_idiom(wish.idiom, instrument.id)
    plans = rank_setups(tune, instrument, _ask(wish, idiom), lambda fit: count_shifts(fit, idiom))
    return [_plan(plan, idiom, wish.current) for plan in plans]


def _plan(plan: Plan, idiom: Idiom, current: str | None) -> PlanModel:
    setup = plan.fit.setup
    changes = retuned(setup, find_tuning(current, setup.instrument.id)) if current else ()
    return PlanModel(
        setup=setup_answer(plan.fit, idiom.id),
        tuning_name=setup.tuning.name,
        cost=plan.cost,
        terms=[TermModel(name=term.name, points=term.points, sentence=term.sentence) for term in plan.terms],
        retunings=[
            RetuningModel(
                string=change.string,
                semitones=change.semitones,
                pitch=str(setup.tuning.pitches[change.string - 1]),
                tension_percent=round(change.tension_percent, 1),
            )
            for change in changes
        ],
    )


def reason_against(tune: Tune, question: WhyNot) -> str:
    """Why an expected setup is not the first answer."""
    instrument = find_instrument(question.instrument)
    idiom = find_idiom(question.idiom, instrument.id)
    ask = _ask(question, idiom)
    return why_not(
        tune, instrument, ask, question.expected_tuning, question.expected_capo, lambda fit: count_shifts(fit, idiom)
    )


# -- the neck


def draw_neck(fit: Fit, idiom: Idiom) -> NeckModel:
    """The neck of a setup to scale, with every place of the tune's notes; those of the bare melody stand out."""
    setup = fit.setup
    instrument, capo = setup.instrument, setup.capo
    ladder = build_ladder(fit, idiom.id)
    played = Counter(
        note.place for bar in ladder.rungs[0] for stroke in bar.strokes for note in stroke.notes if not note.held
    )
    last = min(instrument.frets, max(_DRAWN, capo + max(place.fret for place in played) + 1))
    whole = instrument.fret_mm(last)
    return NeckModel(
        strings=[str(pitch.pitch_class) for pitch in setup.tuning.pitches],
        courses=list(instrument.courses) or [1] * instrument.strings,
        starts=[instrument.fret_mm(instrument.first_fret(n + 1)) / whole for n in range(instrument.strings)],
        frets=[
            NeckFret(at=instrument.fret_mm(fret) / whole, name=instrument.fret_name(fret - capo) if fret > capo else "")
            for fret in range(1, last + 1)
        ],
        capo=instrument.fret_mm(capo) / whole if capo else None,
        notes=[
            NeckNote(
                string=place.string,
                at=_middle(instrument, place, capo) / whole,
                fret=setup.fret_name(place.fret),
                pitch=pitch.name,
                count=played.get(place, 0),
                usual=place in played,
            )
            for pitch in sorted(set(ladder.tune.pitches), key=setup.cents_of)
            for place in _shown(setup, pitch, idiom, last)
        ],
    )


def _shown(setup: Setup, pitch: Pitch, idiom: Idiom, last: int) -> list[Place]:
    places = setup.places(setup.cents_of(pitch))
    return [
        place
        for place in places
        if place.fret + setup.capo <= last and (not idiom.strings or place.string in idiom.strings)
    ]


def _middle(instrument: Instrument, place: Place, capo: int) -> float:
    """Where the finger goes: between the fret and the one before; for an open string behind nut or capo."""
    fret = place.fret + capo
    if place.fret == 0:
        return instrument.fret_mm(fret)
    return (instrument.fret_mm(fret - 1) + instrument.fret_mm(fret)) / 2
