"""MusicXML melodies: equal after a round trip, read as music21 and verovio read them, and safe with hostile files."""

from __future__ import annotations

import io
import zipfile
from fractions import Fraction

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nailhead.core.errors import NailheadError
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book, read_tune, write_tune
from nailhead.formats.musicxml import write_melody
from nailhead.formats.musicxml.archive import MOST_BYTES
from nailhead.formats.musicxml.errors import MusicXmlError
from nailhead.formats.musicxml.reader import read_musicxml
from nailhead.web.bring_in import Choices, open_file
from nailhead.web.shelf_models import PreviewTune
from tests.corpora import sample
from tests.demo import all_demo_tunes, demo_tunes
from tests.heard import notes_heard, notes_written
from tests.tunes import rich_tunes


def packed(score: bytes, name: str = "score.xml", container: bool = True) -> bytes:
    """A compressed score as the MusicXML 4.0 definition describes it."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        if container:
            archive.writestr(
                "META-INF/container.xml",
                f'<container><rootfiles><rootfile full-path="{name}"/></rootfiles></container>',
            )
        archive.writestr(name, score)
    return out.getvalue()


def score(measures: str, parts: str = '<score-part id="P1"><part-name>Fiddle</part-name></score-part>') -> bytes:
    return (
        f'<score-partwise version="4.0"><part-list>{parts}</part-list><part id="P1">{measures}</part></score-partwise>'
    ).encode()


def note(step: str = "G", octave: int = 4, duration: int = 4, inside: str = "") -> str:
    pitch = f"<pitch><step>{step}</step><octave>{octave}</octave></pitch>"
    return f"<note>{pitch}<duration>{duration}</duration>{inside}</note>"


ATTRIBUTES = (
    "<attributes><divisions>1</divisions><key><fifths>1</fifths><mode>major</mode></key>"
    "<time><beats>4</beats><beat-type>4</beat-type></time></attributes>"
)


# -- round trips


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(rich_tunes())
def test_generated_tunes_come_back_equal(tune: Tune) -> None:
    """Words, signs, slurs, grace notes, microtones, endings, parts, header: read(write(t)) == t."""
    reading = read_musicxml(write_melody(tune).encode())
    assert reading.tune == tune
    assert reading.notices == ()


@pytest.mark.parametrize("tune", all_demo_tunes(), ids=lambda tune: tune.title)
def test_demo_tunes_come_back_equal_compressed_too(tune: Tune) -> None:
    """Plain and .mxl, with and without a container."""
    text = write_melody(tune).encode()
    assert read_musicxml(text).tune == tune
    assert read_musicxml(packed(text)).tune == tune
    assert read_musicxml(packed(text, container=False)).tune == tune


def test_corpus_tunes_come_back_equal() -> None:
    """A fixed sample of real tunes survives the way through MusicXML."""
    for found in sample(120):
        tune = read_book(found.text)[0].tune
        if tune:
            assert read_musicxml(write_melody(tune).encode()).tune == tune, found


# -- against independent readers


def test_music21_reads_our_melodies_as_they_are() -> None:
    """Onset, duration and pitch of every note of a sample, by music21's MusicXML reader."""
    from music21 import converter

    for found in sample(40):
        tune = read_book(found.text)[0].tune
        if tune is None:
            continue
        part = converter.parse(write_melody(tune), format="musicxml").parts[0]
        joined = _joined([(n.getOffsetInHierarchy(part), n) for n in part.recurse().notes if not n.duration.isGrace])
        theirs = [(Fraction(at) / 4, length / 4, midi) for at, length, midi in joined]
        assert theirs == notes_heard(tune), found


def _joined(notes: list) -> list[tuple[Fraction, Fraction, int]]:  # type: ignore[type-arg]
    """music21's notes with ties joined; chord symbols are no notes."""
    rows: list[tuple[Fraction, Fraction, int]] = []
    for offset, one in notes:
        if one.__class__.__name__ != "Note":
            continue
        length = Fraction(one.quarterLength)
        if one.tie and one.tie.type in ("stop", "continue") and rows:
            at, held, midi = rows[-1]
            rows[-1] = (at, held + length, midi)
        else:
            rows.append((Fraction(offset), length, one.pitch.midi))
    return rows


def test_we_read_what_music21_writes() -> None:
    """music21 turns ABC into MusicXML of its own making; we hear the same notes in it.

    Left out are additive metres, which music21 reads as one number of beats (2+2+2+3 as 2223).
    """
    from music21 import converter
    from music21.musicxml.m21ToXml import GeneralObjectExporter

    for found in demo_tunes():
        if "+" in str(found.metre):
            continue
        theirs = converter.parse(write_tune(found), format="abc")
        raw = GeneralObjectExporter(theirs).parse()
        reading = read_musicxml(raw).tune
        # Onsets aside: music21 writes a short bar before an ending as a full one.
        theirs_heard, ours_heard = ([row[1:] for row in notes_written(one)] for one in (reading, found))
        assert theirs_heard == ours_heard, found.title


def test_verovio_reads_our_melodies_as_they_are() -> None:
    """The second independent reader: onset and pitch of every written note of the demo tunes."""
    import verovio

    for tune in demo_tunes():
        toolkit = verovio.toolkit()
        toolkit.setOptions({"expandNever": True})
        assert toolkit.loadData(write_melody(tune)), tune.title
        theirs = [
            (Fraction(entry["qstamp"]).limit_denominator(960) / 4, toolkit.getMIDIValuesForElement(name)["pitch"])
            for entry in toolkit.renderToTimemap()
            for name in entry.get("on", [])
        ]
        assert theirs == [(at, midi) for at, _, midi in notes_written(tune)], tune.title


# -- what other programs write


def test_what_other_programs_write_is_read_or_said() -> None:
    """Second voices, chords of notes, dynamics and segno: the melody is kept, the rest named once."""
    measures = (
        f'<measure number="1">{ATTRIBUTES}<direction><direction-type><segno/></direction-type></direction>'
        "<direction><direction-type><dynamics><f/></dynamics></direction-type></direction>"
        + note("G", 4, 2)
        + note("B", 4, 2, "<chord/>").replace("<note>", "<note><chord/>", 1).replace("<chord/></note>", "</note>")
        + note("D", 5, 2)
        + "<backup><duration>4</duration></backup>"
        + note("G", 3, 4, "<voice>2</voice>")
        + "</measure>"
    )
    reading = read_musicxml(score(measures))
    assert [str(pitch) for pitch in reading.tune.pitches] == ["B4", "D5"]
    assert len(reading.notices) == 4, reading.notices
    assert reading.parts == ("Fiddle",)


def test_a_part_can_be_chosen() -> None:
    """The first part with notes is taken, or the one asked for; the others are named in a notice."""
    parts = "".join(
        f'<score-part id="P{n}"><part-name>{name}</part-name></score-part>' for n, name in ((1, "A"), (2, "B"))
    )
    text = score(f'<measure number="1">{ATTRIBUTES}{note("G")}</measure>', parts).decode()
    second = f'<part id="P2"><measure number="1">{ATTRIBUTES}{note("C")}</measure></part></score-partwise>'
    raw = text.replace("</score-partwise>", second).encode()
    assert str(read_musicxml(raw).tune.pitches[0]) == "G4"
    reading = read_musicxml(raw, 1)
    assert str(reading.tune.pitches[0]) == "C4"
    assert reading.notices == ("Only part 2 of 2 is read (B).",)
    with pytest.raises(MusicXmlError, match="no part 3"):
        read_musicxml(raw, 2)


def test_a_transposing_part_is_read_as_it_sounds() -> None:
    """A part for a B flat instrument sounds a whole tone lower than it is written (MusicXML 4.0, transpose)."""
    move = "<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose></attributes>"
    text = ATTRIBUTES.replace("</attributes>", move)
    reading = read_musicxml(score(f'<measure number="1">{text}{note("D", 5)}</measure>'))
    assert str(reading.tune.pitches[0]) == "C5"
    assert str(reading.tune.key) == "F major"


# -- hostile files


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "not sound XML"),
        (b"<score-partwise", "not sound XML"),
        (b"PK\x03\x04 no archive", "damaged"),
        (b"<html><body/></html>", "no MusicXML"),
        (b"<score-timewise/>", "time by time"),
        (score('<measure number="1"/>'), "no notes"),
        (score(f'<measure number="7">{ATTRIBUTES}{note(octave=99)}</measure>'), "octave 99"),
        (score(f'<measure number="7">{ATTRIBUTES}{note(duration=10**9)}</measure>'), "longer than any note"),
        (score(f'<measure number="7">{ATTRIBUTES}{note("H")}</measure>'), "no pitch with step"),
        (score(f'<measure number="7">{ATTRIBUTES.replace("<fifths>1", "<fifths>99")}{note()}</measure>'), "99 fifths"),
        (
            score(f'<measure number="7">{ATTRIBUTES.replace("<divisions>1", "<divisions>0")}{note()}</measure>'),
            "0 divisions",
        ),
        (packed(b"x", "readme.txt", container=False), "holds no score"),
    ],
)
def test_what_cannot_be_read_is_refused_with_a_reason(raw: bytes, said: str) -> None:
    """What is wrong, in which measure where there is one, and what to do."""
    with pytest.raises(NailheadError) as refused:
        read_musicxml(raw)
    assert said in refused.value.message, refused.value.message
    assert refused.value.remedy


def test_entities_are_refused() -> None:
    """Billion laughs and outside files: neither expanded nor fetched."""
    lol = "".join(f'<!ENTITY l{n} "{f"&l{n - 1};" * 10 if n else "lol"}">' for n in range(10))
    for inside in (lol, '<!ENTITY x SYSTEM "file:///etc/hostname">'):
        raw = f"<!DOCTYPE score-partwise [{inside}]><score-partwise>&l9;</score-partwise>".encode()
        with pytest.raises(MusicXmlError, match="entities"):
            read_musicxml(raw)


def test_a_zip_bomb_is_refused_before_it_unpacks() -> None:
    """Reading stops at MOST_BYTES however small the archive is."""
    bomb = packed(b" " * (MOST_BYTES + 10))
    assert len(bomb) < 100_000
    with pytest.raises(MusicXmlError, match="more than 20 MB"):
        read_musicxml(bomb)


def test_an_archive_of_many_files_is_refused() -> None:
    """A score needs a handful."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for number in range(300):
            archive.writestr(f"{number}.xml", "")
    with pytest.raises(MusicXmlError, match="too many files"):
        read_musicxml(out.getvalue())


_GOOD = write_melody(demo_tunes()[0]).encode()


@settings(max_examples=150, deadline=None)
@given(st.integers(0, len(_GOOD) - 1), st.binary(max_size=6), st.integers(0, 40))
def test_damaged_scores_are_read_or_refused(at: int, inserted: bytes, removed: int) -> None:
    """Any bytes lost or added anywhere: a tune or a typed error, never another one."""
    raw = _GOOD[:at] + inserted + _GOOD[at + removed :]
    for text in (raw, packed(_GOOD)[: at % 700] + inserted):
        try:
            assert read_musicxml(text).tune.bars
        except NailheadError as error:
            assert error.message


def test_chords_and_words_of_a_read_score_stay_where_they_stand() -> None:
    """Through MusicXML and out as ABC again: chords on the same notes, syllables too."""
    text = 'X:1\nT:W\nM:4/4\nL:1/4\nK:G\n"G"GA "D7"Bc|"Em"d4|\nw: one two- three four five\n'
    tune = read_tune(text).tune
    assert tune
    back = read_musicxml(write_melody(tune).encode()).tune
    assert [str(c.chord) for bar in back.bars for c in bar.chords] == ["G", "D7", "Em"]
    assert [e.words for bar in back.bars for e in bar.events] == [("one",), ("two-",), ("three",), ("four",), ("five",)]


SIX_EIGHT = "<attributes><divisions>2</divisions><time><beats>6</beats><beat-type>8</beat-type></time></attributes>"


@pytest.mark.parametrize(
    "rest",
    [
        "<backup><duration>4</duration></backup><note><rest/><duration>6</duration><voice>2</voice></note>",
        "<forward><duration>2</duration></forward>",
    ],
)
def test_a_first_bar_whose_melody_ends_early_is_no_pickup(rest: str) -> None:
    """In 6/8 with two beats of melody: another voice, or a gap, fills the bar, and so does a rest."""
    first = note(duration=2).replace("</duration>", "</duration><voice>1</voice>") * 2
    full = note(duration=6).replace("</duration>", "</duration><voice>1</voice>")
    tune = read_musicxml(score(f"<measure>{SIX_EIGHT}{first}{rest}</measure>" + f"<measure>{full}</measure>" * 15)).tune
    assert not tune.has_pickup and {bar.length for bar in tune.bars} == {Fraction(3, 4)}
    assert [event.pitch is None for event in tune.bars[0].events] == [False, False, True]


def test_a_score_without_a_title_is_called_as_its_file() -> None:
    """And one with a title keeps it."""
    raw = score(f"<measure>{note()}</measure>")
    titled = write_melody(demo_tunes()[0]).encode()
    for held, title in ((raw, "Heron on the weir"), (titled, demo_tunes()[0].title)):
        lines = open_file(held, "scores/Heron_on_the_weir.musicxml", Choices()).lines
        assert [line.title for line in lines if isinstance(line, PreviewTune)] == [title]
