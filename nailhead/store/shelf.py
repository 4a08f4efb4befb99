"""The shelf as a list: what is known of each tune, found by words, sorted, a page at a time; and the tags."""

from __future__ import annotations

import sqlite3
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass

from nailhead.core.plain import plain
from nailhead.store.database import StoreError


@dataclass(frozen=True, slots=True)
class Facts:
    """What the shelf says of a tune; all of it can be worked out again from the text."""

    key: str = ""
    metre: str = ""
    rhythm: str = ""
    form: str = ""
    bars: int = 0
    different_bars: int = 0
    wrong_bars: int = 0
    lowest: str = ""
    highest: str = ""
    semitones: int = 0
    chords: bool = False
    origin: str = ""


@dataclass(frozen=True, slots=True)
class ShelfRow:
    """One line of the shelf. `instruments` are those it has been set up for, `opened_at` when it was worked on last, or
    came.
    """

    id: int
    title: str
    draft: bool
    archived: bool
    changed_at: str
    opened_at: str
    tags: tuple[str, ...]
    setups: int
    instruments: tuple[str, ...]
    facts: Facts


@dataclass(frozen=True, slots=True)
class ShelfPage:
    """A page of what was found, and how many there are in all."""

    rows: tuple[ShelfRow, ...]
    total: int


#: Sort orders: what a teacher asks for -> columns.
SORTS = {
    "title": "tune.title COLLATE NOCASE",
    "key": "facts.key",
    "metre": "facts.metre",
    "form": "facts.form",
    "bars": "facts.bars",
    "different": "facts.different_bars",
    "range": "facts.semitones",
    "setups": "setups",
    "changed": "tune.changed_at",
    "opened": "coalesce(tune.opened_at, tune.created_at)",
}
#: What the shelf can be narrowed by, beside words -> the condition on a tune.
NARROWED = {
    "tag": "EXISTS (SELECT 1 FROM tag WHERE tag.tune_id = tune.id AND tag.name = ?)",
    "key": "facts.key = ?",
    "metre": "facts.metre = ?",
    "instrument": "EXISTS (SELECT 1 FROM setup WHERE setup.tune_id = tune.id AND setup.instrument = ?)",
}
_COLUMNS = tuple(name for name in Facts.__slots__ if name != "origin")


def fold(text: str) -> str:
    """Small letters without accents, so that "Bruecke" aside, "BRÚN" finds "Brún" and the other way round."""
    plain = unicodedata.normalize("NFKD", text.casefold())
    return "".join(sign for sign in plain if not unicodedata.combining(sign)).replace("♯", "#").replace("♭", "b")


def put_facts(connection: sqlite3.Connection, tune_id: int, title: str, facts: Facts, made_by: str) -> None:
    """Keep what is known of a tune, in place of what was known before."""
    values = asdict(facts)
    said = [title, facts.key, facts.metre, facts.rhythm, facts.form, values.pop("origin")]
    names = ", ".join(_COLUMNS)
    marks = ", ".join("?" for _ in range(len(_COLUMNS) + 3))
    connection.execute(
        f"INSERT OR REPLACE INTO facts (tune_id, made_by, searched, {names}) VALUES ({marks})",
        (tune_id, made_by, fold(" ".join(said)), *(values[name] for name in _COLUMNS)),
    )


def tunes_without_facts(connection: sqlite3.Connection, made_by: str) -> list[tuple[int, str, str]]:
    """(id, title, ABC) of the tunes of which nothing is known, or only from an older version."""
    rows = connection.execute(
        """
        SELECT tune.id, tune.title, tune.abc FROM tune
        LEFT JOIN facts ON facts.tune_id = tune.id AND facts.made_by = ?
        WHERE facts.tune_id IS NULL
        """,
        (made_by,),
    )
    return [(row["id"], row["title"], row["abc"]) for row in rows]


def find_tunes(
    connection: sqlite3.Connection,
    words: str = "",
    *,
    only: int | None = None,
    narrowed: Mapping[str, str] | None = None,
    archived: bool = False,
    sort: str = "title",
    descending: bool = False,
    offset: int = 0,
    limit: int = 100,
) -> ShelfPage:
    """The tunes in which every word is found, in title, key, metre, rhythm, form, origin or a tag.

    `only` gives the line of one tune, archived or not; `narrowed` what else is asked for, by its name in NARROWED
    ("" asks for nothing). Raises StoreError for a sort order that there is not.
    """
    if sort not in SORTS:
        raise StoreError(
            f"There is no sort order “{sort}”.", field="sort", remedy=f"Choose one of: {', '.join(SORTS)}."
        )
    conditions = ["tune.deleted_at IS NULL", "tune.archived = ?" if only is None else "tune.id = ?"]
    values: list[object] = [archived if only is None else only]
    for word in fold(words).split():
        conditions.append(
            "(instr(facts.searched, ?) OR EXISTS"
            " (SELECT 1 FROM tag WHERE tag.tune_id = tune.id AND instr(lower(tag.name), ?)))"
        )
        values += [word, word]
    for name, value in (narrowed or {}).items():
        if value:
            conditions.append(NARROWED[name])
            values.append(value)
    where = " AND ".join(conditions)
    found = f"FROM tune LEFT JOIN facts ON facts.tune_id = tune.id WHERE {where}"
    total = connection.execute(f"SELECT count(*) {found}", values).fetchone()[0]
    direction = "DESC" if descending else "ASC"
    rows = connection.execute(
        f"""
        SELECT tune.id, tune.title, tune.draft IS NOT NULL AS draft, tune.archived, tune.changed_at,
            coalesce(tune.opened_at, tune.created_at) AS opened_at,
            (SELECT count(*) FROM setup WHERE setup.tune_id = tune.id) AS setups,
            (SELECT group_concat(DISTINCT setup.instrument) FROM setup WHERE setup.tune_id = tune.id) AS instruments,
            (SELECT group_concat(name, char(10)) FROM tag WHERE tag.tune_id = tune.id) AS tags,
            {", ".join(f"facts.{name}" for name in _COLUMNS)}
        {found} ORDER BY {SORTS[sort]} {direction}, tune.title COLLATE NOCASE, tune.id LIMIT ? OFFSET ?
        """,
        [*values, limit, offset],
    )
    return ShelfPage(tuple(_row(row) for row in rows), total)


def _row(row: sqlite3.Row) -> ShelfRow:
    known = {name: row[name] for name in _COLUMNS if row[name] is not None}
    return ShelfRow(
        row["id"],
        row["title"],
        bool(row["draft"]),
        bool(row["archived"]),
        row["changed_at"],
        row["opened_at"],
        tuple(sorted((row["tags"] or "").split("\n"))) if row["tags"] else (),
        row["setups"],
        tuple((row["instruments"] or "").split(",")) if row["instruments"] else (),
        Facts(**{**known, "chords": bool(known.get("chords"))}),
    )


# -- tags


def set_tags(connection: sqlite3.Connection, tune_id: int, names: Sequence[str]) -> tuple[str, ...]:
    """Give a tune these tags and no others; blanks are trimmed, doubles left out. Raises StoreError."""
    cleaned = _cleaned(names)
    if len(cleaned) > 20 or any(len(name) > 40 for name in cleaned):
        raise StoreError("A tag has at most 40 letters, a tune 20 tags.", field="tags", remedy="Shorten them.")
    connection.execute("DELETE FROM tag WHERE tune_id = ?", (tune_id,))
    connection.executemany("INSERT INTO tag (tune_id, name) VALUES (?, ?)", [(tune_id, name) for name in cleaned])
    return tuple(cleaned)


def tag_several(connection: sqlite3.Connection, tunes: Sequence[int], name: str, given: bool) -> None:
    """Give each of these tunes a tag beside its others, or take it from each; raises StoreError."""
    for tune_id in tunes:
        others = set(tags_of(connection, tune_id)) - set(_cleaned([name]))
        set_tags(connection, tune_id, [*others, name] if given else sorted(others))


def _cleaned(names: Sequence[str]) -> list[str]:
    return sorted({" ".join(plain(name).split()).lower() for name in names} - {""})


def tags_of(connection: sqlite3.Connection, tune_id: int) -> tuple[str, ...]:
    """The tags of a tune by name."""
    return tuple(
        row["name"] for row in connection.execute("SELECT name FROM tag WHERE tune_id = ? ORDER BY name", (tune_id,))
    )


def all_tags(connection: sqlite3.Connection) -> list[tuple[str, int]]:
    """Every tag in use and on how many tunes of the shelf, by name."""
    rows = connection.execute(
        """
        SELECT tag.name, count(*) AS tunes FROM tag JOIN tune ON tune.id = tag.tune_id
        WHERE tune.deleted_at IS NULL GROUP BY tag.name ORDER BY tag.name
        """
    )
    return [(row["name"], row["tunes"]) for row in rows]


# -- what there is to narrow by


def every_kind(connection: sqlite3.Connection, archived: bool = False) -> dict[str, list[tuple[str, int]]]:
    """Keys, metres and instruments of the tunes on the shelf (or in the archive), each with how many there are."""
    there = "tune.deleted_at IS NULL AND tune.archived = ?"
    facts = "FROM tune JOIN facts ON facts.tune_id = tune.id"
    asked = {
        "key": f"SELECT facts.key AS name, count(*) AS tunes {facts} WHERE {there} AND facts.key <> ''",
        "metre": f"SELECT facts.metre AS name, count(*) AS tunes {facts} WHERE {there} AND facts.metre <> ''",
        "instrument": f"""
            SELECT setup.instrument AS name, count(DISTINCT tune.id) AS tunes
            FROM tune JOIN setup ON setup.tune_id = tune.id WHERE {there}
            """,
    }
    return {
        kind: [
            (row["name"], row["tunes"]) for row in connection.execute(f"{sql} GROUP BY name ORDER BY name", (archived,))
        ]
        for kind, sql in asked.items()
    }
