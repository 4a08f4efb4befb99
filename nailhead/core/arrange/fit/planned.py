"""The planner's first answer, where nobody has chosen a setup."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from nailhead.core.arrange.left.melody import count_shifts
from nailhead.core.arrange.rows.hands import Idiom
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Wish
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.necks import Ask
from nailhead.core.fretboard.plan import rank_setups
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Tune

#: Ways that are looked through for a capo that is wished for.
_ALL = 99


def wished(
    idiom: Idiom,
    tuning: str | None = None,
    capo: int | None = None,
    fifth: Pitch | None = None,
    key: str | None = None,
) -> Wish:
    """A wish for a way of playing: the melody lies on its strings."""
    return Wish(tuning, capo, fifth, key, idiom.strings, idiom.aloft)


def asked(idiom: Idiom, **wanted: Any) -> Ask:
    """What the planner is asked for a way of playing; `wanted` are the other fields of Ask."""
    return Ask(strings=idiom.strings, drones=idiom.drones, everyday=idiom.tunings, aloft=idiom.aloft, **wanted)


def planned(tune: Tune, instrument: Instrument, idiom: Idiom, wish: Wish) -> Wish:
    """The wish with the tuning and the capo that the planner ranks first for its key; raises FitError.

    A tuning or a capo that is wished for is kept. A tune that lies nowhere in its own key, and is asked for in no
    other, goes to the key that suits best.
    """
    if wish.tuning is not None and wish.capo is not None:
        return wish
    tunings = None if wish.tuning is None else (instrument.tuning(wish.tuning).id,)
    ask = asked(idiom, key=wish.key, tunings=tunings)
    try:
        return _first(tune, instrument, idiom, wish, ask)
    except FitError:
        if wish.key is not None:
            raise
        return _first(tune, instrument, idiom, wish, replace(ask, key="any"))


def _first(tune: Tune, instrument: Instrument, idiom: Idiom, wish: Wish, ask: Ask) -> Wish:
    plans = rank_setups(tune, instrument, ask, lambda fit: count_shifts(fit, idiom), 1 if wish.capo is None else _ALL)
    fit = next((plan.fit for plan in plans if plan.fit.setup.capo == wish.capo), plans[0].fit)
    key = str(fit.sounding_key.tonic).replace("♯", "#").replace("♭", "b") if ask.key == "any" else wish.key
    return replace(wish, tuning=fit.setup.tuning.id, capo=fit.setup.capo if wish.capo is None else wish.capo, key=key)
