"""Opens MusicXML files, plain or compressed (.mxl), without trusting them."""

from __future__ import annotations

import io
import lzma
import struct
import zipfile
import zlib
from xml.etree.ElementTree import Element, ParseError

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from nailhead.formats.musicxml.errors import MusicXmlError

#: Bytes of a document once unpacked; a long score of one part has well under 2 MB.
MOST_BYTES = 20_000_000
_MOST_ENTRIES = 200
_CONTAINER = "META-INF/container.xml"
_CONTAINER_TEXT = (
    '<?xml version="1.0" encoding="UTF-8"?>\n<container><rootfiles><rootfile full-path="score.musicxml" '
    'media-type="application/vnd.recordare.musicxml+xml"/></rootfiles></container>\n'
)


def open_document(raw: bytes) -> Element:
    """The root element of a plain or compressed document; raises MusicXmlError.

    Entities are refused, nothing outside the file is fetched, and unpacking stops at MOST_BYTES.
    """
    return _parse(_unpack(raw) if raw[:2] == b"PK" else raw)


def pack(score: str) -> bytes:
    """A document as compressed MusicXML (.mxl): a zip archive with a container that names it."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        # A fixed date: the same score gives the same bytes.
        for name, text in ((_CONTAINER, _CONTAINER_TEXT), ("score.musicxml", score)):
            archive.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), text, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _parse(raw: bytes) -> Element:
    if len(raw) > MOST_BYTES:
        raise _too_large()
    try:
        root: Element = fromstring(raw, forbid_entities=True)
    except DefusedXmlException as error:
        raise MusicXmlError(
            "The file defines entities of its own, which no score needs.", remedy="Export it again from its editor."
        ) from error
    except (ParseError, ValueError, LookupError) as error:
        raise MusicXmlError(
            f"The file is not sound XML: {error}.", remedy="Export it again from its editor."
        ) from error
    return root


#: What zipfile and its decompressors raise for damaged archives (a wrong offset is a ValueError).
_DAMAGED = (
    zipfile.BadZipFile,
    zipfile.LargeZipFile,
    zlib.error,
    lzma.LZMAError,
    struct.error,
    NotImplementedError,
    RuntimeError,
    ValueError,
    OverflowError,
    OSError,
    EOFError,
    LookupError,
)


def _unpack(raw: bytes) -> bytes:
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            names = [info.filename for info in archive.infolist()]
            if len(names) > _MOST_ENTRIES:
                raise MusicXmlError("The archive holds too many files.", remedy="Save the score alone as .mxl.")
            return _read(archive, _score_name(archive, names))
    except MusicXmlError:
        raise
    except _DAMAGED as error:
        raise MusicXmlError("The compressed file is damaged.", remedy="Save it again, or as plain MusicXML.") from error


def _score_name(archive: zipfile.ZipFile, names: list[str]) -> str:
    """The score that the container names, or the first file that looks like one."""
    if _CONTAINER in names:
        container = _parse(_read(archive, _CONTAINER))
        for rootfile in container.iter():
            path = rootfile.get("full-path", "")
            if path in names:
                return path
    for name in names:
        if name.lower().endswith((".xml", ".musicxml")) and not name.startswith("META-INF"):
            return name
    raise MusicXmlError("The archive holds no score.", remedy="Save the score as .mxl or .musicxml.")


def _read(archive: zipfile.ZipFile, name: str) -> bytes:
    """One file, never more of it than MOST_BYTES, whatever its header claims."""
    with archive.open(name) as file:
        found = file.read(MOST_BYTES + 1)
    if len(found) > MOST_BYTES:
        raise _too_large()
    return found


def _too_large() -> MusicXmlError:
    return MusicXmlError(
        f"The score holds more than {MOST_BYTES // 1_000_000} MB.", remedy="Save the melody part alone."
    )
