"""The whole studio as files that people and other programs can read: ABC, and JSON of every arrangement."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from dataclasses import asdict

from nailhead.core.arrange.rows.ways import idiom_named
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.errors import NailheadError
from nailhead.core.plain import plain_name
from nailhead.formats.arrangement_file import Source, file_document
from nailhead.formats.decisions_json import read_decisions
from nailhead.store.arrangements import StoredArrangement, get_arrangement
from nailhead.store.database import Database
from nailhead.store.own import own_instruments, own_tunings
from nailhead.store.setups import StoredSetup, setups_of_tune
from nailhead.store.shelf import tags_of
from nailhead.store.teacher import settings_of
from nailhead.store.tunes import StoredTune, every_tune

_ABOUT = """This is everything that was kept in Nailhead.

tunes/          every tune as ABC, as it was typed last; its tags stand in its name's line of index.json
arrangements/   every arrangement as Nailhead's own JSON; Nailhead brings each back by itself
index.json      what belongs to what
own.json        instruments and tunings of your own
settings.json   what you have settled for all tunes
"""


def readable(database: Database) -> bytes:
    """A zip archive of everything that is kept. What cannot be read any more comes as it is in the file."""
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("about.txt", _ABOUT)
        for name, text in _files(database):
            archive.writestr(name, text)
    return held.getvalue()


def _files(database: Database) -> Iterator[tuple[str, str]]:
    with database.read() as connection:
        tunes = [
            (tune, tags_of(connection, tune.id), setups_of_tune(connection, tune.id)) for tune in every_tune(connection)
        ]
        kept = {setup.id: get_arrangement(connection, setup.id) for *_, setups in tunes for setup in setups}
        own = {
            "instruments": [asdict(row) for row in own_instruments(connection)],
            "tunings": [asdict(row) for row in own_tunings(connection)],
        }
        settled = settings_of(connection)
    index = []
    for tune, tags, setups in tunes:
        stem = f"{tune.id:04}-{plain_name(tune.title)}"
        yield f"tunes/{stem}.abc", tune.text
        names = []
        for setup in setups:
            name = f"arrangements/{stem}-{setup.id}.json"
            names.append(name)
            yield name, _written(_arrangement(tune, setup, kept[setup.id]))
        row = {"file": f"tunes/{stem}.abc", "title": tune.title, "tags": list(tags), "archived": tune.archived}
        index.append({**row, "changed": tune.changed_at, "arrangements": names})
    yield "index.json", _written(index)
    yield "own.json", _written(own)
    yield "settings.json", _written(settled)


def _arrangement(tune: StoredTune, setup: StoredSetup, stored: StoredArrangement) -> object:
    document = stored.document or {}
    try:
        right = idiom_named(setup.idiom).right
        decisions = read_decisions(document["decisions"], right) if "decisions" in document else Arrangement(())
    except NailheadError:
        return {"setup": asdict(setup), "kept": document}
    where = (setup.tuning, setup.capo, setup.fifth, setup.sounding_key)
    sheet = document.get("sheet", {})
    source = Source(
        tune.abc, setup.name, setup.instrument, setup.idiom, *where, setup.options, sheet, decisions, setup.patterns
    )
    return file_document(source)


def _written(document: object) -> str:
    return json.dumps(document, indent=1, ensure_ascii=False, default=str)
