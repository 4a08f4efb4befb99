"""Tells from its content what a file is, before any reader looks at it."""

from __future__ import annotations

from enum import StrEnum

from nailhead.core.errors import NailheadError


class Content(StrEnum):
    """What Nailhead can read."""

    TEXT = "text"
    XML = "xml"
    MIDI = "midi"
    ZIP = "zip"
    SQLITE = "sqlite"


class NotATuneError(NailheadError):
    """A file that holds no tune, whatever it is called."""


#: First bytes -> what can be read. Standard MIDI Files 1.0; PKWARE APPNOTE 4.3.7; SQLite file format 1.2.
_READABLE: tuple[tuple[bytes, Content], ...] = (
    (b"MThd", Content.MIDI),
    (b"PK\x03\x04", Content.ZIP),
    (b"PK\x05\x06", Content.ZIP),
    (b"SQLite format 3\0", Content.SQLITE),
)
#: First bytes -> what a file seems to be that is not read. From the formats' own specifications (from memory).
_OTHERS: tuple[tuple[bytes, str], ...] = (
    (b"\xff\xd8\xff", "a photo (JPEG)"),
    (b"\x89PNG\r\n\x1a\n", "a picture (PNG)"),
    (b"GIF8", "a picture (GIF)"),
    (b"II*\0", "a picture (TIFF)"),
    (b"MM\0*", "a picture (TIFF)"),
    (b"BM", "a picture (BMP)"),
    (b"%PDF", "a PDF"),
    (b"{\\rtf", "a word-processor document (RTF)"),
    (b"\xd0\xcf\x11\xe0", "an old office document"),
    (b"ID3", "a recording (MP3)"),
    (b"\xff\xfb", "a recording (MP3)"),
    (b"\xff\xf3", "a recording (MP3)"),
    (b"fLaC", "a recording (FLAC)"),
    (b"OggS", "a recording (Ogg)"),
    (b"\x1a\x45\xdf\xa3", "a film"),
    (b"\x1f\x8b", "a gzip archive"),
    (b"7z\xbc\xaf", "a 7z archive"),
    (b"Rar!", "a RAR archive"),
    (b"\x7fELF", "a program"),
    (b"MZ", "a program"),
)
#: A container's first four bytes, and what the four at byte 8 say it holds.
_CONTAINERS = {
    (b"RIFF", b"WAVE"): "a recording (WAV)",
    (b"RIFF", b"WEBP"): "a picture (WebP)",
    (b"RIFF", b"AVI "): "a film",
    (b"FORM", b"AIFF"): "a recording (AIFF)",
}
_BRANDS = {b"heic": "a photo (HEIC)", b"heix": "a photo (HEIC)", b"mif1": "a photo (HEIC)", b"avif": "a picture (AVIF)"}
_BYTE_ORDER_MARKS = (b"\xff\xfe", b"\xfe\xff")
#: Control characters that text has: tab, line ends, form feed, escape of old editors' end of file.
_TEXT_CONTROLS = frozenset(b"\t\n\v\f\r\x1a\x1b")
#: Bytes that are looked at for signs of text.
_LOOKED_AT = 65_536
#: The share of control characters above which bytes are no text (common practice).
_MOST_CONTROLS = 0.01


def content_of(raw: bytes) -> Content:
    """What a file is; raises NotATuneError, naming what it seems to be, for one that no reader of ours reads."""
    for head, found in _READABLE:
        if raw.startswith(head):
            return found
    text = is_text(raw)
    if text and _first_letter(raw) == "<":
        return Content.XML
    if seems := seems_to_be(raw):
        raise NotATuneError(
            f"The file seems to be {seems}.", field="file", remedy="Choose ABC, MusicXML, MIDI, or text to paste."
        )
    if not text:
        raise NotATuneError(
            "The file is no text, and of no kind that is read here.",
            field="file",
            remedy="Choose ABC, MusicXML or MIDI; of a picture or a recording the notes cannot be read.",
        )
    return Content.TEXT


def _first_letter(raw: bytes) -> str:
    """The first letter of a text that is no white space."""
    encoding = "utf-16" if raw[:2] in _BYTE_ORDER_MARKS else "latin-1"
    return raw[:4096].removeprefix(b"\xef\xbb\xbf").decode(encoding, errors="replace").lstrip()[:1]


def seems_to_be(raw: bytes) -> str | None:
    """What a file of no use here seems to be ("a photo (JPEG)"), None where its first bytes do not tell."""
    if brand := (_BRANDS.get(raw[8:12], "a film or a recording (MP4)") if raw[4:8] == b"ftyp" else None):
        return brand
    if held := _CONTAINERS.get((raw[:4], raw[8:12])):
        return held
    if raw[:2] in (b"BM", b"MZ") and is_text(raw):
        return None  # words may begin with these letters
    return next((seems for head, seems in _OTHERS if raw.startswith(head)), None)


def is_text(raw: bytes) -> bool:
    """Is it text in UTF-8, UTF-16 with its mark, or an older encoding of one byte a letter?"""
    if raw[:2] in _BYTE_ORDER_MARKS:
        return True
    part = raw[:_LOOKED_AT]
    controls = sum(part.count(bytes((byte,))) for byte in range(32) if byte not in _TEXT_CONTROLS)
    if controls > _MOST_CONTROLS * len(part):
        return False
    try:
        # A letter may be cut off at the end of what is looked at.
        part[: len(part) - 3 if len(raw) > _LOOKED_AT else None].decode("utf-8")
        return True
    except UnicodeDecodeError:
        # Latin-1 has no signs at 0x80 to 0x9F; Windows-1252 has a few, and words have few of them.
        unusual = sum(part.count(bytes((byte,))) for byte in range(0x80, 0xA0))
        return unusual <= _MOST_CONTROLS * len(part)
