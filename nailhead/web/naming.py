"""What an arrangement is called: the teacher's own word, else what tells it from the tune's other arrangements."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nailhead.core.arrange.rows.ways import CHOICES, find_idiom
from nailhead.core.errors import NailheadError
from nailhead.store.setups import StoredSetup
from nailhead.web.workshop import Workshop

#: Two that are alike in everything are told apart by their age.
_LATER = ("", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth")


def names_of(setups: Sequence[StoredSetup], shop: Workshop) -> Mapping[int, str]:
    """The name of each arrangement of a tune by its id, oldest first: "clawhammer, open G", "Mira's way"."""
    traits = {setup.id: _traits(setup, shop) for setup in setups if not setup.name}
    named = {setup.id: setup.name for setup in setups if setup.name}
    return {setup.id: named.get(setup.id) or _told(setup.id, traits) for setup in setups}


def _told(own: int, traits: Mapping[int, tuple[str, ...]]) -> str:
    """The first trait, and of the others as many as tell it from those that share it."""
    words = [traits[own][0]]
    alike = [one for one in traits if traits[one][0] == words[0]]
    for place, trait in enumerate(traits[own][1:], start=1):
        shared = [one for one in alike if traits[one][place] == trait]
        if len(shared) < len(alike):
            words.append(trait)
            alike = shared
    age = alike.index(own)
    later = _LATER[age] if age < len(_LATER) else f"number {age + 1}"
    return ", ".join(word for word in (*words, later) if word)


def _traits(setup: StoredSetup, shop: Workshop) -> tuple[str, ...]:
    """How it is played, on what, tuned how, where: from what a player says first to what she says last."""
    chosen = [(CHOICES[name].label.lower(), way) for name, way in sorted(setup.options.items()) if name in CHOICES]
    try:
        instrument = shop.find(setup.instrument)
        idiom = find_idiom(setup.idiom, instrument).name
        name, tuning = instrument.name, instrument.tuning(setup.tuning).name
    except NailheadError:  # what it was made for is gone; its own words are left
        idiom, name, tuning = setup.idiom, setup.instrument, setup.tuning
    capo = f"capo {setup.capo}" if setup.capo else "no capo"
    schools = " and ".join(f"{label} {way}" for label, way in chosen)
    return idiom, name[:1].lower() + name[1:], tuning, capo, f"in {setup.sounding_key}", schools
