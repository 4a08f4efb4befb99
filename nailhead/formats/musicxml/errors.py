"""What the MusicXML reader refuses, with the measure where it stands."""

from __future__ import annotations

from nailhead.core.errors import NailheadError


class MusicXmlError(NailheadError):
    """A file that is no MusicXML, or holds no melody that can be read."""

    def __init__(
        self, message: str, *, bar: int | None = None, remedy: str = "Mend it in its editor and export it again."
    ) -> None:
        super().__init__(message, field="file", bar=bar, remedy=remedy)
