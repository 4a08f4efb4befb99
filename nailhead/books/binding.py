"""All sheets of a book's folder as one PDF: the contents in front, bookmarks, and its pages counted through."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path

from pypdf import PdfReader, PdfWriter

from nailhead.books.folder import Folder, Made
from nailhead.sheet.handout import layout_contents
from nailhead.sheet.inks import INKS
from nailhead.sheet.marks import Text
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.page import Page, Sheet
from nailhead.sheet.pdf import write_pdf

NAME = "book.pdf"


def bind(folder: Folder, made: Sequence[Made], title: str, options: SheetOptions) -> Path:
    """Writes the book beside its tunes; `made` in the order they are bound. The tunes' own files stay as they are."""
    printed = [(row, name) for row in made for name in row.files if name.endswith(".pdf")]
    front = _contents(printed, title, options, 0)
    first = len(front.pages) + 1
    writer = PdfWriter()
    contents = write_pdf([_contents(printed, title, options, first)], title, INKS[options.colours])
    writer.append(io.BytesIO(contents), import_outline=False)
    for row, name in printed:
        writer.append(folder.path / name, outline_item=row.title, import_outline=False)
    total = sum(row.pages for row, _ in printed)
    numbers = PdfReader(io.BytesIO(_numbers(front, first, total)))
    for page, number in zip(writer.pages[len(front.pages) :], numbers.pages, strict=True):
        page.merge_page(number)
        page.compress_content_streams()
    writer.compress_identical_objects()
    held = io.BytesIO()
    writer.write(held)
    folder.write(NAME, held.getvalue())
    return folder.path / NAME


def _contents(printed: Sequence[tuple[Made, str]], title: str, options: SheetOptions, first: int) -> Sheet:
    entries, at = [], first
    for row, _ in printed:
        entries.append((row.title, row.setup, at))
        at += row.pages
    return layout_contents(entries, options.paper, title)


def _numbers(like: Sheet, first: int, count: int) -> bytes:
    """Pages that hold nothing but their number, in the middle of the footer."""
    pages = [Page((Text(like.width / 2, like.height - 12.0, str(first + at), 2.8),)) for at in range(count)]
    return write_pdf([Sheet("", like.paper, like.width, like.height, tuple(pages))], "")
