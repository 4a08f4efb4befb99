"""The placement of a melody as a graph that any library of shortest paths can take."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import product

import networkx as nx

from nailhead.core.arrange.left.placing import IMPOSSIBLE, UNHURRIED, NoteToPlace, spots_of, static_cost, step_cost
from nailhead.core.fretboard.setup import Setup

START, END = "start", "end"


def graph_of(melody: Sequence[NoteToPlace], setup: Setup) -> nx.DiGraph:
    """From START through a spot of each note to END, the costs of spots and steps as weights."""
    graph = nx.DiGraph()
    layers = [[spot for place in note.places for spot in spots_of(place, setup)] for note in melody]
    for spot in layers[0]:
        graph.add_edge(START, (0, spot), weight=static_cost(spot, setup))
    for index in range(1, len(layers)):
        for before, after in product(layers[index - 1], layers[index]):
            step = step_cost(before, after, melody[index - 1].gap >= UNHURRIED)
            if step < IMPOSSIBLE:
                graph.add_edge((index - 1, before), (index, after), weight=step + static_cost(after, setup))
    for spot in layers[-1]:
        graph.add_edge((len(layers) - 1, spot), END, weight=0)
    return graph
