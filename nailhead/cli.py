"""`nailhead …` in a terminal: arrange a tune, serve the application, print its API."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from nailhead import __version__
from nailhead.books.command import add_book
from nailhead.core.errors import NailheadError

# What a command needs is loaded when it runs: the program starts in a twentieth of a second.
if TYPE_CHECKING:
    from nailhead.core.arrange.fit.ladder import Ladder
    from nailhead.core.arrange.rows.ways import Options
    from nailhead.core.arrange.teacher.arrangement import Arrangement
    from nailhead.core.arrange.teacher.path import Path as Rungs
    from nailhead.core.music.tune import Tune
    from nailhead.core.practice.material import Material
    from nailhead.core.practice.plan import Order
    from nailhead.store.copies import Holdings

#: Largest ABC file that is read, in bytes.
MOST_BYTES = 20_000_000


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; 0 on success, 2 with one line on stderr for bad input."""
    options = _parser().parse_args(arguments)
    try:
        return int(options.run(options) or 0)
    except NailheadError as error:
        print(f"nailhead: {' '.join(str(error).split())}", file=sys.stderr)
        return 2
    except OSError as error:
        print(f"nailhead: {error.filename or ''}: {error.strerror or error}", file=sys.stderr)
        return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="nailhead", description="Folk tunes on fretted instruments.")
    parser.add_argument("--version", action="version", version=f"nailhead {__version__}")
    commands = parser.add_subparsers(required=True, metavar="command")
    _add_arrange(commands.add_parser("arrange", help="arrange a tune as tablature"))
    _add_practice(commands.add_parser("practice", help="in which steps an arrangement is learnt, and its drills"))
    add_book(commands.add_parser("book", help="arrange and print a whole book of tunes"), _text, _choices)
    serve = commands.add_parser("serve", help="start the application on this machine")
    serve.add_argument("--host", default="127.0.0.1")
    serve.add_argument("--port", help="default: PORT from the environment, else 8000")
    serve.add_argument("--data", type=Path, metavar="FILE", help="the data file (SQLite)")
    serve.add_argument("--demo", action="store_true", help="put the invented shelf into an empty data file")
    serve.add_argument(
        "--allow-host",
        action="append",
        default=[],
        metavar="NAME",
        help="a name, beside those of this machine, by which it may be called; may be given again",
    )
    serve.add_argument(
        "--deadline", type=float, default=20.0, metavar="SECONDS", help="work that takes longer is ended; default: 20"
    )
    serve.set_defaults(run=_serve)
    keep = commands.add_parser("keep-copy", help="everything in one file, while the application runs or not")
    keep.add_argument("-o", "--output", type=Path, metavar="OUT", required=True)
    keep.add_argument("--data", type=Path, metavar="FILE", help="the data file; default: the usual one")
    keep.set_defaults(run=_keep_copy)
    back = commands.add_parser("bring-back", help="what a copy holds in the place of what is there")
    back.add_argument("copy", type=Path, metavar="COPY")
    back.add_argument("--data", type=Path, metavar="FILE", help="the data file; default: the usual one")
    back.set_defaults(run=_bring_back)
    openapi = commands.add_parser("openapi", help="print the API as an OpenAPI document")
    openapi.set_defaults(run=_openapi)
    return parser


def _add_arrange(parser: argparse.ArgumentParser) -> None:
    _add_arrangement(parser)
    parser.add_argument("--to", choices=("text", "json", "musicxml"), default="text")
    parser.set_defaults(run=_arrange)


def _add_practice(parser: argparse.ArgumentParser) -> None:
    _add_arrangement(parser)
    parser.add_argument(
        "--order", choices=("tune", "hardest", "easiest"), default="tune", help="default: as in the tune"
    )
    parser.add_argument(
        "--take-home", type=Path, metavar="OUT.html", help="write the practice room as one file for a pupil instead"
    )
    parser.add_argument("--note", default="", metavar="TEXT", help="a word for the pupil on that page")
    parser.set_defaults(run=_practice)


def _add_arrangement(parser: argparse.ArgumentParser) -> None:
    """Which tune, set up and arranged how."""
    parser.add_argument("file", metavar="FILE.abc", help="an ABC file, or - for standard input")
    parser.add_argument("--tune", metavar="X", help="number (X:) or title of the tune; default: the first")
    parser.add_argument("--instrument", default="banjo")
    parser.add_argument("--idiom", help="e.g. clawhammer, plectrum, noter; default: the usual one")
    parser.add_argument("--tuning", help="e.g. gDGBD or “open G”; default: the planner's first answer")
    parser.add_argument("--capo", type=int, help="fret of the capo; default: the planner's first answer")
    parser.add_argument("--fifth", metavar="PITCH", help="pitch of the fifth string, e.g. A4")
    parser.add_argument("--key", help="sounding key, e.g. A; default: the tune's own")
    parser.add_argument("--rung", type=int, default=1, help="1 bare, 2 basic stroke, 3 chords … 7 solo")
    parser.add_argument(
        "--choose",
        action="append",
        default=[],
        metavar="WHAT=WHICH",
        help="a choice where players differ, e.g. pinch='index and middle'; may be given again",
    )
    parser.add_argument(
        "--pattern",
        action="append",
        default=[],
        metavar="NAME=SIGNS",
        help="a pattern of your own, e.g. 'rocking=T3! I2 T5! I2'; may be given again",
    )
    parser.add_argument(
        "--melody", choices=("bones", "beat", "pairs", "full"), help="how much of it rung 1 plays; default: as usual"
    )
    parser.add_argument("-o", "--output", type=Path, metavar="OUT", help="default: standard output")


def _arrange(options: argparse.Namespace) -> None:
    from nailhead.core.arrange.teacher.path import level_path

    ladder = _ladder(options)
    _put(options, ladder, _writer(options.to)(ladder, level_path(ladder, options.rung)))


def _practice(options: argparse.Namespace) -> None:
    from nailhead.core.arrange.teacher.arrangement import Arrangement
    from nailhead.core.arrange.teacher.path import level_path
    from nailhead.core.practice.drills import drills_of
    from nailhead.core.practice.material import material_of
    from nailhead.core.practice.plan import Order, plan_of
    from nailhead.formats.practice_text import write_plan

    ladder = _ladder(options)
    arrangement = Arrangement(level_path(ladder, options.rung))
    material, order = material_of(ladder, arrangement), Order[options.order.upper()]
    if options.take_home:
        _take_home(options, material, arrangement, order)
        return
    plan = plan_of(material, order)
    _put(options, ladder, write_plan(ladder.tune.title, plan, drills_of(material)))


def _take_home(options: argparse.Namespace, material: Material, arrangement: Arrangement, order: Order) -> None:
    from datetime import date

    from nailhead.sheet.options import SheetOptions
    from nailhead.store.practice import PracticeWish
    from nailhead.web.take_home import TakeHome, write_take_home

    wish = PracticeWish(order=order)
    taken = TakeHome(material, arrangement, SheetOptions(), wish, options.note, date.today())
    options.take_home.write_text(write_take_home(taken), encoding="utf-8")


def _ladder(options: argparse.Namespace) -> Ladder:
    """The ladder that is asked for."""
    from nailhead.core.arrange.fit.ladder import build_ladder
    from nailhead.core.arrange.fit.planned import planned, wished
    from nailhead.core.arrange.rows.ways import find_idiom
    from nailhead.core.fretboard.fit import fit_tune
    from nailhead.core.fretboard.instruments import find_instrument
    from nailhead.core.music.pitch import parse_pitch

    instrument = find_instrument(options.instrument)
    fifth = parse_pitch(options.fifth, "fifth") if options.fifth else None
    idiom = find_idiom(options.idiom, instrument)
    tune = _read(options)
    wish = wished(idiom, options.tuning, options.capo, fifth, options.key)
    if _chooses(options):
        wish = planned(tune, instrument, idiom, wish)
    own = tuple(_pattern(text) for text in options.pattern)
    choices = _choices(options.choose, options.melody)
    return build_ladder(fit_tune(tune, instrument, wish), idiom.id, choices, own)


def _chooses(options: argparse.Namespace) -> bool:
    """Is the setup the planner's choice?"""
    return options.tuning is None and options.capo is None


def _put(options: argparse.Namespace, ladder: Ladder, text: str) -> None:
    """Writes what was made; what was chosen for it goes to stderr."""
    chosen = (f"Chosen: {ladder.fit.setup.label}, sounds {ladder.fit.sounding_key}.",) if _chooses(options) else ()
    for remark in (*chosen, *ladder.fit.remarks):
        print(f"nailhead: {remark}", file=sys.stderr)
    if options.output:
        options.output.write_text(text, encoding="utf-8")
    else:
        sys.stdout.write(text)


def _choices(given: Sequence[str], melody: str | None = None) -> Options:
    """The options named as what=which; an unknown name is refused with those there are.

    `melody` is the layer that the first rung plays.
    """
    from nailhead.core.arrange.rows.ways import CHOICES, options_of
    from nailhead.core.errors import PathError
    from nailhead.core.music.layers import Layer

    chosen = {"melody": Layer(melody).words} if melody else {}
    for text in given:
        name, _, value = text.partition("=")
        field = name.strip().replace("-", "_").replace(" ", "_")
        if field not in CHOICES:
            raise PathError(
                f"There is no choice “{name}”.", field="choose", remedy=f"Choose among: {', '.join(CHOICES)}."
            )
        chosen[field] = value.strip()
    return options_of(chosen)


def _pattern(text: str) -> tuple[str, str]:
    """A pattern given as name=signs."""
    name, _, signs = text.partition("=")
    return name.strip(), signs.strip()


def _read(options: argparse.Namespace) -> Tune:
    """The tune named on the command line; problems of its bars go to stderr."""
    from nailhead.core.music.tune import find_problems
    from nailhead.formats.abc import read_tune
    from nailhead.formats.abc.reader import number_of_title

    text = _text(options.file)
    tune = read_tune(text, number_of_title(text, options.tune) if options.tune else None).tune
    assert tune is not None
    for problem in find_problems(tune):
        print(f"nailhead: {problem.message}", file=sys.stderr)
    return tune


def _text(name: str) -> str:
    """The text of an ABC file, or of standard input for “-”; raises NailheadError for what is no text."""
    from nailhead.core.sniffing import content_of

    if name == "-":
        raw = sys.stdin.buffer.read(MOST_BYTES + 1)
    else:
        with open(name, "rb") as file:
            raw = file.read(MOST_BYTES + 1)
    if len(raw) > MOST_BYTES:
        raise NailheadError("The file is too large.", field="file", remedy=f"Keep it under {MOST_BYTES} bytes.")
    content_of(raw)
    return decode(raw)


def decode(raw: bytes) -> str:
    """UTF-8, or Latin-1 for older files."""
    try:
        return raw.decode("utf-8")
    except UnicodeDecodeError:
        return raw.decode("latin-1")


def _writer(name: str) -> Callable[[Ladder, Rungs], str]:
    if name == "json":
        import json

        from nailhead.formats.arrangement_json import arrangement_document

        return lambda ladder, path: json.dumps(arrangement_document(ladder, path), indent=1, ensure_ascii=False) + "\n"
    if name == "musicxml":
        from nailhead.formats.musicxml import write_musicxml

        return write_musicxml
    from nailhead.formats.text_tab import write_text

    return write_text


def _serve(options: argparse.Namespace) -> None:
    from nailhead.web.serve import serve

    serve(options.host, options.port, options.data, options.demo, options.allow_host, options.deadline)


def _keep_copy(options: argparse.Namespace) -> None:
    from nailhead.store.copies import keep_copy, look_into
    from nailhead.store.database import Database
    from nailhead.store.opening import check_file

    path = options.data or _usual_file()
    look_into(path)
    check_file(path)
    made = keep_copy(Database(path, guest=True), options.output)
    print(f"{made}: {_words(look_into(made))}")


def _bring_back(options: argparse.Namespace) -> None:
    from nailhead.store.copies import bring_back, look_into, look_through, set_aside
    from nailhead.store.database import Database
    from nailhead.store.opening import locked
    from nailhead.store.verifying import DamagedError
    from nailhead.web.reading_through import read_through

    path = options.data or _usual_file()
    with locked(path):
        look_through(options.copy, read_through)
        try:
            aside = bring_back(Database(path), options.copy, read_through)
        except DamagedError:
            aside = set_aside(path)
            bring_back(Database(path), options.copy, read_through).unlink()  # of a new, empty file
    print(f"{path}: {_words(look_into(path))}. What was there is in {aside}.")


def _usual_file() -> Path:
    from platformdirs import user_data_path

    return user_data_path("nailhead", appauthor=False) / "nailhead.sqlite3"


def _words(holdings: Holdings) -> str:
    return f"{holdings.tunes} tunes, {holdings.arrangements} arrangements"


def _openapi(options: argparse.Namespace) -> None:
    import json

    from nailhead.web.app import create_app

    print(json.dumps(create_app(None).openapi(), indent=1))
