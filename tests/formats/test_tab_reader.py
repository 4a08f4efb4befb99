"""Tablature out of scores that others write: places, rhythm, hands, ornaments, the setup, and the melody."""

from __future__ import annotations

import re
from dataclasses import replace
from fractions import Fraction as F
from xml.etree import ElementTree

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from music21 import chord, converter, harmony

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement, Kind
from nailhead.core.arrange.teacher.cells import bring_along, with_kept
from nailhead.core.arrange.teacher.entering import EnteredBarsError, enter_bars, with_changes
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Finger, Ornament, Role, Way
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.setup import Place
from nailhead.core.fretboard.tunings import TUNINGS, Tuning
from nailhead.core.music.tune import sounding_notes
from nailhead.formats.abc import read_tune, write_tune
from nailhead.formats.musicxml.errors import MusicXmlError
from nailhead.formats.musicxml.tab import write_musicxml
from nailhead.formats.musicxml.tab_reader import TabReading, has_tablature, read_tablature
from tests.corpora import sample, sized
from tests.demo import demo_tunes
from tests.sheet.test_layout import ladder_of
from tests.struck import letters

ALL = tuple(INSTRUMENTS.values())


def places(reading: TabReading, bar: int) -> list[tuple[F, list[tuple[int, int]]]]:
    """(onset, (string, fret) of each note) of every stroke that strikes something."""
    return [
        (stroke.onset, sorted((one.place.string, one.place.fret) for one in stroke.notes))
        for stroke in reading.bars[bar]
        if stroke.notes
    ]


GUITAR = {1: "E4", 2: "B3", 3: "G3", 4: "D3", 5: "A2", 6: "E2"}


def score(measures: list[str], tuning: dict[int, str], capo: int = 0, name: str = "Part", fifths: int = 1) -> bytes:
    """A score as other programs write it: two staves, the second one with the frets."""
    lines = "".join(
        f'<staff-tuning line="{len(tuning) + 1 - string}"><tuning-step>{pitch[0]}</tuning-step>'
        f"<tuning-alter>{pitch.count('#') - pitch.count('b')}</tuning-alter>"
        f"<tuning-octave>{pitch[-1]}</tuning-octave></staff-tuning>"
        for string, pitch in sorted(tuning.items(), reverse=True)
    )
    attributes = (
        f"<attributes><divisions>12</divisions><key><fifths>{fifths}</fifths><mode>major</mode></key>"
        "<time><beats>2</beats><beat-type>4</beat-type></time><staves>2</staves>"
        '<clef number="1"><sign>G</sign><line>2</line></clef><clef number="2"><sign>TAB</sign><line>5</line></clef>'
        f'<staff-details number="2"><staff-lines>{len(tuning)}</staff-lines>{lines}'
        f"{f'<capo>{capo}</capo>' if capo else ''}</staff-details></attributes>"
    )
    body = "".join(
        f'<measure number="{number}">{attributes if number == 1 else ""}{text}</measure>'
        for number, text in enumerate(measures, start=1)
    )
    return (
        '<score-partwise version="4.0"><movement-title>Loom and Ladder</movement-title><part-list>'
        f'<score-part id="P1"><part-name>{name}</part-name></score-part></part-list>'
        f'<part id="P1">{body}</part></score-partwise>'
    ).encode()


def fretted(
    pitch: str, duration: int, string: int, fret: int, *, chord: bool = False, voice: int = 2, marks: str = "",
    more: str = "", tie: str = "",
) -> str:  # fmt: skip
    """A note on the tablature staff."""
    alter = f"<alter>{pitch.count('#')}</alter>" if "#" in pitch else ""
    return (
        f"<note>{'<chord/>' if chord else ''}<pitch><step>{pitch[0]}</step>{alter}<octave>{pitch[-1]}</octave></pitch>"
        f"<duration>{duration}</duration>{tie}<voice>{voice}</voice>{more}<staff>2</staff><notations>"
        f"<technical>{marks}<string>{string}</string><fret>{fret}</fret></technical></notations></note>"
    )


def plain(pitch: str, duration: int) -> str:
    """The same note on the staff above."""
    return (
        f"<note><pitch><step>{pitch[0]}</step><octave>{pitch[-1]}</octave></pitch><duration>{duration}</duration>"
        "<voice>1</voice><staff>1</staff></note>"
    )


def test_two_staves_and_two_voices_become_strokes() -> None:
    """Notes of both voices on their beats; the bass under the melody; the staff above is not read twice."""
    upper = plain("G4", 12) + plain("A4", 12) + "<backup><duration>24</duration></backup>"
    melody = fretted("G4", 12, 1, 3, voice=5) + fretted("A4", 12, 1, 5, voice=5)
    bass = "<backup><duration>24</duration></backup>" + fretted("G2", 24, 6, 3, voice=6)
    read = read_tablature(score([upper + melody + bass], GUITAR), ALL)
    assert read.setup.instrument.id == "guitar" and read.setup.tuning.id == "EADGBE" and read.setup.capo == 0
    assert places(read, 0) == [(F(0), [(1, 3), (6, 3)]), (F(1, 4), [(1, 5)])]
    assert [str(event.pitch) for event in read.tune.bars[0].events] == ["G4", "A4"]
    assert read.tune.title == "Loom and Ladder" and str(read.tune.key) == "G major"


def test_a_capo_counts_once() -> None:
    """Frets count from the capo; notes may be written as the hands play or as they sound, the tune is what
    sounds, its key and chords too."""
    for written, fifths in (("G4", 1), ("A4", 3)):
        chord = f"<harmony><root><root-step>{written[0]}</root-step></root><kind>major</kind></harmony>"
        for more in ("", "<transpose><chromatic>0</chromatic><octave-change>-1</octave-change></transpose>"):
            text = score([chord + fretted(written, 24, 1, 3)], GUITAR, capo=2, fifths=fifths).decode()
            read = read_tablature(text.replace("<staff-details", f"{more}<staff-details").encode(), ALL)
            assert read.setup.capo == 2
            assert [str(event.pitch) for event in read.tune.bars[0].events] == ["A4"]
            assert str(read.tune.key) == "A major"
            assert [str(entry.chord) for entry in read.tune.bars[0].chords] == ["A"]


def test_hands_fingers_and_ornaments_are_kept() -> None:
    """pluck, up-bow, arpeggiate and fingering of MusicXML 4.0; a hammer-on from the note before and from a grace."""
    grace = (
        "<note><grace/><pitch><step>G</step><octave>4</octave></pitch><staff>2</staff><notations><technical>"
        "<string>1</string><fret>3</fret></technical></notations></note>"
    )
    measure = (
        fretted("D4", 6, 2, 3, marks="<pluck>m</pluck><fingering>3</fingering>")
        + fretted("E4", 6, 2, 5, marks='<hammer-on type="stop"/>')
        + grace
        + fretted("A4", 6, 1, 5, marks="<up-bow/>")
        + fretted("G3", 6, 3, 0, marks="<pluck>p</pluck>")
        + fretted("B3", 6, 2, 0, chord=True, marks="<pluck>i</pluck>")
    )
    read = read_tablature(score([measure], GUITAR), ALL)
    first, second, third, last = read.bars[0]
    assert (first.notes[0].by, first.notes[0].finger) == (Finger.MIDDLE, 3) and read.fingers
    assert second.notes[0].slur and (second.notes[0].slur.ornament, second.notes[0].slur.start) == (Ornament.HAMMER, 3)
    assert third.way is Way.UP and third.notes[0].slur and third.notes[0].slur.grace
    assert {one.by for one in last.notes} == {Finger.THUMB, Finger.INDEX} and not last.swept


def test_ties_rests_and_triplets() -> None:
    """A tie over the bar line is held, one inside lengthens; silence is a rest; three in the time of two stay three."""
    start, stop = '<tie type="start"/>', '<tie type="stop"/>'
    third = "<time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification>"
    one = "".join(fretted(pitch, 4, 1, fret, more=third) for pitch, fret in (("E4", 0), ("F4", 1), ("G4", 3)))
    one += fretted("A4", 12, 1, 5, tie=start)
    two = fretted("A4", 6, 1, 5, tie=stop) + "<forward><duration>6</duration></forward>" + fretted("G4", 12, 1, 3)
    read = read_tablature(score([one, two], GUITAR), ALL)
    triplet = read.bars[0][:3]
    assert [stroke.duration for stroke in triplet] == [F(1, 12)] * 3
    assert {
        (stroke.tuplet.actual, stroke.tuplet.normal, stroke.tuplet.size) for stroke in triplet if stroke.tuplet
    } == {(3, 2, 3)}
    held, rest, struck = read.bars[1]
    assert held.notes[0].held and not rest.notes and not struck.notes[0].held
    assert read.tune.bars[0].events[-1].tied
    assert [event.pitch is None for event in read.tune.bars[1].events] == [False, True, False]
    assert read_tune(write_tune(read.tune)).tune == read.tune


def test_drones_and_off_beat_strums_are_no_melody() -> None:
    """Strike, strum, drone: the tune is what is struck on the beat; the tablature keeps all of it."""
    banjo = {1: "D4", 2: "B3", 3: "G3", 4: "D3", 5: "G4"}
    strum = fretted("G3", 6, 3, 0) + fretted("B3", 6, 2, 0, chord=True) + fretted("D4", 6, 1, 0, chord=True)
    measure = fretted("B3", 12, 2, 0) + strum + fretted("G4", 6, 5, 0)
    read = read_tablature(score([measure], banjo), ALL)
    assert read.setup.instrument.id == "banjo" and str(read.setup.fifth) == "G4"
    assert [(str(event.pitch), event.duration) for event in read.tune.bars[0].events] == [("B3", F(1, 2))]
    ladder = build_ladder(
        fit_tune(read.tune, read.setup.instrument, Wish("gDGBD", 0, read.setup.fifth, "G")), "clawhammer"
    )
    arrangement = enter_bars(ladder, read.bars)
    (cell,) = arrangement.cells.values()
    assert cell.kind is Kind.EDITED and arrangement.rungs[0] >= 2
    assert [letters(stroke) for stroke in cell.bar.strokes] == ["d", "B", "T"]
    assert [one.role for stroke in cell.bar.strokes for one in stroke.notes] == [
        Role.MELODY, Role.CHORD, Role.CHORD, Role.CHORD, Role.DRONE,
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda text: re.sub("<staff-details.*?</staff-details>", "", text), "how the strings are tuned"),
        (lambda text: text.replace("<tuning-step>A", "<tuning-step>C"), "No instrument here"),
        (lambda text: text.replace("<fret>3</fret>", ""), "no tablature"),
        (lambda text: text.replace("<string>1</string>", "<string>9</string>"), "no string 9"),
        (lambda text: text.replace("<fret>3</fret>", "<fret>three</fret>"), "Measure 1"),
        (lambda text: text.replace("<duration>24", "<duration>x"), "Measure 1"),
    ],
)
def test_what_cannot_be_read_says_so(spoil: object, said: str) -> None:
    """Where it stands and what to do instead."""
    text = score([fretted("G4", 24, 1, 3)], GUITAR).decode()
    with pytest.raises(MusicXmlError, match=said) as caught:
        read_tablature(spoil(text).encode(), ALL)  # type: ignore[operator]
    assert caught.value.remedy


def test_a_fret_beyond_the_neck_names_its_bar() -> None:
    read = read_tablature(score([fretted("G4", 24, 1, 3)], GUITAR), ALL)
    ladder = build_ladder(fit_tune(read.tune, read.setup.instrument, Wish("EADGBE", 0, None, "G")), None)
    far = tuple(
        tuple(replace(stroke, notes=tuple(replace(one, place=Place(1, 40)) for one in stroke.notes)) for stroke in bar)
        for bar in read.bars
    )
    with pytest.raises(Exception, match="Bar 1: fret 40 is not on string 1"):
        enter_bars(ladder, far)
    with pytest.raises(EnteredBarsError, match="0 bars"):
        enter_bars(ladder, ())


@pytest.mark.parametrize("tuning", TUNINGS.values(), ids=lambda row: f"{row.instrument} {row.id}")
def test_every_tuning_of_the_handbook_is_known(tuning: Tuning) -> None:
    """A score in any tuning of handbook §2 is read on an instrument that has those strings (and no other pitch)."""
    strings = {
        number: f"{pitch.step}{'#' * pitch.alter}{'b' * -pitch.alter}{pitch.octave}"
        for number, pitch in enumerate(tuning.pitches, start=1)
    }
    first = fretted(strings[1].replace("b", ""), 24, 1, 0)
    read = read_tablature(score([first], strings, name=tuning.instrument), ALL)
    assert [read.setup.instrument.cents_of(pitch) for pitch in read.setup.tuning.pitches] == [
        read.setup.instrument.cents_of(pitch) for pitch in tuning.pitches
    ]


@pytest.mark.parametrize("idiom", ["clawhammer", "three-finger"])
def test_our_own_scores_lose_no_fret(idiom: str) -> None:
    """Demo and real tunes on four rungs: every struck place comes back; music21 hears the same pitches in each bar."""
    tunes = [*demo_tunes(), *(tune for one in sample(sized(4, 16)) if (tune := read_tune(one.text).tune))]
    for number, tune in enumerate(tunes):
        ladder = ladder_of(tune, idiom)
        for rung in (1, 3, 5, 7):
            path = level_path(ladder, rung)
            text = write_musicxml(ladder, path)
            assert has_tablature(text.encode())
            read = read_tablature(text.encode(), ALL)
            assert read.setup == ladder.fit.setup
            _, changed = with_changes(ladder, Arrangement(path), read.bars)
            assert changed == [], (tune.title, rung)
            if rung == 1:
                layer = ladder.idiom.rung(1).layer
                core = ladder.ground.core
                due = [
                    (bar, note.evened(layer) if ladder.idiom.rung(1).even else note.at(layer), note.pitch)
                    for bar in range(len(tune.bars))
                    for note in core.of_layer(layer, bar)
                ]
                assert [(note.bar, note.onset, note.pitch) for note in sounding_notes(read.tune)] == due
        if number % 4 == 0:
            _as_music21_hears(text, read, ladder)


def _as_music21_hears(text: str, read: TabReading, ladder: Ladder) -> None:
    measures = converter.parse(text, format="musicxml").parts[0].getElementsByClass("Measure")
    for measure, bar in zip(measures, read.bars, strict=True):
        theirs = sorted(
            (F(one.offset) / 4, pitch.midi)
            for one in measure.notes
            if not one.duration.isGrace and not isinstance(one, harmony.ChordSymbol)
            for single in (one.notes if isinstance(one, chord.Chord) else (one,))
            if single.tie is None or single.tie.type == "start"
            for pitch in single.pitches
        )
        ours = sorted(
            (stroke.onset, int(ladder.fit.setup.sounding_cents(one.place) / 100))
            for stroke in bar
            for one in stroke.notes
            if not one.held
        )
        assert ours == theirs


def test_an_entered_arrangement_survives_its_ladder() -> None:
    """Every cell sounds the melody that was read, so that none is set aside when it is opened again."""
    for tune in demo_tunes():
        ladder = ladder_of(tune, "three-finger")
        read = read_tablature(write_musicxml(ladder, level_path(ladder, 6)).encode(), ALL)
        setup = read.setup
        key = str(read.tune.key.tonic)
        again = build_ladder(
            fit_tune(read.tune, find_instrument("banjo"), Wish(setup.tuning.id, setup.capo, setup.fifth, key)),
            "three-finger",
        )
        assert again.fit.tune.pitches == read.tune.pitches
        arrangement = enter_bars(again, read.bars)
        assert bring_along(again, arrangement).aside == ()
        assert len(arrangement.cells) == len(again.tune.bars)
        with_kept(again, arrangement)


_TEXTS = st.sampled_from(["", "0", "-1", "1", "3", "7", "99", "1/2", "x", "1e9", "A", "start"])


@settings(max_examples=200, deadline=None)
@given(st.data())
def test_spoilt_scores_are_read_or_refused(data: st.DataObject) -> None:
    """Any number changed, any element gone or doubled: a reading that can be laid on a ladder, or a told refusal."""
    root = ElementTree.fromstring(score([fretted("G4", 12, 1, 3) + fretted("A4", 12, 1, 5)] * 2, GUITAR, capo=1))
    parents = [element for element in root.iter() if len(element)]
    for _ in range(data.draw(st.integers(1, 4))):
        parent = data.draw(st.sampled_from(parents))
        if not len(parent):
            continue
        child = parent[data.draw(st.integers(0, len(parent) - 1))]
        match data.draw(st.sampled_from(["text", "gone", "twice"])):
            case "text":
                child.text = data.draw(_TEXTS)
            case "gone":
                parent.remove(child)
            case _:
                parent.append(child)
    try:
        read = read_tablature(ElementTree.tostring(root), ALL)
        setup = read.setup
        wish = Wish(setup.tuning.id, setup.capo, setup.fifth, str(read.tune.key.tonic))
        enter_bars(build_ladder(fit_tune(read.tune, setup.instrument, wish), None), read.bars)
    except NailheadError as error:
        assert error.message
