""" "My turn, your turn": the tune by phrases, each heard first and played after."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.practice.material import Material
from nailhead.core.practice.spans import Span, whole


@dataclass(frozen=True, slots=True)
class Turn:
    """A phrase that is heard, then left for the player: as long, with the count alone."""

    spans: tuple[Span, ...]
    heard: bool


def turns_of(material: Material) -> tuple[Turn, ...]:
    """Every phrase in playing order, twice: heard, then played."""
    stops = {stop for _, stop in material.ladder.structure.phrases}
    turns: list[Turn] = []
    phrase: list[Span] = []
    for at, spot in enumerate(material.order):
        phrase.append(whole(material, spot))
        last = at + 1 == len(material.order)
        leaps = not last and material.order[at + 1].index != spot.index + 1
        if last or leaps or spot.index + 1 in stops:
            turns += [Turn(tuple(phrase), True), Turn(tuple(phrase), False)]
            phrase = []
    return tuple(turns)
