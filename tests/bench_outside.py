"""Speed against general libraries on the same work: printed by `make bench`."""

from __future__ import annotations

from statistics import median

import networkx as nx

from nailhead.core.arrange.left.placing import place_melody
from nailhead.formats.abc.reader import read_tune
from tests.bench import timed
from tests.core.test_arrange import OPEN_G, notes
from tests.corpora import sample
from tests.formats.music21_agreement import music21_reading
from tests.placing_graph import END, START, graph_of

#: Up and down two octaves, again and again: 200 notes.
LINE = [*range(55, 79, 2), *range(78, 54, -3)] * 10
TUNES = 60


def placement() -> None:
    """The way through the same spots and steps; the library's graph is built apart."""
    melody = notes(LINE)
    graph = graph_of(melody, OPEN_G)
    assert place_melody(melody, OPEN_G).cost == nx.dijkstra_path_length(graph, START, END)
    ours, _ = timed(lambda: place_melody(melody, OPEN_G), 9)
    built, _ = timed(lambda: graph_of(melody, OPEN_G), 3)
    theirs, _ = timed(lambda: nx.dijkstra_path_length(graph, START, END), 5)
    print(f"placement of {len(LINE)} notes with all its costs: {ours:.1f} ms")
    print(f"  networkx: search {theirs:.1f} ms ({theirs / ours:.0f} times), with its graph {built + theirs:.0f} ms")


def reader() -> None:
    """Real tunes one by one, each read by both."""
    ours, theirs = [], []
    for chosen in sample(TUNES):
        try:
            other, _ = timed(lambda chosen=chosen: music21_reading(chosen.text), 1)
        except Exception:  # what it cannot read has no time
            continue
        theirs.append(other)
        ours.append(timed(lambda chosen=chosen: read_tune(chosen.text), 3)[0])
    times = sum(theirs) / sum(ours)
    print(
        f"ABC, {len(ours)} real tunes: {median(ours):.1f} ms a tune, music21 {median(theirs):.0f} ms: {times:.0f} times"
    )


if __name__ == "__main__":
    placement()
    reader()
