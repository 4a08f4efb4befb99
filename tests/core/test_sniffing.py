"""What a file is, told from its content: photos, recordings and backups are named, tunes in any encoding are read."""

from __future__ import annotations

import io
import random
import zipfile
from pathlib import Path

import pytest
import soundfile
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from nailhead.core.sniffing import Content, NotATuneError, content_of
from nailhead.demo.shelf import TUNES

SOUND = [0.0] * 2000


def picture(kind: str) -> bytes:
    """A photo of noise in the format, as Pillow writes it."""
    held = io.BytesIO()
    Image.frombytes("RGB", (64, 64), random.Random(1).randbytes(64 * 64 * 3)).save(held, kind)
    return held.getvalue()


def recording(kind: str) -> bytes:
    """Silence in the format, as libsndfile writes it."""
    held = io.BytesIO()
    soundfile.write(held, SOUND, 44_100, format=kind)
    return held.getvalue()


def document() -> bytes:
    held = io.BytesIO()
    canvas = Canvas(held)
    canvas.drawString(10, 10, "X:1")
    canvas.save()
    return held.getvalue()


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        *((picture(kind), said) for kind, said in (("JPEG", "JPEG"), ("PNG", "PNG"), ("GIF", "GIF"), ("TIFF", "TIFF"))),
        *((picture(kind), said) for kind, said in (("BMP", "BMP"), ("WEBP", "WebP"))),
        *(
            (recording(kind), said)
            for kind, said in (("WAV", "WAV"), ("FLAC", "FLAC"), ("OGG", "Ogg"), ("AIFF", "AIFF"))
        ),
        (document(), "PDF"),
        (random.Random(2).randbytes(5000), "no text"),
        (b"X:1\nK:G\nGAB|" + b"\0" * 500, "no text"),
        (b"\0" * 100_000, "no text"),
    ],
)
def test_what_holds_no_tune_is_named(raw: bytes, said: str) -> None:
    """Written by Pillow, libsndfile and reportlab; noise; text that a disk has filled with NULs."""
    with pytest.raises(NotATuneError, match=said) as refused:
        content_of(raw)
    assert refused.value.remedy


@pytest.mark.parametrize("file", sorted(TUNES.glob("*.abc")), ids=lambda file: file.stem)
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_a_tune_is_text_in_every_encoding(file: Path, encoding: str) -> None:
    text = file.read_text(encoding="utf-8")
    assert content_of(text.encode(encoding, errors="replace")) is Content.TEXT


@pytest.mark.parametrize("text", ["BMW rag", "MZ", "II", "X:1\nT:Türkü şarkı\n" * 9000])
def test_words_are_text(text: str) -> None:
    """Text that begins like a picture's mark, and a letter that is cut in two at the end of what is looked at."""
    assert content_of(text.encode()) is Content.TEXT


def test_scores_and_archives() -> None:
    """XML in two encodings and behind white space, MIDI, a zip archive, SQLite."""
    score = '<?xml version="1.0"?><score-partwise/>'
    for raw in (score.encode(), b"\xef\xbb\xbf" + score.encode(), b" \r\n" + score.encode(), score.encode("utf-16")):
        assert content_of(raw) is Content.XML
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w") as archive:
        archive.writestr("score.xml", score)
    assert content_of(held.getvalue()) is Content.ZIP
    assert content_of(b"MThd\0\0\0\x06") is Content.MIDI
    assert content_of(b"SQLite format 3\0" + b"\0" * 84) is Content.SQLITE
