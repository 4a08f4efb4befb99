"""The colours of the inks: those of the screen, and in shades of grey for a printer without colour."""

from __future__ import annotations

from nailhead.sheet.marks import Ink

#: Ink -> colour as #rrggbb; contrast on white at least 4.5 : 1 wherever it is read (WCAG 2.2, 1.4.3).
COLOURED: dict[Ink, str] = {
    Ink.INK: "#17262B",
    Ink.FAINT: "#4A5A5E",
    Ink.STRING: "#8B9A94",
    Ink.MELODY: "#966A10",
    Ink.ON_MELODY: "#FFFFFF",
    Ink.CHORD: "#1E5A4C",
    Ink.PAPER: "#FFFFFF",
    Ink.HAND: "#3B5488",
    Ink.TROUBLE: "#A23B2C",
}
#: The same without colour: the shapes tell melody, chord, drone and hand apart.
BLACK: dict[Ink, str] = {
    Ink.INK: "#000000",
    Ink.FAINT: "#444444",
    Ink.STRING: "#777777",
    Ink.MELODY: "#000000",
    Ink.ON_MELODY: "#FFFFFF",
    Ink.CHORD: "#000000",
    Ink.PAPER: "#FFFFFF",
    Ink.HAND: "#333333",
    Ink.TROUBLE: "#000000",
}
INKS = {"colour": COLOURED, "black": BLACK}
