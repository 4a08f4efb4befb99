"""The errors of the core: each names the place (bar, field) and the remedy.

Layers above add their own branch (`formats` a line and a column); the web layer turns
every branch into one problem document.
"""

from __future__ import annotations


class NailheadError(Exception):
    """Base of everything that is refused on purpose.

    `field` names the input at fault, `bar` the written bar (0 is the pickup) where there is one,
    `remedy` says what to do about it, as a sentence.
    """

    def __init__(self, message: str, *, field: str = "", bar: int | None = None, remedy: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field = field
        self.bar = bar
        self.remedy = remedy

    def __str__(self) -> str:
        return f"{self.message} {self.remedy}".strip()


class TheoryError(NailheadError):
    """A pitch, key, chord or metre that cannot be understood."""


class TuneError(NailheadError):
    """A tune that contradicts itself."""


class SetupError(NailheadError):
    """An instrument, tuning, capo or fifth string that cannot be."""


class FitError(NailheadError):
    """The tune does not fit the setup. `lowest` and `highest` name the offending notes as sounded."""

    def __init__(
        self, message: str, *, lowest: str = "", highest: str = "", field: str = "setup", remedy: str = ""
    ) -> None:
        super().__init__(message, field=field, remedy=remedy)
        self.lowest = lowest
        self.highest = highest


class PathError(NailheadError):
    """A path that names a rung or a bar the ladder does not have."""
