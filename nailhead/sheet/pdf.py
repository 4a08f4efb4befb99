"""Paints marks as vector PDF, page for page what the SVG shows; and as pixels."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache

from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas
from reportlab.pdfgen.pathobject import PDFPathObject

from nailhead.core.errors import NailheadError
from nailhead.sheet.fonts import FILES, font
from nailhead.sheet.glyphs import placed
from nailhead.sheet.inks import COLOURED
from nailhead.sheet.marks import Curve, Disc, Line, Mark, Polygon, Sign, Text
from nailhead.sheet.page import Sheet
from nailhead.sheet.setting import Run, set_text
from nailhead.sheet.svg import Inks

#: Points (1/72 inch) in a millimetre.
POINTS = 72 / 25.4
_ROUND, _BUTT = 1, 0
#: What PDF calls the rule by which a sign with a hole is filled (PDF 1.7, §8.5.3.3.2).
_NON_ZERO = 1
#: Streams stay as they are compressed: written in letters they would be a quarter larger, and slower to write.
rl_config.useA85 = 0
_colour = lru_cache(maxsize=64)(HexColor)


def write_pdf(sheets: Iterable[Sheet], title: str, inks: Inks = COLOURED) -> bytes:
    """All pages of some sheets as one document, fonts embedded, with an outline entry for each sheet."""
    held = io.BytesIO()
    canvas = Canvas(held, pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Nailhead")
    for number, sheet in enumerate(sheets):
        for at, page in enumerate(sheet.pages):
            canvas.setPageSize((sheet.width * POINTS, sheet.height * POINTS))
            if at == 0:
                canvas.bookmarkPage(f"sheet{number}")
                canvas.addOutlineEntry(sheet.title, f"sheet{number}")
            painter = _Painter(canvas, sheet.height, inks)
            for mark in page.marks:
                painter.paint(mark)
            canvas.showPage()
    canvas.save()
    return held.getvalue()


class PictureError(NailheadError):
    """Pages cannot be painted as pixels."""


def render_pixels(pdf: bytes, dots_an_inch: int) -> Iterator[bytes]:
    """The pages of a document as PNG.

    Raises PictureError where the package that paints them is not installed; it is an extra.
    """
    try:
        import pypdfium2
    except ImportError as missing:
        raise PictureError(
            "PNG is not installed here.",
            field="name",
            remedy="Run `pip install nailhead[png]`, or take the PDF or SVG.",
        ) from missing
    document = pypdfium2.PdfDocument(pdf)
    try:
        for at in range(len(document)):
            held = io.BytesIO()
            picture = document[at].render(scale=dots_an_inch / 72).to_pil()
            picture.save(held, format="PNG", dpi=(dots_an_inch, dots_an_inch))
            yield held.getvalue()
    finally:
        document.close()


class _Painter:
    """Puts marks on one page of a canvas; PDF counts upwards from the lower edge, in points."""

    def __init__(self, canvas: Canvas, height: float, inks: Inks) -> None:
        self.canvas, self.height, self.inks = canvas, height, inks

    def at(self, x: float, y: float) -> tuple[float, float]:
        return x * POINTS, (self.height - y) * POINTS

    def paint(self, mark: Mark | Run) -> None:
        canvas = self.canvas
        match mark:
            case Line() | Curve():
                canvas.setStrokeColor(_colour(self.inks[mark.ink]))
                canvas.setLineWidth(mark.width * POINTS)
                canvas.setLineCap(_ROUND if isinstance(mark, Curve) else _BUTT)
                canvas.drawPath(self._way(mark), stroke=1, fill=0)
            case Polygon():
                canvas.setFillColor(_colour(self.inks[mark.ink]))
                path = canvas.beginPath()
                path.moveTo(*self.at(*mark.points[0]))
                for point in mark.points[1:]:
                    path.lineTo(*self.at(*point))
                path.close()
                canvas.drawPath(path, stroke=0, fill=1)
            case Sign():
                canvas.setFillColor(_colour(self.inks[mark.ink]))
                path = canvas.beginPath()
                draw: dict[str, Callable[..., None]] = {
                    "M": path.moveTo,
                    "L": path.lineTo,
                    "C": path.curveTo,
                    "Z": path.close,
                }
                for command, points in placed(mark.name, mark.x, mark.y, mark.em):
                    draw[command](*(value for point in points for value in self.at(*point)))
                canvas.drawPath(path, stroke=0, fill=1, fillMode=_NON_ZERO)
            case Disc():
                canvas.setFillColor(_colour(self.inks[mark.fill]))
                canvas.setStrokeColor(_colour(self.inks[mark.ink]))
                canvas.setLineWidth(mark.width * POINTS)
                canvas.circle(*self.at(mark.x, mark.y), mark.radius * POINTS, stroke=int(mark.width > 0), fill=1)
            case Text():
                for piece in set_text(mark):
                    self.paint(piece)
            case _:
                font(mark.face, mark.bold)
                canvas.setFillColor(_colour(self.inks[mark.ink]))
                canvas.setFont(FILES[mark.face, mark.bold][0], mark.size * POINTS)
                canvas.drawString(*self.at(mark.x, mark.y), mark.text)

    def _way(self, mark: Line | Curve) -> PDFPathObject:
        path = self.canvas.beginPath()
        path.moveTo(*self.at(mark.x1, mark.y1))
        if isinstance(mark, Line):
            path.lineTo(*self.at(mark.x2, mark.y2))
            return path
        # A quadratic arc as the cubic that PDF knows: controls two thirds of the way to the one there is.
        one = (mark.x1 + 2 / 3 * (mark.cx - mark.x1), mark.y1 + 2 / 3 * (mark.cy - mark.y1))
        two = (mark.x2 + 2 / 3 * (mark.cx - mark.x2), mark.y2 + 2 / 3 * (mark.cy - mark.y2))
        path.curveTo(*self.at(*one), *self.at(*two), *self.at(mark.x2, mark.y2))
        return path
