"""`make bench`: speed and memory of the main job, printed. Nothing here is asserted."""

from __future__ import annotations

import subprocess
import sys
import time
import tracemalloc
from collections.abc import Callable
from statistics import median

from nailhead.core.arrange.fit.building import RungBuilder
from nailhead.core.arrange.fit.ladder import build_ladder, lay_ground
from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.rows.ways import find_idiom, idioms_of
from nailhead.core.arrange.teacher.alternatives import alternatives
from nailhead.core.fretboard.fit import Fit, Wish, fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from tests.demo import demo_tunes

#: Four different lines of eighths and longer notes, in the manner of a reel.
LINES = (
    '"G"GABd g2fg|"C"edcB c2BA|"G"GABd gfed|"D7"cAFA G4|',
    '"G"B2dB "Em"egdB|"Am"ABcd e2dc|"G"BdgB "C"ceac|"D7"dcAF "G"G4|',
    '"G"g2bg dgbg|"D"f2af dfaf|"C"e2ge "G"d2Bd|"D7"cBAF G4|',
    '"Em"egeB "G"dBGB|"C"cdec "D7"A2FA|"G"Bdgd "C"ecac|"D7"BGAF "G"G4|',
)


def bench_tune(bars: int) -> Tune:
    """A tune of so many bars in which every bar differs from all others in the 32-bar case."""
    text = "".join(LINES[index % 4] + "\n" for index in range((bars + 3) // 4))
    shifted = [_vary(line, index // 4) for index, line in enumerate(text.splitlines())]
    entry = read_tune("X:1\nT:Bench\nM:4/4\nL:1/8\nK:G\n" + "\n".join(shifted) + "\n")
    assert entry.tune
    return entry.tune


def _vary(line: str, times: int) -> str:
    """Swaps note letters outside the chord names, so that later lines are new to the engine."""
    names = "GABcdefg"
    out, quoted = [], False
    for sign in line:
        quoted ^= sign == '"'
        at = names.find(sign)
        out.append(names[(at + times) % len(names)] if at >= 0 and not quoted else sign)
    return "".join(out)


def timed(work: Callable[[], object], times: int = 9) -> tuple[float, float]:
    """(median, best) in milliseconds."""
    spans = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spans.append((time.perf_counter() - start) * 1000)
    return median(spans), min(spans)


def reel_tune() -> Tune:
    """The first reel of the invented shelf."""
    return next(tune for tune in demo_tunes() if "Lantern" in tune.title)


def by_rung(fit: Fit, idiom: str) -> list[float]:
    """Milliseconds of each rung, the groundwork and grading aside."""
    way = find_idiom(idiom, fit.setup.instrument)
    ground = lay_ground(fit, way, ShapeBook(fit.setup))
    builder = RungBuilder(ground.layers, ground.structure, ground.joins, way)
    spans = []
    for rung in range(1, 8):
        start = time.perf_counter()
        builder.build(rung)
        spans.append((time.perf_counter() - start) * 1000)
    return spans


def every_way() -> None:
    """Seven rungs of 32 different bars in every way of playing that has them, beside the banjo's rolls in one run."""
    print("seven rungs of 32 different bars, ms (median / best):")
    for row in INSTRUMENTS.values():
        for way in idioms_of(row):
            if len(way.rungs) < 7:
                continue
            tune = bench_tune(32)
            fit = fit_tune(tune, row, planned(tune, row, way, wished(way)))
            ladder_ms, best = timed(lambda fit=fit, way=way: build_ladder(fit, way), 5)
            print(f"{row.id:10} {way.id:14} {ladder_ms:7.0f} / {best:.0f}  ({fit.setup.label})")


def main() -> None:
    banjo = find_instrument("banjo")
    for idiom in ("clawhammer", "three-finger"):
        print(f"{idiom}: bars  different  ladder ms (7 rungs, median / best)  ms a bar")
        for bars in (8, 32, 128, 512):
            fit = fit_tune(bench_tune(bars), banjo, Wish())
            ladder_ms, best = timed(lambda fit=fit, idiom=idiom: build_ladder(fit, idiom), 5 if bars < 128 else 1)
            different = build_ladder(fit, idiom).structure.different
            print(f"{bars:16}  {different:9}  {ladder_ms:7.1f} / {best:.1f}  {best / bars:.1f}")
        reel = fit_tune(reel_tune(), banjo, Wish())
        ladder_ms, best = timed(lambda reel=reel, idiom=idiom: build_ladder(reel, idiom))
        print(f"a reel of 32 bars as played (AABB, 16 written): {ladder_ms:.1f} / {best:.1f}")
        print(
            "rung by rung, 32 bars:",
            " ".join(f"{ms:.0f}" for ms in by_rung(fit_tune(bench_tune(32), banjo, Wish()), idiom)),
        )
    every_way()
    lantern = build_ladder(reel, "three-finger")
    other_ms, _ = timed(lambda: alternatives(lantern, 1, 6), 5)
    print(f"alternatives of one bar: {other_ms:.0f} ms")
    tracemalloc.start()
    build_ladder(fit_tune(bench_tune(32), banjo, Wish()))
    print(f"peak memory of a 32-bar ladder: {tracemalloc.get_traced_memory()[1] / 1e6:.1f} MB")
    tracemalloc.stop()
    command = [sys.executable, "-m", "nailhead", "--help"]
    start_ms, _ = timed(lambda: subprocess.run(command, capture_output=True, check=False), 5)
    print(f"start of the command: {start_ms:.0f} ms")


if __name__ == "__main__":
    main()
