"""Bar lines: single, double, final, and those of repeats."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.music.tune import Bar
from nailhead.sheet.marks import Disc, Ink, Line, Mark
from nailhead.sheet.style import Style


@dataclass(frozen=True, slots=True)
class Span:
    """From where to where a bar line goes, in mm, and about which heights the dots of a repeat stand."""

    top: float
    bottom: float
    middles: tuple[float, ...]


def left_line(bar: Bar, style: Style, span: Span) -> list[Mark]:
    """A repeat that opens at x = 0; nothing otherwise (the bar before drew its line)."""
    if not bar.opens_repeat:
        return []
    return [_line(span, 0.5 * style.thick, style.thick), *_thin_and_dots(span, style, 0.0, 1)]


def right_line(bar: Bar, style: Style, span: Span, x: float) -> list[Mark]:
    """The line at the bar's end."""
    if bar.closes_repeat:
        return [_line(span, x - 0.5 * style.thick, style.thick), *_thin_and_dots(span, style, x, -1)]
    if bar.barline == "final":
        thin = x - style.thick - 0.45 * style.gap
        return [_line(span, x - 0.5 * style.thick, style.thick), _line(span, thin, 2 * style.thin)]
    if bar.barline == "double":
        return [_line(span, x, 2 * style.thin), _line(span, x - 0.5 * style.gap, 2 * style.thin)]
    return [_line(span, x, 2 * style.thin)]


def _line(span: Span, x: float, width: float) -> Mark:
    return Line(x, span.top, x, span.bottom, width)


def _thin_and_dots(span: Span, style: Style, x: float, way: int) -> list[Mark]:
    thin = x + way * (style.thick + 0.35 * style.gap)
    dots: list[Mark] = [
        Disc(thin + way * 0.5 * style.gap, middle + offset * style.gap, 0.2 * style.gap, Ink.INK, Ink.INK)
        for middle in span.middles
        for offset in (-0.5, 0.5)
    ]
    return [_line(span, thin, 2 * style.thin), *dots]
