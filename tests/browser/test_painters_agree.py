"""The two painters of the sheet against one another, each drawn by an engine of its own."""

from __future__ import annotations

import io
from itertools import product

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, Page

from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.page import layout_sheet
from nailhead.sheet.pdf import render_pixels, write_pdf
from nailhead.sheet.svg import svg_page
from tests.demo import demo_tunes
from tests.sheet.test_layout import ladder_of

pytestmark = pytest.mark.browser


def test_svg_and_pdf_are_the_same_to_the_hair(page: Page, address: str, browser: Browser) -> None:
    """Chromium draws the one, PDFium the other: nothing is off by more than a pixel (0.2 mm)."""
    page.goto(address)
    dots = 127  # A4 is a whole number of pixels
    reel = ladder_of(next(tune for tune in demo_tunes() if "Lantern" in tune.title))
    sheet = layout_sheet(
        reel, Arrangement(level_path(reel, 7)), SheetOptions(fingers=True, diagrams=True, staff="all notes")
    )
    drawn = list(render_pixels(write_pdf([sheet], "x"), dots))
    canvas = browser.new_page(device_scale_factor=dots / 96, viewport={"width": 794, "height": 1123})
    for number, marks in enumerate(sheet.pages):
        svg = svg_page(marks.marks, sheet.width, sheet.height, sheet.title, alone=True)
        canvas.set_content(f"<style>body{{margin:0}}svg{{display:block}}</style>{svg}")
        canvas.evaluate("Promise.all([...document.fonts].map(font => font.load()))")
        shot, pdf = _grey(canvas.locator("svg").screenshot()), _grey(drawn[number])
        height, width = min(shot.shape[0], pdf.shape[0]), min(shot.shape[1], pdf.shape[1])
        one, other = _blurred(shot[:height, :width]), _blurred(pdf[:height, :width])
        off = np.minimum.reduce([np.abs(one - moved) for moved in _a_pixel_about(other)])
        assert np.corrcoef(one.ravel(), other.ravel())[0, 1] > 0.95
        assert (off > 80).mean() < 0.00002, number
    canvas.close()


def _a_pixel_about(grey: np.ndarray) -> list[np.ndarray]:
    """The picture where it is and a pixel to each side: renderers round to whole pixels in their own way."""
    return [np.roll(grey, (y, x), (0, 1)) for y, x in product((-1, 0, 1), repeat=2)]


def _grey(png: bytes) -> np.ndarray:
    return 255 - np.asarray(Image.open(io.BytesIO(png)).convert("L"), dtype=float)


def _blurred(grey: np.ndarray) -> np.ndarray:
    """Means of three by three pixels: how edges are smoothed is a renderer's own affair."""
    padded = np.pad(grey, 1)
    height, width = grey.shape
    return sum(padded[y : y + height, x : x + width] for y, x in product(range(3), repeat=2)) / 9  # type: ignore[return-value]
