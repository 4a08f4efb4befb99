"""The folder that a book is written into, and what is done of it: a line for each tune as soon as its files stand.

A file is written beside its place and moved there, so that one that has its name is whole. A line that is torn, because
the machine stopped, counts for nothing, and its tune is made again.
"""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Collection, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import asdict, dataclass, replace
from pathlib import Path

from filelock import FileLock, Timeout

from nailhead.books.orders import BookError, Outcome, Task
from nailhead.core.plain import plain_name

LINES, LEFT_OUT, CONTENTS = "progress.jsonl", "left-out.txt", "contents.txt"


@dataclass(frozen=True, slots=True)
class Made:
    """A tune of the book that is done with: what it was made from, and the names of its files."""

    place: int
    title: str
    digest: str
    files: tuple[str, ...] = ()
    setup: str = ""
    grades: tuple[int, ...] = ()
    pages: int = 0
    refused: str = ""
    broken: bool = False


def digest_of(task: Task, mark: str) -> str:
    """What decides a tune's files: its ABC, the orders and the engine."""
    return hashlib.sha256(f"{mark}\n{task.orders!r}\n{task.text}".encode()).hexdigest()[:24]


class Folder:
    """One book's folder. Open it with `opened`, which keeps others out."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._lines = path / LINES

    def made(self) -> dict[int, Made]:
        """What is done, by place; what came last counts."""
        found = {}
        lines = self._lines.read_text(encoding="utf-8").split("\n") if self._lines.exists() else []
        for line in lines:
            if row := _read(line):
                found[row.place] = row
        return found

    def stands(self, made: Made | None, digest: str) -> bool:
        """Need a tune not be made again? Not where it was made from the same and its files are there."""
        if made is None or made.digest != digest or made.broken:
            return False
        return all((self.path / name).is_file() for name in made.files)

    def keep(self, outcome: Outcome, digest: str, before: Made | None = None) -> Made:
        """Writes a tune's files, then its line; files of an earlier making that are not made any more go."""
        stem = f"{outcome.place:04}-{plain_name(outcome.title)}"
        names = tuple(f"{stem}.{ending}" for ending, _ in outcome.files)
        for name, (_, body) in zip(names, outcome.files, strict=True):
            self.write(name, body)
        if before:
            self.drop(before, names)
        made = Made(
            outcome.place,
            outcome.title,
            digest,
            names,
            outcome.setup,
            outcome.grades,
            outcome.pages,
            outcome.refused,
            outcome.broken,
        )
        with self._lines.open("a", encoding="utf-8") as lines:
            lines.write(json.dumps(asdict(made), ensure_ascii=False) + "\n")
        return made

    def drop(self, made: Made, but: Collection[str] = ()) -> None:
        """Removes a tune's files, but for those named."""
        for name in made.files:
            if name not in but:
                (self.path / name).unlink(missing_ok=True)

    def close_book(self, made: Mapping[int, Made]) -> None:
        """The contents and what was left out, for people; and the lines once each."""
        rows = [made[place] for place in sorted(made)]
        done, left = [row for row in rows if not row.refused], [row for row in rows if row.refused]
        self.write(CONTENTS, "".join(f"{_told(row)}\n" for row in done).encode())
        if left:
            told = "".join(f"{row.place:>5}  {row.title}: {row.refused}\n" for row in left)
            self.write(LEFT_OUT, told.encode())
        else:
            (self.path / LEFT_OUT).unlink(missing_ok=True)
        self.write(LINES, "".join(json.dumps(asdict(row), ensure_ascii=False) + "\n" for row in rows).encode())

    def write(self, name: str, body: bytes) -> None:
        """A file of the folder, whole or not at all."""
        beside = self.path / f".{name}.part"
        beside.write_bytes(body)
        os.replace(beside, self.path / name)


def _told(row: Made) -> str:
    grades = ", ".join(map(str, row.grades))
    return f"{row.place:>5}  {row.title}  ·  {row.setup}  ·  grade{'s' * (len(row.grades) > 1)} {grades}"


def _read(line: str) -> Made | None:
    try:
        row = json.loads(line)
        made = Made(**row)
        return replace(made, files=tuple(made.files), grades=tuple(made.grades))
    except (ValueError, TypeError):
        return None


@contextmanager
def opened(path: Path) -> Iterator[Folder]:
    """The folder, made where it is not there, and nobody else's meanwhile; raises BookError."""
    if path.exists() and not path.is_dir():
        raise BookError(f"{path} is a file.", field="output", remedy="Name a folder.")
    path.mkdir(parents=True, exist_ok=True)
    lock = FileLock(path / ".lock")
    try:
        lock.acquire(timeout=0)
    except Timeout as error:
        raise BookError(
            f"Another one is at work in {path}.", field="output", remedy="Wait for it, or name another folder."
        ) from error
    try:
        yield Folder(path)
    finally:
        lock.release()
