"""Paints marks as SVG in millimetres."""

from __future__ import annotations

import base64
from collections.abc import Iterable, Mapping
from html import escape

from nailhead.core.plain import plain
from nailhead.sheet.fonts import FILES, FOLDER
from nailhead.sheet.glyphs import placed
from nailhead.sheet.inks import COLOURED
from nailhead.sheet.marks import Curve, Disc, Ink, Line, Mark, Polygon, Sign, Text
from nailhead.sheet.setting import Run, set_text

Inks = Mapping[Ink, str]


def svg_page(
    marks: Iterable[Mark], width: float, height: float, title: str, inks: Inks = COLOURED, alone: bool = False
) -> str:
    """One page. `alone` makes a file of its own that brings its fonts; without it the page has them already."""
    marks = list(marks)
    body = "".join(_paint(mark, inks) for mark in marks)
    head = f"<style>{_faces(marks)}</style>" if alone else ""
    paper = f'<path fill="#FFFFFF" d="M0 0H{_n(width)}V{_n(height)}H0Z"/>' if alone else ""
    size = f'width="{_n(width)}mm" height="{_n(height)}mm" ' if alone else ""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="page" {size}viewBox="0 0 {_n(width)} {_n(height)}" role="img">'
        f'<title>{_words(title)}</title>{head}{paper}<g font-kerning="none" style="font-kerning:none">{body}</g></svg>'
    )


def svg_groups(
    groups: Mapping[str, Iterable[Mark]], width: float, height: float, title: str, inks: Inks = COLOURED
) -> str:
    """A picture in groups, each with a class of its name, so that a page can hide one of them."""
    body = "".join(
        f'<g class="{name}">{"".join(_paint(mark, inks) for mark in group)}</g>' for name, group in groups.items()
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {_n(width)} {_n(height)}" role="img">'
        f'<title>{_words(title)}</title><g font-kerning="none" style="font-kerning:none">{body}</g></svg>'
    )


def _words(text: str) -> str:
    """Text as it stands in a picture."""
    return escape(plain(text))


def _n(value: float) -> str:
    """A number to a thousandth of a millimetre, as short as can be."""
    return f"{value:.3f}".rstrip("0").rstrip(".") or "0"


def _paint(mark: Mark | Run, inks: Inks) -> str:
    match mark:
        case Line():
            ends = f"M{_n(mark.x1)} {_n(mark.y1)}L{_n(mark.x2)} {_n(mark.y2)}"
            return f'<path fill="none" stroke="{inks[mark.ink]}" stroke-width="{_n(mark.width)}" d="{ends}"/>'
        case Curve():
            way = f"M{_n(mark.x1)} {_n(mark.y1)}Q{_n(mark.cx)} {_n(mark.cy)} {_n(mark.x2)} {_n(mark.y2)}"
            return (
                f'<path fill="none" stroke="{inks[mark.ink]}" stroke-width="{_n(mark.width)}" '
                f'stroke-linecap="round" d="{way}"/>'
            )
        case Polygon():
            corners = "L".join(f"{_n(x)} {_n(y)}" for x, y in mark.points)
            return f'<path fill="{inks[mark.ink]}" d="M{corners}Z"/>'
        case Sign():
            way = "".join(
                command + " ".join(f"{_n(x)} {_n(y)}" for x, y in points)
                for command, points in placed(mark.name, mark.x, mark.y, mark.em)
            )
            return f'<path fill="{inks[mark.ink]}" d="{way}"/>'
        case Disc():
            stroke = f' stroke="{inks[mark.ink]}" stroke-width="{_n(mark.width)}"' if mark.width else ""
            return (
                f'<circle cx="{_n(mark.x)}" cy="{_n(mark.y)}" r="{_n(mark.radius)}" fill="{inks[mark.fill]}"{stroke}/>'
            )
        case Text():
            return "".join(_paint(piece, inks) for piece in set_text(mark))
        case _:
            _, family, weight = FILES[mark.face, mark.bold]
            return (
                f'<text x="{_n(mark.x)}" y="{_n(mark.y)}" font-family="\'{family}\'" font-weight="{weight}" '
                f'font-size="{_n(mark.size)}" fill="{inks[mark.ink]}" xml:space="preserve">{_words(mark.text)}</text>'
            )


def _faces(marks: Iterable[Mark]) -> str:
    """The fonts that are used, themselves, so that the file looks the same anywhere."""
    runs = (piece for mark in marks if isinstance(mark, Text) for piece in set_text(mark) if isinstance(piece, Run))
    used = {(run.face, run.bold) for run in runs}
    rules = []
    for face, (file, family, weight) in FILES.items():
        if face not in used:
            continue
        data = base64.b64encode((FOLDER / file).read_bytes()).decode()
        rules.append(f"@font-face{{font-family:'{family}';font-weight:{weight};src:url(data:font/ttf;base64,{data})}}")
    return "".join(rules)
