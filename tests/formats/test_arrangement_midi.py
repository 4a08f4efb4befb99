"""An arrangement as MIDI, read back by mido: a channel a string, exact times, tempo, metre, swing, count-in, commas."""

from __future__ import annotations

import io
from dataclasses import replace
from fractions import Fraction as F

import mido
import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.teacher.performing import perform
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.sound.playing import Pace, PlayedBar
from nailhead.formats.midi.arrangement import TICKS, write_arrangement_midi
from tests.core.test_alternatives import ladder
from tests.core.test_playing import REPEATED, measures
from tests.core.test_tune import tune

PACE = Pace(F(1, 4), 96)


def read(data: bytes) -> mido.MidiFile:
    return mido.MidiFile(file=io.BytesIO(data))


def notes(file: mido.MidiFile) -> list[tuple[int, int, int, int]]:
    """(channel, start, end, key) of every note, in ticks from the start."""
    found = []
    for track in file.tracks:
        at, open_ = 0, {}
        for message in track:
            at += message.time
            if message.type == "note_on" and message.velocity:
                assert (message.channel, message.note) not in open_, "struck again before it ended"
                open_[message.channel, message.note] = at
            elif message.type in ("note_on", "note_off"):
                found.append((message.channel, open_.pop((message.channel, message.note)), at, message.note))
        assert not open_
    return sorted(found, key=lambda note: (note[1], note[0]))


@pytest.mark.parametrize("idiom", ["clawhammer", "three-finger"])
@pytest.mark.parametrize("rung", [1, 4, 6])
def test_every_note_is_there_on_the_channel_of_its_string(idiom: str, rung: int) -> None:
    """Key and tick of each struck note; graces and the strings of a brush come with their own small times."""
    found = ladder(REPEATED, idiom)
    parts = measures(found, rung)
    written = notes(read(write_arrangement_midi(parts, found.fit.setup, PACE, "Gate")))
    due, begin = set(), F(0)
    for part in parts:
        for stroke in part.bar.strokes:
            for note in stroke.notes:
                behind = note.slur and note.slur.grace and not begin + stroke.onset  # the grace comes first
                if not note.held and not stroke.swept and not behind:
                    due.add((note.place.string - 1, int((begin + stroke.onset) * 4 * TICKS), note.pitch.midi))
        begin += part.bar.length
    got = {(channel, start, key) for channel, start, _, key in written}
    assert due <= got
    struck = sum(not n.held for part in parts for s in part.bar.strokes for n in s.notes)
    graces = sum(bool(n.slur and n.slur.grace) for part in parts for s in part.bar.strokes for n in s.notes)
    assert len(written) == struck + graces


def test_tempo_metre_title_and_count_in() -> None:
    """Four clicks on the drum channel before the first bar; the conductor's track says the rest."""
    found = ladder(REPEATED)
    pace = replace(PACE, count_in=4)
    file = read(write_arrangement_midi(measures(found, 2), found.fit.setup, pace, "Grüne Straße"))
    assert file.type == 1 and file.ticks_per_beat == TICKS
    by_type = {message.type: message for message in file.tracks[0]}
    assert mido.tempo2bpm(by_type["set_tempo"].tempo) == pytest.approx(96, abs=0.01)
    assert (by_type["time_signature"].numerator, by_type["time_signature"].denominator) == (4, 4)
    clicks = [note for note in notes(file) if note[0] == 9]
    assert [start for _, start, _, _ in clicks] == [beat * TICKS for beat in range(4)]
    assert min(start for channel, start, _, _ in notes(file) if channel != 9) == 4 * TICKS


def test_swing_moves_the_off_beats() -> None:
    """At full swing the second eighth comes at two thirds of the beat."""
    found = ladder('"G"G2A2 BAGF|]', every_note=True)
    parts = measures(found, 1)
    plain, swung = (
        [start for _, start, _, _ in notes(read(write_arrangement_midi(parts, found.fit.setup, pace, "x")))]
        for pace in (PACE, replace(PACE, swing=1.0))
    )
    assert plain == [0, 960, 1920, 2400, 2880, 3360]
    assert swung == [0, 960, 1920, 2560, 2880, 3520]


def test_commas_are_bent_to() -> None:
    """A saz: key plus bend is the sounding pitch to a cent."""
    saz: Ladder = build_ladder(fit_tune(tune("A2B2 c4|d4 A4|]", key="Ador"), find_instrument("saz-short"), Wish()))
    played = perform(saz, Arrangement(level_path(saz, 1)))
    parts = [PlayedBar(one.bar, saz.tune.bars[one.index].metre, F(0)) for one in played]
    file = read(write_arrangement_midi(parts, saz.fit.setup, PACE, "Commas"))
    wanted = [float(saz.fit.setup.sounding_cents(s.notes[0].place)) for part in parts for s in part.bar.strokes]
    got = []
    for track in file.tracks[1:]:
        at, bend = 0, 0
        for message in track:
            at += message.time
            if message.type == "pitchwheel":
                bend = message.pitch
            elif message.type == "note_on":
                got.append((at, 100 * message.note + bend / 8192 * 200))
    assert [cents for _, cents in sorted(got)] == pytest.approx(wanted, abs=1)
