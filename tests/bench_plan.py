"""Speed of the planner and of rung 1 on every instrument: printed by `make bench`."""

from __future__ import annotations

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.fit.planned import asked
from nailhead.core.arrange.left.melody import count_shifts
from nailhead.core.arrange.rows.ways import Idiom, find_idiom
from nailhead.core.errors import FitError
from nailhead.core.fretboard.instruments import INSTRUMENTS, Instrument
from nailhead.core.fretboard.necks import Ask
from nailhead.core.fretboard.plan import rank_setups
from nailhead.core.fretboard.shapes import easiest_shape
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from tests.bench import timed

#: A dance in D of 32 bars that comes down to its low tonic, sixteen of them different.
LINES = (
    '"D"D2F2 A2d2|f2e2 d2A2|"G"B2d2 "D"A2F2|"A7"E2G2 F2E2|"D"D2F2 A2d2|f2e2 d2A2|"Em"B2AF "A7"E2F2|"D"D4 D4|',
    '"D"d2f2 a2f2|"G"g2e2 "D"f2d2|"Em"e2d2 "G"B2A2|"A"B2d2 e4|"D"d2f2 a2f2|"G"g2e2 "Bm"f2d2|"A7"e2d2 B2E2|"D"D4 D4|',
)


def plan_ms(tune: Tune, instrument: Instrument, idiom: Idiom, key: str | None) -> float:
    """Median time of a ranking; 0 where nothing holds the tune."""
    ask = asked(idiom, key=key)
    try:
        return timed(lambda: _afresh(tune, instrument, ask, idiom), 3)[0]
    except FitError:
        return 0


def _afresh(tune: Tune, instrument: Instrument, ask: Ask, idiom: Idiom) -> None:
    """A ranking that finds nothing worked out before."""
    easiest_shape.cache_clear()
    rank_setups(tune, instrument, ask, lambda fit: count_shifts(fit, idiom))


def bare_ms(tune: Tune, instrument: Instrument, idiom: Idiom) -> float:
    """Median time of rung 1 on the first answer in any key."""
    ask = asked(idiom, key="any")
    fit = rank_setups(tune, instrument, ask, lambda fit: count_shifts(fit, idiom), 1)[0].fit
    return timed(lambda: build_ladder(fit, idiom.id), 3)[0]


def main() -> None:
    tune = read_tune("X:1\nT:Bench\nM:4/4\nL:1/8\nK:D\n" + "\n".join((*LINES, *LINES)) + "\n").tune
    assert tune
    print("instrument        plan, own key   plan, any key   ladder (median ms of 32 bars)")
    for name, row in INSTRUMENTS.items():
        idiom = find_idiom(None, row)
        own, free = plan_ms(tune, row, idiom, None), plan_ms(tune, row, idiom, "any")
        print(f"{name:17} {own:10.0f}      {free:10.0f}      {bare_ms(tune, row, idiom):8.0f}")


if __name__ == "__main__":
    main()
