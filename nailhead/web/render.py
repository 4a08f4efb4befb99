"""Core values as models of the API."""

from __future__ import annotations

from collections.abc import Sequence

from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.cautions import cautions
from nailhead.core.fretboard.fit import Fit
from nailhead.formats.arrangement_json import pitch_name
from nailhead.store.setups import StoredSetup
from nailhead.store.tunes import StoredTune
from nailhead.web.ladders import fit_stored
from nailhead.web.models import (
    SetupAnswer,
    SetupSummary,
)
from nailhead.web.naming import names_of
from nailhead.web.shelf_models import TuneDetail
from nailhead.web.workshop import Workshop


def tune_detail(stored: StoredTune, tags: Sequence[str], setups: list[StoredSetup], shop: Workshop) -> TuneDetail:
    called = names_of(setups, shop)
    return TuneDetail(
        id=stored.id,
        title=stored.title,
        text=stored.text,
        readable=bool(stored.abc),
        draft=stored.draft is not None,
        revision=stored.revision,
        archived=stored.archived,
        tags=list(tags),
        setups=[setup_summary(stored, setup, shop, called[setup.id]) for setup in setups],
    )


def setup_summary(tune: StoredTune, setup: StoredSetup, shop: Workshop, called: str) -> SetupSummary:
    """A setup in words, and what it is called beside the tune's others; one that no longer fits its tune says so."""
    try:
        instrument = shop.find(setup.instrument)
        fit = fit_stored(tune.abc, instrument, setup.idiom, setup.tuning, setup.capo, setup.fifth, setup.sounding_key)
    except NailheadError as error:
        label = f"{setup.instrument}: {setup.tuning}, capo {setup.capo}"
        return SetupSummary(
            id=setup.id,
            name=setup.name,
            called=called,
            instrument=setup.instrument,
            label=label,
            idiom=setup.idiom,
            shape_key="",
            sounding_key=setup.sounding_key,
            trouble=str(error),
        )
    return SetupSummary(
        id=setup.id,
        name=setup.name,
        called=called,
        instrument=setup.instrument,
        label=f"{fit.setup.instrument.name}: {fit.setup.label}",
        idiom=setup.idiom,
        shape_key=str(fit.shape_key),
        sounding_key=str(fit.sounding_key),
    )


def setup_answer(fit: Fit, idiom: str) -> SetupAnswer:
    setup = fit.setup
    places = (setup.places(setup.cents_of(pitch)) for pitch in fit.tune.pitches)
    lowest = [min(place.fret for place in found) for found in places]
    return SetupAnswer(
        instrument=setup.instrument.id,
        idiom=idiom,
        tuning=setup.tuning.id,
        tuning_label=setup.tuning.label,
        capo=setup.capo,
        fifth=pitch_name(setup.fifth) if setup.fifth else None,
        hook_fret=setup.hook_fret,
        sounding_key=str(fit.sounding_key),
        sounding_tonic=str(fit.sounding_key.tonic).replace("♯", "#").replace("♭", "b"),
        shape_key=str(fit.shape_key),
        lowest_fret=setup.fret_name(min(lowest)),
        highest_fret=setup.fret_name(max(lowest)),
        open_share=round(sum(fret == 0 for fret in lowest) / len(lowest), 2),
        remarks=list(fit.remarks),
        cautions=list(cautions(setup)),
    )
