"""Ladders kept on disk: the same as built anew, never out of date, harmless when damaged, bounded."""

from __future__ import annotations

import os
import pickle
import zlib
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from nailhead.core.arrange.fit.ladder import Ladder, Searched
from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.rows.ways import find_idiom, idioms_of
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.demo.shelf import TUNES
from nailhead.formats.abc import read_tune
from nailhead.web import kept_ladders, ladders
from nailhead.web.kept_ladders import KeptLadders, beside
from tests.web.test_teacher_api import settle

REEL = (TUNES / "lantern-on-the-weir.abc").read_text(encoding="utf-8")
SONG = (TUNES / "yonder-go-the-drovers.abc").read_text(encoding="utf-8")


@pytest.fixture
def place(tmp_path: Path) -> Iterator[KeptLadders]:
    found = beside(tmp_path / "x.sqlite3")
    ladders.keep_ladders(found)
    ladders._LADDERS.clear()
    yield found
    ladders.keep_ladders(None)
    ladders._LADDERS.clear()


def ladder(text: str = REEL, instrument: str = "banjo", idiom: str = "clawhammer") -> Ladder:
    """As after a start of the server, memory empty, on the planner's first answer."""
    ladders._LADDERS.clear()
    row, tune = find_instrument(instrument), read_tune(text).tune
    assert tune
    way = find_idiom(idiom, row)
    wish = planned(tune, row, way, wished(way))
    assert wish.tuning and wish.capo is not None
    return ladders.ladder_at(text, row, idiom, wish.tuning, wish.capo, None, wish.key or "G")


def refuse(*_: object) -> Ladder:
    raise AssertionError("searched again")


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_what_comes_back_is_what_was_built(
    place: KeptLadders, instrument: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Every way of playing of every instrument: all rungs, the second time and what is around a solo, not searched."""
    row = find_instrument(instrument)
    for way in idioms_of(row):
        built = ladder(SONG, instrument, way.id)
        with monkeypatch.context() as patch:
            patch.setattr(ladders, "build_ladder", refuse)
            found = ladder(SONG, instrument, way.id)
        assert (found.rungs, dict(found.second), found.options) == (built.rungs, dict(built.second), built.options)
        assert found.chords_suggested == built.chords_suggested and found.structure == built.structure
        frames = [(one.kick_off.bars, one.ending.bars) for one in (found, built) if one.kick_off and one.ending]
        assert len(frames) in (0, 2) and frames[:1] == frames[1:]
    assert len(list(place.folder.iterdir())) == len(idioms_of(row))


def test_another_engine_searches_again(place: KeptLadders, monkeypatch: pytest.MonkeyPatch) -> None:
    """A line of the core's source changed, and nothing of before is used; the same for another tune or school."""
    ladder()
    monkeypatch.setattr(kept_ladders, "engine", lambda: "another")
    with monkeypatch.context() as patch, pytest.raises(AssertionError, match="searched again"):
        patch.setattr(ladders, "build_ladder", refuse)
        ladder()
    assert place.get("nothing of the kind") is None


class _Harm:
    def __reduce__(self) -> tuple[object, tuple[str]]:
        return os.mkdir, ("harm",)


@pytest.mark.parametrize(
    "raw",
    [
        b"",
        b"not compressed",
        zlib.compress(b"not a pickle"),
        zlib.compress(pickle.dumps(_Harm())),
        zlib.compress(pickle.dumps([1, 2])),
        zlib.compress(pickle.dumps(Searched((), {}))[:-20]),
    ],
    ids=["empty", "raw", "text", "harm", "something else", "cut off"],
)
def test_a_damaged_file_is_built_again_and_does_nothing(
    place: KeptLadders, raw: bytes, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Cut off, of another kind, or made to run something: it is thrown away, and the ladder is there."""
    monkeypatch.chdir(tmp_path)
    built = ladder()
    (file,) = place.folder.iterdir()
    file.write_bytes(raw)
    assert ladder().rungs == built.rungs
    assert not (tmp_path / "harm").exists()
    assert len(file.read_bytes()) > 1000


def test_a_place_that_cannot_be_written_keeps_nothing(tmp_path: Path) -> None:
    """A folder that is a file: no error, nothing kept."""
    blocked = tmp_path / "x.ladders"
    blocked.write_text("mine")
    place = KeptLadders(blocked)
    place.put("one", Searched((), {}))
    place.tidy()
    assert place.get("one") is None and blocked.read_text() == "mine"


def test_the_folder_is_bounded(tmp_path: Path) -> None:
    """Those looked at longest ago go first, and parts that were never finished."""
    place = KeptLadders(tmp_path / "ladders")
    for name in "abc":
        place.put(name, Searched((), {}))
    for age, name in enumerate("cab"):
        os.utime(place._file(name), (age, age))
    (place.folder / "half.123").write_bytes(b"x")
    size = place._file("a").stat().st_size
    assert place.get("c") is not None  # looked at now
    place.tidy(2 * size)
    assert [place.get(name) is not None for name in "abc"] == [False, True, True]
    assert {file.suffix for file in place.folder.iterdir()} == {".ladder"}


@pytest.mark.parametrize("thumb", ["usual", "other"])
def test_a_setup_that_is_looked_at_has_its_ladder_when_it_is_kept(
    client: TestClient, place: KeptLadders, thumb: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Worked out ahead, in the teacher's own schools, by any worker: the ladder behind it is not searched again."""
    choice = find_idiom("clawhammer", find_instrument("banjo")).choices[0]
    way = choice.usual if thumb == "usual" else next(one for one in choice.ways if one != choice.usual)
    settle(client, schools={choice.name: way})
    wish = {"instrument": "banjo", "idiom": "clawhammer", "tuning": "gCGCD", "capo": 0, "fifth": None, "key": None}
    assert client.post("/api/tunes/2/setups/ahead", json=wish).status_code == 204
    (_,) = place.folder.iterdir()
    ladders._LADDERS.clear()
    monkeypatch.setattr(ladders, "build_ladder", refuse)
    setup = client.post("/api/tunes/2/setups", json=wish).json()["id"]
    shown = client.get(f"/api/setups/{setup}/ladder")
    assert shown.status_code == 200 and shown.json()["rungs"]
    assert client.post("/api/tunes/999/setups/ahead", json=wish).status_code == 404
