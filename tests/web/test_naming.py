"""Arrangements are called by what tells them apart, the same in every list, title and file name."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from nailhead.core.fretboard.instruments import INSTRUMENTS
from nailhead.store.setups import StoredSetup
from nailhead.web.naming import names_of
from nailhead.web.workshop import Workshop
from tests.web.test_api import setup_of

SHOP = Workshop(INSTRUMENTS, {}, {})


def kept(
    number: int, idiom: str = "clawhammer", instrument: str = "banjo", tuning: str = "gDGBD", **more: object
) -> StoredSetup:
    plain = {"capo": 0, "fifth": None, "sounding_key": "G", "created_at": "", "options": {}, "name": "", "revision": 1}
    return StoredSetup(id=number, tune_id=1, instrument=instrument, idiom=idiom, tuning=tuning, **(plain | more))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("setups", "names"),
    [
        ([kept(1)], ["clawhammer"]),
        ([kept(1), kept(2, "three-finger")], ["clawhammer", "three-finger"]),
        ([kept(1), kept(2, tuning="gCGCD")], ["clawhammer, open G", "clawhammer, double C"]),
        ([kept(1), kept(2, capo=2)], ["clawhammer, no capo", "clawhammer, capo 2"]),
        (
            [kept(1, "fingerstyle", "ukulele", "gCEA"), kept(2, "fingerstyle", "guitar", "EADGBE"), kept(3)],
            ["fingerstyle, ukulele", "fingerstyle, guitar", "clawhammer"],
        ),
        (
            [kept(1), kept(2, sounding_key="A", name="Mira's way"), kept(3)],
            ["clawhammer", "Mira's way", "clawhammer, second"],
        ),
        ([kept(1), kept(2, options={"nail": "middle"})], ["clawhammer", "clawhammer, nail that strikes middle"]),
        ([kept(1, instrument="own-7", tuning="gone"), kept(2)], ["clawhammer, own-7", "clawhammer, five-string banjo"]),
    ],
)
def test_what_tells_one_from_the_others(setups: list[StoredSetup], names: list[str]) -> None:
    """The way of playing, and no more of instrument, tuning, capo, key and schools than is needed."""
    assert [names_of(setups, SHOP)[setup.id] for setup in setups] == names


def test_one_name_everywhere(client: TestClient) -> None:
    """In the tune's lists, on ladder, sheet and in the room, in the names of files; a teacher's own goes before."""
    setup = setup_of(client, "Lantern")
    tune = client.get(f"/api/setups/{setup}/ladder").json()["tune_id"]

    def everywhere() -> set[str]:
        rows = client.get(f"/api/tunes/{tune}/arrangements").json() + client.get(f"/api/tunes/{tune}").json()["setups"]
        views = [client.get(f"/api/setups/{setup}/{view}").json() for view in ("ladder", "sheet", "practice/room")]
        return {one["called"] for one in [*(row for row in rows if row["id"] == setup), *views]}

    def file_name(path: str) -> str:
        return client.get(f"/api/setups/{setup}/{path}").headers["content-disposition"].split('"')[1]

    assert everywhere() == {"clawhammer"}
    assert file_name("export/text") == "Lantern-on-the-Weir-clawhammer.txt"
    client.put(f"/api/setups/{setup}/name", json={"name": "Mira's way"})
    assert everywhere() == {"Mira's way"}
    assert file_name("practice/take-home") == "Lantern-on-the-Weir-Mira-s-way.html"
    alone = setup_of(client, "Plum Orchard")
    answer = client.get(f"/api/setups/{alone}/export/text")
    assert answer.headers["content-disposition"].split('"')[1] == "Plum-Orchard-Road.txt"
