"""A book into a folder: what is written, what is left standing, and what an end in the middle leaves behind."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterable, Iterator
from dataclasses import replace
from io import BytesIO
from pathlib import Path

import pytest
from pypdf import PdfReader

from nailhead.books.binding import bind
from nailhead.books.folder import LINES, opened
from nailhead.books.local import make_here
from nailhead.books.making import Step, make_book, tasks_of
from nailhead.books.orders import BookError, Orders, Outcome, Task, check_orders, read_kinds, read_rungs
from nailhead.books.work import make
from nailhead.cli import main
from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.formats.abc import read_tune
from nailhead.formats.text_tab import write_text
from nailhead.sheet.options import SheetOptions
from tests.core.test_fretboard import BANJO

#: Four short tunes of one mould; the third has no fret on a banjo, the fourth is no ABC.
PARTS = [
    ("The Gate Ajar", '"G"G2B2 d2B2|"D"A2F2 "G"G4|]', "G"),
    ("Two Buckets", '"G"B2d2 g2d2|"D"A2d2 "G"G4|]', "G"),
    ("Far Below", '"C"C,,2E,2 G,2C2|"C"c\'\'8|]', "C"),
    ("Broken Line", '"G"G2B2 d5000|]', "G"),
]
BOOK = "\n".join(
    f"X:{number}\nT:{title}\nM:4/4\nL:1/8\nQ:1/4=90\nK:{key}\n{body}\n"
    for number, (title, body, key) in enumerate(PARTS, start=1)
)
ORDERS = Orders("banjo", "clawhammer", (1, 2), kinds=("text",))


def here(tasks: Iterable[Task]) -> Iterator[Outcome]:
    """In this process, one after the other."""
    return map(make, tasks)


def made_into(folder: Path, text: str = BOOK, orders: Orders = ORDERS, most: int | None = None) -> list[int]:
    """The places that were made anew; `most` breaks off behind so many."""
    found = []
    with opened(folder) as book:
        steps = make_book(tasks_of(text, orders), book, here)
        assert next(steps).last is None
        for step in steps:
            assert step.last
            found.append(step.last.place)
            if most and len(found) == most:
                steps.close()
                break
    return found


def files_of(folder: Path) -> list[str]:
    return sorted(path.name for path in folder.iterdir() if path.suffix in (".txt", ".pdf") and path.name[0] == "0")


def test_a_tune_is_arranged_as_by_the_single_command(tmp_path: Path) -> None:
    """Both rungs, on the planner's setup: the text of the ladder that is built by itself."""
    assert made_into(tmp_path) == [1, 2, 3, 4]
    tune = read_tune(BOOK, 2).tune
    assert tune
    ladder = build_ladder(fit_tune(tune, BANJO, Wish(tuning="gDGBD", capo=0)), "clawhammer")
    expected = "\n\n".join(write_text(ladder, level_path(ladder, rung)) for rung in (1, 2))
    assert (tmp_path / "0002-Two-Buckets.txt").read_text(encoding="utf-8") == expected
    assert "Two Buckets  ·  open G (gDGBD), no capo" in (tmp_path / "contents.txt").read_text(encoding="utf-8")


def test_what_is_refused_is_named_and_holds_up_nothing(tmp_path: Path) -> None:
    """With its place in the file of the whole book."""
    made_into(tmp_path)
    assert files_of(tmp_path) == ["0001-The-Gate-Ajar.txt", "0002-Two-Buckets.txt"]
    told = (tmp_path / "left-out.txt").read_text(encoding="utf-8").splitlines()
    assert [line.split(":")[0].split() for line in told] == [["3", "Far", "Below"], ["4", "Broken", "Line"]]
    line = BOOK.split("\n").index(PARTS[3][1]) + 1
    assert f"Line {line}, column 9" in told[1]


def test_a_second_time_makes_only_what_is_not_there(tmp_path: Path) -> None:
    """Nothing; then a tune that was changed, one whose file is gone, all where the orders are others."""
    made_into(tmp_path)
    assert made_into(tmp_path) == []
    assert made_into(tmp_path, BOOK.replace("B2d2 g2d2", "B2d2 e2d2")) == [2]
    (tmp_path / "0001-The-Gate-Ajar.txt").unlink()
    assert made_into(tmp_path, BOOK.replace("B2d2 g2d2", "B2d2 e2d2")) == [1]
    assert made_into(tmp_path, BOOK, replace(ORDERS, rungs=(3,))) == [1, 2, 3, 4]


def test_it_goes_on_where_it_broke_off(tmp_path: Path) -> None:
    """Behind the second tune; a torn last line makes its own tune again."""
    assert made_into(tmp_path, most=2) == [1, 2]
    lines = (tmp_path / LINES).read_bytes()
    (tmp_path / LINES).write_bytes(lines[:-20])
    assert made_into(tmp_path) == [2, 3, 4]
    rows = [json.loads(line) for line in (tmp_path / LINES).read_text(encoding="utf-8").splitlines()]
    assert [row["place"] for row in rows] == [1, 2, 3, 4]


def test_files_of_tunes_that_went_go_too(tmp_path: Path) -> None:
    """A tune gets another title, the last ones leave the book; the reader's own file in the folder stays."""
    made_into(tmp_path)
    (tmp_path / "my notes.txt").write_text("slowly", encoding="utf-8")
    shorter = BOOK[: BOOK.index("X:2")].replace("The Gate Ajar", "The Gate Shut")
    assert made_into(tmp_path, shorter) == [1]
    assert files_of(tmp_path) == ["0001-The-Gate-Shut.txt"]
    assert (tmp_path / "my notes.txt").exists() and not (tmp_path / "left-out.txt").exists()


def test_a_folder_has_one_at_work(tmp_path: Path) -> None:
    with opened(tmp_path / "book"), pytest.raises(BookError, match="Another one is at work"), opened(tmp_path / "book"):
        pass
    (tmp_path / "file").write_text("", encoding="utf-8")
    with pytest.raises(BookError, match="is a file"), opened(tmp_path / "file"):
        pass


def test_processes_give_the_same_and_end_what_takes_too_long() -> None:
    """Two at a time, to the byte; with no time at all each tune is told of as broken off, and would be made again."""
    tasks = tasks_of(BOOK, replace(ORDERS, kinds=("text", "musicxml", "json")))
    assert sorted(make_here(tasks, 2), key=lambda one: one.place) == list(map(make, tasks))
    ended = list(make_here(tasks[:2], 1, seconds=0.001))
    assert [one.broken for one in ended] == [True, True] and "0.001 seconds" in ended[0].refused


def test_broken_work_is_done_again(tmp_path: Path) -> None:
    """Other than what is refused, which would be refused again."""

    def breaking(tasks: Iterable[Task]) -> Iterator[Outcome]:
        return (Outcome(task.place, task.title, refused="It broke.", broken=True) for task in tasks)

    with opened(tmp_path) as book:
        assert list(make_book(tasks_of(BOOK, ORDERS), book, breaking))[-1].done == 4
    assert made_into(tmp_path) == [1, 2, 3, 4]
    assert made_into(tmp_path) == []


def test_a_killed_command_leaves_whole_files_and_is_taken_up(tmp_path: Path) -> None:
    """Ended without a word in the middle: every file under its name is whole, and the rest is made the next time."""
    many = "\n".join(BOOK[: BOOK.index("X:3")].replace("Gate", f"Gate {number}") for number in range(12))
    (tmp_path / "book.abc").write_text(many, encoding="utf-8")
    folder = tmp_path / "out"
    command = [sys.executable, "-m", "nailhead", "book", str(tmp_path / "book.abc"), "-o", str(folder)]
    started = subprocess.Popen([*command, "--rungs", "2", "--processes", "1"], start_new_session=True)
    until = time.monotonic() + 60
    while len(list(folder.glob("*.pdf"))) < 3 and time.monotonic() < until:
        time.sleep(0.02)
    os.killpg(started.pid, signal.SIGKILL)
    started.wait()
    there = len(list(folder.glob("*.pdf")))
    assert 3 <= there < 24
    assert all(PdfReader(path).pages for path in folder.glob("*.pdf"))
    with opened(folder) as book:
        steps = list(make_book(tasks_of(many, Orders("banjo", "clawhammer", (2,))), book, here))
    assert there - 1 <= steps[0].done <= there and steps[-1].done == 24
    assert len(list(folder.glob("*.pdf"))) == 24


def test_bound_pages_are_those_of_the_contents(tmp_path: Path) -> None:
    """The page that the contents name for a tune bears its title and that number; bookmarks lead there."""
    orders = replace(ORDERS, rungs=(1, 2, 3), kinds=("pdf",), sheet=SheetOptions(paper="Letter"))
    with opened(tmp_path) as book:
        steps: list[Step] = list(make_book(tasks_of(BOOK, orders), book, here))
        done = [step.last for step in steps if step.last and not step.last.refused]
        path = bind(book, done, "Harvest Home Tunes", orders.sheet)
    reader = PdfReader(BytesIO(path.read_bytes()))
    contents = reader.pages[0].extract_text()
    assert "Harvest Home Tunes" in contents and len(reader.pages) == 1 + sum(row.pages for row in done)
    at = 2
    for row, mark in zip(done, reader.outline, strict=True):
        assert str(at) in contents.split(row.title)[1].split("\n")[:4]
        assert row.title in reader.pages[at - 1].extract_text() and row.title == mark.title  # type: ignore[union-attr]
        assert reader.get_destination_page_number(mark) == at - 1  # type: ignore[arg-type]
        at += row.pages
    numbers = [page.extract_text().split() for page in reader.pages[1:]]
    assert all(str(number) in words for number, words in enumerate(numbers, start=2))


@pytest.mark.parametrize(
    ("wanted", "field"),
    [
        (lambda: read_rungs("3-1"), "rungs"),
        (lambda: read_rungs("one"), "rungs"),
        (lambda: read_kinds("pdf,gif"), "to"),
        (lambda: check_orders(replace(ORDERS, rungs=(8,))), "rungs"),
        (lambda: check_orders(replace(ORDERS, idiom="kazoo")), "idiom"),
        (lambda: check_orders(replace(ORDERS, tuning="gggg")), "tuning"),
        (lambda: tasks_of("no music", replace(ORDERS)) and tasks_of("", ORDERS), "file"),
    ],
)
def test_orders_that_cannot_be_are_refused_before_any_work(wanted: object, field: str) -> None:
    with pytest.raises(NailheadError) as refused:
        wanted()  # type: ignore[operator]
    assert refused.value.field == field and refused.value.remedy


def test_rungs_as_they_are_written() -> None:
    assert read_rungs("1-3, 6") == (1, 2, 3, 6) and read_rungs("6,1,6") == (6, 1)


def test_the_command_tells_what_it_did(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """0 where all was made, 1 where something was left out, 2 where nothing could begin."""
    file, folder = tmp_path / "book.abc", tmp_path / "out"
    file.write_text(BOOK, encoding="utf-8")
    command = ["book", str(file), "-o", str(folder), "--rungs", "2", "--to", "text", "--processes", "1"]
    assert main(command) == 1
    said = capsys.readouterr().err
    assert "2 of 4 tunes" in said and "3. Far Below" in said
    file.write_text(BOOK[: BOOK.index("X:3")], encoding="utf-8")
    assert main([*command, "--bound", "Two"]) == 0
    assert (folder / "book.pdf").exists() and (folder / "0001-The-Gate-Ajar.pdf").exists()
    assert main([*command, "--instrument", "kazoo"]) == 2
    assert "kazoo" in capsys.readouterr().err
