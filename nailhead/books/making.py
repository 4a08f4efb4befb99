"""A book from its ABC to the folder: what stands already is left, the rest is made and kept as it comes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from nailhead.books.folder import Folder, Made, digest_of
from nailhead.books.orders import BookError, Orders, Outcome, Task
from nailhead.books.work import engine_mark
from nailhead.formats.abc.reader import label_of, split_book

#: Gives the outcome of each task, in any order.
Runner = Callable[[Iterable[Task]], Iterator[Outcome]]


@dataclass(frozen=True, slots=True)
class Step:
    """Where a book stands: tunes that stood already or are done, of all, and the one done last."""

    done: int
    total: int
    last: Made | None = None


def tasks_of(text: str, orders: Orders) -> list[Task]:
    """A task for each tune of an ABC text, in its order; raises BookError where there is none."""
    book = split_book(text)
    if not book:
        raise BookError(
            "There is no tune in the file.", field="file", remedy="An ABC tune begins with X: and has a K:."
        )
    return [
        Task(place, line, label_of(lines)[1], "\n".join(lines) + "\n", orders)
        for place, (line, lines) in enumerate(book, start=1)
    ]


def make_book(tasks: list[Task], folder: Folder, run: Runner) -> Iterator[Step]:
    """Makes what is not there yet: a step at the beginning, then one for each tune; the folder is closed at the end.

    Broken off anywhere, it goes on there the next time.
    """
    mark, before = engine_mark(), folder.made()
    digests = {task.place: digest_of(task, mark) for task in tasks}
    standing = {place: row for place, row in before.items() if folder.stands(row, digests.get(place, ""))}
    for place in before.keys() - digests.keys():
        folder.drop(before[place])
    missing = [task for task in tasks if task.place not in standing]
    yield Step(len(standing), len(tasks))
    for outcome in run(missing):
        place = outcome.place
        standing[place] = folder.keep(outcome, digests[place], before.get(place))
        yield Step(len(standing), len(tasks), standing[place])
    folder.close_book(standing)
