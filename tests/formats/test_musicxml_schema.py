"""Every score that is written is valid by the MusicXML 4.0 schema, which the musicxml package carries."""

from __future__ import annotations

import importlib.util
from pathlib import Path

import pytest
from lxml import etree

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.entering import with_changes
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.fretboard.fit import fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.formats.abc import read_tune
from nailhead.formats.musicxml.melody import write_melody
from nailhead.formats.musicxml.tab import write_musicxml
from nailhead.formats.musicxml.tab_reader import read_tablature
from tests.corpora import sample, sized
from tests.demo import demo_tunes
from tests.formats.test_tab_reader import ALL
from tests.sheet.test_layout import ladder_of

#: What the schema imports from the W3C, and the attributes of it that it names.
IMPORTS = {
    "xml": ("http://www.w3.org/XML/1998/namespace", "lang space"),
    "xlink": ("http://www.w3.org/1999/xlink", "href type role title show actuate"),
}


@pytest.fixture(scope="module")
def schema(tmp_path_factory: pytest.TempPathFactory) -> etree.XMLSchema:
    """The 4.0 schema with its imports beside it, so that nothing is fetched."""
    spec = importlib.util.find_spec("musicxml")
    assert spec and spec.origin
    text = (Path(spec.origin).parent / "generate_classes" / "musicxml_4_0.xsd").read_text(encoding="utf-8")
    folder = tmp_path_factory.mktemp("schema")
    for name, (space, attributes) in IMPORTS.items():
        rows = "".join(f'<xs:attribute name="{attribute}"/>' for attribute in attributes.split())
        head = f'<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="{space}">'
        (folder / f"{name}.xsd").write_text(f"{head}{rows}</xs:schema>", encoding="utf-8")
    (folder / "musicxml.xsd").write_text(text.replace("http://www.musicxml.org/xsd/", ""), encoding="utf-8")
    return etree.XMLSchema(etree.parse(str(folder / "musicxml.xsd")))


def told(schema: etree.XMLSchema, text: str) -> list[str]:
    """What the schema says against a score."""
    schema.validate(etree.fromstring(text.encode()))
    return [f"line {error.line}: {error.message}" for error in schema.error_log]


def test_the_schema_refuses_what_is_wrong(schema: etree.XMLSchema) -> None:
    text = write_melody(demo_tunes()[0])
    assert told(schema, text.replace("<step>A</step>", "<step>H</step>"))
    assert told(schema, text.replace("<divisions>", "<divisons>").replace("</divisions>", "</divisons>"))


@pytest.mark.parametrize("idiom", ["clawhammer", "three-finger"])
def test_what_is_written_is_valid(schema: etree.XMLSchema, idiom: str) -> None:
    """Melodies and tablature, demo tunes and real ones, plain and full rungs."""
    tunes = [*demo_tunes(), *(tune for one in sample(sized(3, 30)) if (tune := read_tune(one.text).tune))]
    for tune in tunes:
        assert told(schema, write_melody(tune)) == [], tune.title
        ladder = ladder_of(tune, idiom)
        for rung in (1, 4, 7):
            assert told(schema, write_musicxml(ladder, level_path(ladder, rung))) == [], (tune.title, rung)


@pytest.mark.parametrize("instrument", ["guitar", "ukulele"])
def test_voices_of_fingers_are_valid_and_full(schema: etree.XMLSchema, instrument: str) -> None:
    """Melody, bass and fillers each in a voice with stems of its own, all as long as the measure; read back no fret is
    lost.
    """
    row = find_instrument(instrument)
    way = find_idiom("fingerstyle", row)
    for tune in demo_tunes()[1:4:2]:
        ladder = build_ladder(fit_tune(tune, row, planned(tune, row, way, wished(way))), way)
        for rung in (1, 3, 5, 7):
            path = level_path(ladder, rung)
            text = write_musicxml(ladder, path)
            assert told(schema, text) == [], (tune.title, rung)
            _, changed = with_changes(ladder, Arrangement(path), read_tablature(text.encode(), ALL).bars)
            assert changed == []
            lengths: set[int] = set()
            for measure, bar in zip(etree.fromstring(text.encode()).iter("measure"), ladder.tune.bars, strict=True):
                whole: dict[str, int] = {}
                for note in measure.iter("note"):
                    if note.find("chord") is None and note.find("grace") is None:
                        voice = note.findtext("voice")
                        whole[voice] = whole.get(voice, 0) + int(note.findtext("duration"))
                lengths |= {len(whole)}
                assert len(set(whole.values())) == 1, (tune.title, rung, bar.number)
                notes = [note for note in measure.iter("note") if note.find("stem") is not None]
                stems = {(note.findtext("voice"), note.findtext("stem")) for note in notes}
                assert stems <= {("1", "up"), ("2", "down"), ("3", "down")}
            assert (max(lengths) > 1) == (rung > 1)
