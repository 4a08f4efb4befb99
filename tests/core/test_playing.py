"""The path as sound: every tone at its moment and pitch, checked by an FFT of its own; order of playing; pace."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction as F
from itertools import groupby, pairwise

import numpy as np
import pytest

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.rows.touches import touch_row
from nailhead.core.arrange.teacher.arrangement import Arrangement, Kind, keep_cell, set_rungs
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.teacher.performing import perform, second_bars
from nailhead.core.arrange.values import (
    ArrangedBar,
    Finger,
    FrettedNote,
    Ornament,
    Role,
    Slur,
    Stroke,
    Touch,
    Way,
)
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.key import parse_key, spell
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.pitch import hertz_of
from nailhead.core.music.tune import performance
from nailhead.core.sound.playing import (
    GRACE,
    RING,
    Pace,
    PlayedBar,
    PlayingError,
    Tone,
    render,
    starts_of,
    tones_of,
)
from nailhead.core.sound.pluck import RATE
from tests.core.test_alternatives import ladder

REPEATED = '|:"G"G2B2 d4|1"C"c2A2 "G"G4:|2"D"A2F2 "G"G4|]'
QUARTER = Pace(F(1, 4), 120)


def measures(found: Ladder, rung: int) -> list[PlayedBar]:
    played = perform(found, Arrangement(level_path(found, rung)))
    return [PlayedBar(one.bar, found.tune.bars[one.index].metre, found.structure.offsets[one.index]) for one in played]


def test_bars_come_in_playing_order_with_repeats_and_endings() -> None:
    """As the tune itself is performed; the second time is counted."""
    found = ladder(REPEATED)
    played = perform(found, Arrangement(level_path(found, 3)))
    assert [one.index for one in played] == list(performance(found.tune.bars)) == [0, 1, 0, 2]
    assert [one.time for one in played] == [1, 1, 2, 1]


def test_the_second_time_goes_its_own_way() -> None:
    """Its own rung; in a solo the varied bar, unless a cell is kept there."""
    found = ladder(REPEATED)
    start = Arrangement(level_path(found, 2))
    assert second_bars(found, start) == {}
    own = set_rungs(found, start, [0], 6, second=True)
    assert [one.bar.rung for one in perform(found, own)] == [2, 2, 6, 2]
    solo = Arrangement(level_path(found, 7))
    again = second_bars(found, solo)
    assert again == {index: bar for index, bar in found.second.items() if index == 0}
    kept = keep_cell(found, solo, 0, 7, Kind.EDITED, found.cell(0, 7))
    assert second_bars(found, kept) == {}


def test_every_stroke_sounds_when_it_is_due() -> None:
    """At 120 quarters a minute a whole note is two seconds; brushes spread upwards, graces come just before."""
    found = ladder()
    setup = found.fit.setup
    parts = measures(found, 6)
    tones = tones_of(parts, setup, QUARTER)
    due = set()
    for part, start in zip(parts, starts_of(parts, QUARTER), strict=False):
        for stroke in part.bar.strokes:
            for row, note in enumerate(sorted(stroke.notes, key=lambda note: -note.place.string)):
                late = touch_row(stroke.touches[0]).spread_s * row if stroke.swept else 0
                if not note.held:
                    due.add(
                        (
                            round(start + 2 * float(stroke.onset) + late, 6),
                            round(hertz_of(setup.sounding_cents(note.place)), 3),
                        )
                    )
    struck = {(round(tone.at, 6), round(tone.hertz, 3)) for tone in tones}
    assert due <= struck
    graces = sum(bool(note.slur and note.slur.grace) for part in parts for s in part.bar.strokes for note in s.notes)
    assert len(struck - due) <= graces
    assert all(any(abs(at + GRACE - other) < 1e-6 for other, _ in due) for at, _ in struck - due)


def test_a_string_sounds_one_tone_at_a_time() -> None:
    """Each ends where the next on its string begins, and none rings for ever."""
    found = ladder(idiom="three-finger")
    tones = sorted(tones_of(measures(found, 6), found.fit.setup, QUARTER), key=lambda tone: (tone.string, tone.at))
    for _, own in groupby(tones, key=lambda tone: tone.string):
        line = list(own)
        for before, after in pairwise(line):
            assert before.at + before.seconds <= after.at + 1e-9
        assert all(tone.seconds <= RING for tone in line)


def test_the_sound_has_the_pitches_of_the_bar() -> None:
    """Rung 1 of a scale at a slow pace: the strongest peak of each note's own FFT lies on its pitch or octave."""
    found = ladder('"G"G2A2 B2c2|]')
    slow = Pace(F(1, 4), 40)
    parts = measures(found, 1)
    sound = render(parts, found.fit.setup, slow)
    for stroke in parts[0].bar.strokes:
        begin = round(float(stroke.onset) * slow.whole * RATE)
        piece = sound[begin + 2000 : begin + 2000 + RATE] * np.hanning(RATE)
        spectrum = np.abs(np.fft.rfft(piece))
        peak = float(np.argmax(spectrum))
        hertz = hertz_of(found.fit.setup.sounding_cents(stroke.notes[0].place))
        assert min(abs(peak - hertz * times) for times in (1, 2, 3)) < 4, (hertz, peak)


def test_swing_moves_off_beats_only_and_never_the_beat() -> None:
    """Even at 0, as in a triplet at 1, in between otherwise; compound time does not swing."""
    four, six = parse_metre("4/4"), parse_metre("6/8")
    for swing, half in ((0.0, 0.25), (0.5, (0.25 + 1 / 3) / 2), (1.0, 1 / 3)):
        pace = replace(QUARTER, swing=swing)
        for beat in range(4):
            assert pace.seconds(F(beat, 4), four) == pytest.approx(0.5 * beat)
            assert pace.seconds(F(beat, 4) + F(1, 8), four) == pytest.approx(0.5 * beat + half)
    dotted = Pace(F(3, 8), 60, 1.0)
    assert dotted.seconds(F(1, 8), six) == pytest.approx(1 / 3)


def test_bars_keep_time_and_the_count_in_comes_first() -> None:
    """Four clicks, then the first bar; the length is that of the bars."""
    found = ladder(REPEATED)
    parts = measures(found, 2)
    pace = replace(QUARTER, count_in=4)
    starts = starts_of(parts, pace)
    assert starts == pytest.approx([2.0, 4.0, 6.0, 8.0, 10.0])
    sound = render(parts, found.fit.setup, pace)
    for beat in range(4):
        click = sound[round(beat * 0.5 * RATE) :][: round(0.05 * RATE)]
        quiet = sound[round((beat * 0.5 + 0.2) * RATE) :][: round(0.2 * RATE)]
        assert np.max(np.abs(click)) > 0.1 and np.max(np.abs(quiet)) < 1e-3
    assert np.max(np.abs(sound)) <= 1.0


@pytest.mark.parametrize(
    ("wish", "field"),
    [({"bpm": 5}, "tempo"), ({"bpm": 900}, "tempo"), ({"swing": 1.5}, "swing"), ({"count_in": 99}, "count_in")],
)
def test_a_pace_that_nobody_plays_is_refused(wish: dict, field: str) -> None:  # type: ignore[type-arg]
    """By its field, with what would do."""
    with pytest.raises(PlayingError) as refused:
        replace(QUARTER, **wish)
    assert refused.value.field == field and refused.value.remedy


def test_a_sound_without_end_is_refused() -> None:
    """A quarter of an hour is enough."""
    found = ladder(REPEATED)
    with pytest.raises(PlayingError, match="minutes"):
        render(measures(found, 1) * 200, found.fit.setup, Pace(F(1, 4), 20))


def heard(*touches: Touch, at: F = F(0)) -> list[Tone]:
    """The tones of one stroke in the middle of a bar, at 120 quarters a minute."""
    rest = Stroke(F(0), F(1, 4))
    bar = ArrangedBar(1, 5, (rest, Stroke(F(1, 4), F(1, 4), touches)))
    return list(tones_of([PlayedBar(bar, parse_metre("2/4"), F(0))], ladder().fit.setup, QUARTER))


def on(string: int, role: Role = Role.MELODY, slur: Slur | None = None) -> FrettedNote:
    place = Place(string, 2)
    setup = ladder().fit.setup
    return FrettedNote(place, spell(setup.sounding_cents(place), parse_key("G")), role, 1, slur=slur)


def test_a_strum_runs_the_way_it_goes() -> None:
    """Down from the bass string on, up from the treble one, evenly spread (14 ms, by ear); a pinch is at once."""
    notes = (on(1), on(2), on(3))
    for way, order in ((Way.DOWN, [3, 2, 1]), (Way.UP, [1, 2, 3])):
        tones = heard(Touch(Finger.PICK, way, notes))
        assert [tone.string for tone in tones] == order
        assert [round(tone.at - 0.5, 4) for tone in tones] == [0.0, 0.014, 0.028]
    brush = heard(Touch(Finger.NAIL, Way.DOWN, notes))
    assert [tone.string for tone in brush] == [3, 2, 1]
    pinch = heard(Touch(Finger.THUMB, Way.PLUCK, (on(3),)), Touch(Finger.MIDDLE, Way.PLUCK, (on(1),)))
    assert {tone.at for tone in pinch} == {0.5}


def test_how_loud_a_touch_is() -> None:
    """A slurred note is softer than a struck one, a filler than the melody, a muted string hardly there and short."""
    plain = heard(Touch(Finger.INDEX, Way.PLUCK, (on(2),)))[0]
    slurred = heard(Touch(None, Way.LEFT, (on(2, slur=Slur(Ornament.HAMMER, 0)),)))[0]
    assert (plain.loud, slurred.loud) == (1.0, 0.75)
    soft = heard(Touch(Finger.INDEX, Way.PLUCK, (on(2, Role.CHORD),), loudness=64))[0]
    assert soft.loud == pytest.approx(0.55 * 0.64)
    muted = heard(Touch(Finger.PICK, Way.DOWN, (on(2),), muted=True))[0]
    assert muted.loud < 0.4 and muted.seconds < 0.1 < plain.seconds


def test_a_grace_comes_before_its_note_and_softer() -> None:
    """Struck seven hundredths of a second early on the fret it starts from."""
    grace, note = heard(Touch(Finger.INDEX, Way.PLUCK, (on(2, slur=Slur(Ornament.SLIDE, 0, grace=True)),)))
    assert note.at - grace.at == pytest.approx(GRACE) and grace.loud == pytest.approx(0.75 * note.loud)
    assert grace.hertz < note.hertz
