"""What the ABC reader says: an error that refuses a tune, a notice about something left out."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.errors import NailheadError


class AbcError(NailheadError):
    """An ABC text that cannot be read. `line` and `column` count from 1 in the text as given."""

    def __init__(self, message: str, line: int, column: int, remedy: str = "") -> None:
        super().__init__(message, field="abc", remedy=remedy)
        self.line = line
        self.column = column

    def __str__(self) -> str:
        return f"Line {self.line}, column {self.column}: {super().__str__()}"


@dataclass(frozen=True, slots=True)
class Notice:
    """Something read but not kept, or guessed; the tune is usable all the same."""

    line: int
    column: int
    message: str

    def __str__(self) -> str:
        return f"Line {self.line}, column {self.column}: {self.message}"
