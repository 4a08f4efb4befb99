"""The setup screen behind its handlers: ranked ways to play a tune, why not another one, the neck to scale."""

from __future__ import annotations

from collections import Counter

from nailhead.core.arrange.fit.ladder import lay_ground
from nailhead.core.arrange.fit.planned import asked
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.left.melody import count_shifts
from nailhead.core.arrange.rows.hands import Idiom
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.errors import SetupError
from nailhead.core.fretboard.cautions import caution_of, retuned
from nailhead.core.fretboard.fit import Fit
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.necks import Ask
from nailhead.core.fretboard.plan import Plan, rank_setups, seldom, why_not
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.fretboard.shapes import Shape
from nailhead.core.music.chord import Chord, transpose_chord
from nailhead.core.music.pitch import Pitch, parse_pitch
from nailhead.core.music.tune import Tune
from nailhead.web.plan_models import (
    NeckModel,
    NeckNote,
    PlanModel,
    PlanShape,
    PlanWish,
    RetuningModel,
    TermModel,
    WhyNot,
)
from nailhead.web.render import setup_answer
from nailhead.web.workshop_views import DRAWN, finger_mm, neck_lines


def _ask(wish: PlanWish, idiom: Idiom) -> Ask:
    return asked(
        idiom,
        key=wish.key,
        tunings=tuple(wish.tunings) if wish.tunings is not None else None,
        current=wish.current,
        may_retune=wish.may_retune,
        highest_capo=wish.highest_capo,
        most_down=wish.most_down,
        voice=_voice(wish),
        weights=dict(wish.weights),
    )


def _voice(wish: PlanWish) -> tuple[Pitch, Pitch] | None:
    if not wish.voice_low and not wish.voice_high:
        return None
    if not wish.voice_low or not wish.voice_high:
        raise SetupError("A voice has a lowest and a highest note.", field="voice", remedy="Give both: A3 and D5.")
    return parse_pitch(wish.voice_low, "voice"), parse_pitch(wish.voice_high, "voice")


def plans_for(tune: Tune, wish: PlanWish, instrument: Instrument) -> list[PlanModel]:
    """Ranked ways to play a tune on an instrument."""
    idiom = find_idiom(wish.idiom, instrument)
    plans = rank_setups(tune, instrument, _ask(wish, idiom), lambda fit: count_shifts(fit, idiom))
    return [_plan(plan, idiom, wish.current, seldom(plan, plans[0])) for plan in plans]


def _plan(plan: Plan, idiom: Idiom, current: str | None, is_seldom: bool) -> PlanModel:
    setup = plan.fit.setup
    changes = retuned(setup, setup.instrument.tuning(current)) if current else ()
    return PlanModel(
        setup=setup_answer(plan.fit, idiom.id),
        tuning_name=setup.tuning.name,
        cost=plan.cost,
        seldom=is_seldom,
        terms=[TermModel(name=term.name, points=term.points, sentence=term.sentence) for term in plan.terms],
        retunings=[
            RetuningModel(
                string=change.string,
                semitones=change.semitones,
                pitch=str(setup.tuning.pitches[change.string - 1]),
                tension_percent=round(change.tension_percent, 1),
                tension_n=None if change.tension_n is None else round(change.tension_n, 1),
                before_n=None if change.before_n is None else round(change.before_n, 1),
                caution=caution_of(change, bool(setup.instrument.highest_capo)),
            )
            for change in changes
        ],
        shapes=[_shape(plan, chord, shape) for chord, shape in plan.shapes],
    )


def _shape(plan: Plan, chord: Chord, shape: Shape | None) -> PlanShape:
    setup = plan.fit.setup
    frets = "nowhere in reach"
    if shape:
        found = [shape.fret(string.number) for string in reversed(setup.strings) if not string.drone]
        names = ["x" if fret is None else setup.fret_name(fret) for fret in found]
        frets = ("" if all(len(name) == 1 for name in names) else " ").join(names)
    return PlanShape(
        shape_name=str(transpose_chord(chord, plan.fit.shape_fifths)),
        sounding_name=str(chord),
        frets=frets,
        fingers=len({finger for _, finger in shape.fingers}) if shape else 0,
        barre=bool(shape and shape.barre),
    )


def reason_against(tune: Tune, question: WhyNot, instrument: Instrument) -> str:
    """Why an expected setup is not the first answer."""
    idiom = find_idiom(question.idiom, instrument)
    ask = _ask(question, idiom)
    return why_not(
        tune, instrument, ask, question.expected_tuning, question.expected_capo, lambda fit: count_shifts(fit, idiom)
    )


# -- the neck


def draw_neck(fit: Fit, idiom: Idiom) -> NeckModel:
    """The neck of a setup to scale, with every place of the tune's notes; those of the bare melody stand out."""
    setup = fit.setup
    instrument, capo = setup.instrument, setup.capo
    ground = lay_ground(fit, idiom, ShapeBook(setup, idiom.left))
    played = Counter(spot.place for spot in ground.placement.spots)
    last = min(instrument.frets, max(DRAWN, capo + max(place.fret for place in played) + 1))
    whole = instrument.fret_mm(last)
    return NeckModel(
        **neck_lines(setup, last),
        notes=[
            NeckNote(
                string=place.string,
                at=finger_mm(instrument, place, capo) / whole,
                fret=setup.fret_name(place.fret),
                pitch=pitch.name,
                count=played.get(place, 0),
                usual=place in played,
            )
            for pitch in sorted(set(ground.tune.pitches), key=setup.cents_of)
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
