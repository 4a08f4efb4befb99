"""How hypothesis runs: `make test` always with the same examples, so that a red run can be had again; `make fuzz` with
new ones. A ladder that one test has built is there for the next one, in its process and in the others of the run, as
the server's workers share theirs: ladders are values. `build_ladder.__wrapped__` builds one anew.
"""

from __future__ import annotations

import gc
import os
import pickle
import tempfile
from collections.abc import Callable
from functools import wraps
from pathlib import Path

import pytest
from cachetools import LRUCache
from hypothesis import settings
from xdist.remote import Producer
from xdist.scheduler import LoadScopeScheduling

# Before anything else takes the function from there.
from nailhead.core.arrange.fit import ladder as ladders
from nailhead.core.arrange.fit.ladder import Ladder, Searched, restore_ladder
from nailhead.core.arrange.rows.hands import Idiom
from nailhead.core.arrange.rows.ways import USUAL, Options, OwnRows
from nailhead.core.fretboard.fit import Fit
from nailhead.core.music.decisions import Decisions
from nailhead.web.kept_ladders import KeptLadders

settings.register_profile("same", derandomize=True, print_blob=True)
settings.register_profile("fuzz", print_blob=True)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "same"))

#: Looked through for garbage less often, as the server's workers do.
gc.set_threshold(20_000, 20, 50)
#: So many ladders are kept by each process of a test run.
KEPT = 120
#: Where the processes of a run leave their ladders for one another: the first one tells the others, which it starts.
_PLACE = "NAILHEAD_LADDERS_OF_THIS_RUN"
if _PLACE not in os.environ:
    run = tempfile.TemporaryDirectory(prefix="nailhead-")
    os.environ[_PLACE] = run.name
SHARED = KeptLadders(Path(os.environ[_PLACE]))


def built_once(build: Callable[..., Ladder]) -> Callable[..., Ladder]:
    """The same ladder for the same fit, way and decisions."""
    kept: LRUCache[object, tuple[object, Ladder]] = LRUCache(KEPT)

    def found(key: object, fit: Fit, *given: object) -> Ladder:
        *way, decisions = given
        if decisions is not None or isinstance(way[0], Idiom):
            return build(fit, *given)
        if searched := SHARED.get(key):
            return restore_ladder(fit, searched, *way)  # type: ignore[arg-type]
        built = build(fit, *given)
        SHARED.put(key, Searched(built.rungs, dict(built.second)))
        return built

    @wraps(build)
    def build_ladder(
        fit: Fit,
        idiom: str | Idiom | None = None,
        options: Options = USUAL,
        own: OwnRows = (),
        decisions: Decisions | None = None,
    ) -> Ladder:
        way = id(idiom) if isinstance(idiom, Idiom) else idiom
        key = pickle.dumps(fit), way, options, own, repr(decisions)
        if key not in kept:
            kept[key] = idiom, found(key, fit, idiom, options, own, decisions)
        return kept[key][1]

    return build_ladder


ladders.build_ladder = built_once(ladders.build_ladder)


#: Tests that share a machine badly with one another; each of these folders and files has one worker.
TOGETHER = ("tests/browser/", "tests/books/test_cluster.py", "tests/web/test_workers.py")


class OneBrowserAtATime(LoadScopeScheduling):
    """Spreads tests over workers one by one, but for those that run after one another (marks of groups do not reach the
    scheduler with this pytest: three browsers at once took all the time there is).
    """

    def _split_scope(self, nodeid: str) -> str:
        return next((one for one in TOGETHER if nodeid.startswith(one)), nodeid)


def pytest_xdist_make_scheduler(config: pytest.Config, log: Producer) -> OneBrowserAtATime:
    return OneBrowserAtATime(config, log)
