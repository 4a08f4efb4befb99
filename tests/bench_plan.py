"""Speed of the planner and of rung 1 on every instrument: printed by `make bench`."""

from __future__ import annotations

from nailhead.core.arrange.idioms import Idiom, find_idiom
from nailhead.core.arrange.ladder import build_ladder, count_shifts
from nailhead.core.errors import FitError
from nailhead.core.fretboard.instruments import INSTRUMENTS, Instrument
from nailhead.core.fretboard.necks import Ask
from nailhead.core.fretboard.plan import rank_setups
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from tests.bench import timed

#: A dance in D of 32 bars that comes down to its low tonic, sixteen of them different.
LINES = (
    "D2F2 A2d2|f2e2 d2A2|B2d2 A2F2|E2G2 F2E2|D2F2 A2d2|f2e2 d2A2|B2AF E2F2|D4 D4|",
    "d2f2 a2f2|g2e2 f2d2|e2d2 B2A2|B2d2 e4|d2f2 a2f2|g2e2 f2d2|e2d2 B2E2|D4 D4|",
)


def plan_ms(tune: Tune, instrument: Instrument, idiom: Idiom, key: str | None) -> float:
    """Median time of a ranking; 0 where nothing holds the tune."""
    ask = Ask(key=key, strings=idiom.strings, drones=idiom.drones)
    try:
        return timed(lambda: rank_setups(tune, instrument, ask, lambda fit: count_shifts(fit, idiom)), 3)[0]
    except FitError:
        return 0


def bare_ms(tune: Tune, instrument: Instrument, idiom: Idiom) -> float:
    """Median time of rung 1 on the first answer in any key."""
    ask = Ask(key="any", strings=idiom.strings, drones=idiom.drones)
    fit = rank_setups(tune, instrument, ask, lambda fit: count_shifts(fit, idiom), 1)[0].fit
    return timed(lambda: build_ladder(fit, idiom.id), 3)[0]


def main() -> None:
    tune = read_tune("X:1\nT:Bench\nM:4/4\nL:1/8\nK:D\n" + "\n".join((*LINES, *LINES)) + "\n").tune
    assert tune
    print("instrument        plan, own key   plan, any key   ladder (median ms of 32 bars)")
    for name, row in INSTRUMENTS.items():
        idiom = find_idiom(None, name)
        own, free = plan_ms(tune, row, idiom, None), plan_ms(tune, row, idiom, "any")
        print(f"{name:17} {own:10.0f}      {free:10.0f}      {bare_ms(tune, row, idiom):8.0f}")


if __name__ == "__main__":
    main()
