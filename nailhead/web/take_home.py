"""A page to take home: the practice room of one arrangement as a single HTML file that asks for nothing."""

from __future__ import annotations

import base64
import json
from dataclasses import dataclass
from datetime import date
from html import escape
from pathlib import Path

from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.errors import NailheadError
from nailhead.core.plain import plain
from nailhead.core.practice.drills import drills_of
from nailhead.core.practice.material import Material, name_of
from nailhead.core.practice.plan import plan_of
from nailhead.core.practice.tempo import every_way
from nailhead.core.sound.voices import VOICE_RATE, voice
from nailhead.formats.wav import write_flac
from nailhead.sheet.inks import INKS
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.page import layout_sheet
from nailhead.sheet.svg import svg_page
from nailhead.store.practice import PracticeWish
from nailhead.web.practice_models import practice_model, progress_model
from nailhead.web.practice_room import room_of

#: The page without an arrangement in it; the build brings it.
PAGE = Path(__file__).parent / "static" / "take-home.html"
_TITLE, _TAKEN = "__TITLE__", "__TAKEN__"


class TakeHomeError(NailheadError):
    """The page is not there to be filled."""


@dataclass(frozen=True)
class TakeHome:
    """What a pupil takes home: an arrangement, its sheet, how she learns it, a word from the teacher."""

    material: Material
    arrangement: Arrangement
    options: SheetOptions
    wish: PracticeWish
    note: str
    day: date
    called: str = ""


def write_take_home(taken: TakeHome, page: Path = PAGE) -> str:
    """The file's text. Raises TakeHomeError where the front end has not been built."""
    if not page.is_file():
        raise TakeHomeError("The page to take home is not built.", field="page", remedy="Run `make demo` once.")
    blank = page.read_text(encoding="utf-8")
    title = escape(plain(taken.material.ladder.tune.title))
    before, after = blank.split(_TAKEN)
    return f"{before.replace(_TITLE, title)}{_safe(json.dumps(_document(taken), ensure_ascii=False))}{after}"


def _safe(text: str) -> str:
    """JSON in which no tag can end the script element (HTML standard, 4.12.1.3)."""
    return text.replace("<", "\\u003c")


def _document(taken: TakeHome) -> dict[str, object]:
    material, ladder, wish = taken.material, taken.material.ladder, taken.wish
    plan = plan_of(material, wish.order)
    sheet = layout_sheet(ladder, taken.arrangement, taken.options)
    inks = INKS[taken.options.colours]
    return {
        "key": name_of(ladder.tune.title, *(step.id for step in plan.steps)),
        "room": room_of(material, taken.options, "large", taken.called, address=_inside).model_dump(mode="json"),
        "plan": practice_model(material, plan, drills_of(material), wish, {}).model_dump(mode="json"),
        "ways": {
            f"{state.percent} {state.clean} {str(state.done).lower()}": {
                said: progress_model(then).model_dump() for said, then in ways.items()
            }
            for state, ways in every_way(wish.tempo).items()
        },
        "note": plain(taken.note),
        "date": f"{taken.day.day} {taken.day:%B %Y}",
        "pages": [
            svg_page(one.marks, sheet.width, sheet.height, f"{sheet.title}, page {at}", inks)
            for at, one in enumerate(sheet.pages, 1)
        ],
        "width": sheet.width,
        "height": sheet.height,
    }


def _inside(name: str) -> str:
    """A sound in the page itself."""
    return f"data:audio/flac;base64,{base64.b64encode(write_flac(voice(name), VOICE_RATE)).decode()}"
