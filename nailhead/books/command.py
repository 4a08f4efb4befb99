"""`nailhead book BOOK.abc …`: a whole book of tunes into a folder, here or on a cluster, with its progress."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING

# What the command needs is loaded when it runs: the program starts in a twentieth of a second.
if TYPE_CHECKING:
    from nailhead.books.folder import Made
    from nailhead.books.making import Runner
    from nailhead.books.orders import Orders, Outcome, Task


def add_book(parser: argparse.ArgumentParser, read: Callable[[str], str], choices: Callable[..., object]) -> None:
    """The command's options. `read` gives the text of a file, `choices` what players differ in, from its words."""
    parser.add_argument("file", metavar="BOOK.abc", help="an ABC file of many tunes, or - for standard input")
    parser.add_argument("-o", "--output", type=Path, metavar="FOLDER", required=True)
    parser.add_argument("--instrument", default="banjo")
    parser.add_argument("--idiom", default="", help="e.g. clawhammer, plectrum, noter; default: the usual one")
    parser.add_argument("--rungs", default="1-7", help="e.g. 1-7 or 2,4,6; default: all seven")
    parser.add_argument(
        "--key", help="sounding key of every tune, e.g. A; default: each tune's own, or the one that suits"
    )
    parser.add_argument("--tuning", help="e.g. gDGBD or “open G”; default: the planner's first answer for each tune")
    parser.add_argument("--capo", type=int, help="fret of the capo; default: the planner's first answer for each tune")
    parser.add_argument(
        "--choose", action="append", default=[], metavar="WHAT=WHICH", help="a choice where players differ"
    )
    parser.add_argument("--to", default="pdf", help="pdf, text, musicxml, json, or several: pdf,json; default: pdf")
    parser.add_argument("--paper", default="A4", help="A4 or Letter; default: A4")
    parser.add_argument("--colours", default="colour", help="colour or black; default: colour")
    parser.add_argument("--bound", metavar="TITLE", help="also one PDF of everything, with contents, under this title")
    parser.add_argument("--processes", type=int, help="how many tunes at a time; default: as many as there are cores")
    parser.add_argument("--deadline", type=float, default=120.0, metavar="SECONDS", help="for one tune; default: 120")
    parser.add_argument("--scheduler", metavar="tcp://HOST:PORT", help="a Dask cluster that does it instead")
    parser.set_defaults(run=lambda options: _book(options, read, choices))


def _book(options: argparse.Namespace, read: Callable[[str], str], choices: Callable[..., object]) -> int:
    from tqdm import tqdm

    from nailhead.books.binding import bind
    from nailhead.books.folder import opened
    from nailhead.books.making import make_book, tasks_of

    orders = _orders(options, choices)
    tasks = tasks_of(read(options.file), orders)
    with opened(options.output) as folder:
        steps = make_book(tasks, folder, _runner(options))
        try:
            # A bar where somebody looks at it; elsewhere the last line is enough.
            with tqdm(total=len(tasks), unit="tune", disable=None, initial=next(steps).done) as bar:
                for step in steps:
                    bar.update(1)
                    if step.last:
                        bar.set_postfix_str(step.last.title[:30])
        except KeyboardInterrupt:
            print("nailhead: Stopped. The same command goes on from here.", file=sys.stderr)
            return 130
        made = [row for _, row in sorted(folder.made().items())]
        done = [row for row in made if not row.refused]
        if options.bound and done:
            print(f"nailhead: Bound as {bind(folder, done, options.bound, orders.sheet)}.", file=sys.stderr)
    return _told(options.output, made)


def _orders(options: argparse.Namespace, choices: Callable[..., object]) -> Orders:
    from nailhead.books.orders import Orders, check_orders, read_kinds, read_rungs
    from nailhead.core.arrange.rows.ways import Options
    from nailhead.sheet.options import SheetOptions

    chosen = choices(options.choose)
    assert isinstance(chosen, Options)
    kinds = read_kinds(options.to)
    if options.bound and "pdf" not in kinds:
        kinds = ("pdf", *kinds)
    return check_orders(
        Orders(
            options.instrument,
            options.idiom,
            read_rungs(options.rungs),
            options.key,
            options.tuning,
            options.capo,
            chosen,
            kinds,
            SheetOptions(paper=options.paper, colours=options.colours),
        )
    )


def _runner(options: argparse.Namespace) -> Runner:
    if options.scheduler:
        from nailhead.books.cluster import make_there

        return lambda tasks: make_there(options.scheduler, tasks)
    from nailhead.books.local import make_here

    return lambda tasks: _here(make_here, tasks, options)


def _here(
    run: Callable[..., Iterator[Outcome]], tasks: Iterable[Task], options: argparse.Namespace
) -> Iterator[Outcome]:
    return run(tasks, options.processes, options.deadline)


def _told(folder: Path, made: list[Made]) -> int:
    """One line for whoever started it; 1 where something was left out."""
    left = [row for row in made if row.refused]
    print(f"{folder}: {len(made) - len(left)} of {len(made)} tunes.", file=sys.stderr)
    for row in left[:10]:
        print(f"nailhead: {row.place}. {row.title}: {row.refused}", file=sys.stderr)
    if len(left) > 10:
        print(f"nailhead: … and {len(left) - 10} more, in {folder / 'left-out.txt'}.", file=sys.stderr)
    return 1 if left else 0
