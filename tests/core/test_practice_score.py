"""What the practice room draws and plays: exact times against the tune itself, places, tempos, sounds, the page."""

from __future__ import annotations

import json
import re
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest

from nailhead.cli import main
from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.tune import held_at_start
from nailhead.core.practice.drills import drills_of
from nailhead.core.practice.score import Score, drill_score, score_of
from nailhead.core.practice.tempo import Progress, Said, TempoSteps, after, begun, every_way
from nailhead.core.sound.playing import PlayedBar, pace_at, swung_by, tones_of
from nailhead.core.sound.pluck import PEAK
from nailhead.core.sound.voices import STRUCK, VOICE_RATE, VoiceError, string_voice, voice
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.practice_lines import SIZES, TabLine, drill_lines, lines_of
from tests.arrange_report import ladders_of
from tests.core.test_practice import ladder_for
from tests.core.test_sound import cents, fourier_hertz
from tests.corpora import sized
from tests.practice_report import material_at

OPTIONS = SheetOptions()
#: A long note for a tremolo, and an upbeat into a bar that its part's last bar leaves room for.
SONG = 'G|"C"c4 e2 g2|"F"f8|"G"g2 e2 d2 B2|"C"c7:|'


@pytest.fixture(scope="module")
def mandolin() -> Ladder:
    return ladder_for(SONG, "mandolin", key="C")


# -- exact times


@pytest.mark.parametrize("rung", [4, 6])
def test_every_note_of_the_tune_sounds_at_its_written_time(rung: int) -> None:
    """Real tunes on the mandolin, which plays every note from rung 4 on: the melody begins where the music says."""
    for ladder in ladders_of(sized(4, 12), "plectrum", "mandolin"):
        for bar in score_of(material_at(ladder, rung)).bars:
            heard = {one.sounding.onset for one in bar.takes[-1].heard if one.sounding.melody}
            assert struck_in(ladder, bar.place) <= heard, (ladder.tune.title, bar.number)


def struck_in(ladder: Ladder, place: int) -> set[Fraction]:
    """When notes begin in a written bar, tied ones left out."""
    bars = ladder.tune.bars
    tied, found = held_at_start(bars)[place], set()
    for event in bars[place].events:
        if event.pitch and not tied:
            found.add(event.onset)
        tied = event.tied
    return found


def test_seconds_are_those_of_the_sound_file(mandolin: Ladder) -> None:
    """At the tune's tempo, bar behind bar and swung by half, the same strings begin at the same seconds."""
    material = material_at(mandolin, 7)
    score, pace = score_of(material), pace_at(mandolin.tune, swing=0.5)
    measures = [
        PlayedBar(material.bars[spot], material.written(spot).metre, material.offset(spot)) for spot in material.order
    ]
    expected = sorted((round(tone.at, 6), tone.string) for tone in tones_of(measures, mandolin.fit.setup, pace))
    found, at = [], Fraction(0)
    for place in score.order:
        bar = score.bars[place]
        take = next(take for take in bar.takes if take.upto >= 100)
        for one in take.heard:
            seconds = (float(at + one.sounding.onset) + 0.5 * one.swung) * score.whole_s + one.sounding.late_s
            found.append((round(seconds, 6), one.sounding.string))
        at += bar.length
    # What is stopped at once is no tone of the file.
    assert [one for one in sorted(found) if one in set(expected)] == expected
    assert len(found) - len(expected) <= 2


def test_a_tremolo_goes_on_at_its_own_speed(mandolin: Ladder) -> None:
    """About ten strokes a second whatever the tempo (handbook §4): slow playing has more of them in a note."""
    bar = score_of(material_at(mandolin, 5)).bars[2]
    assert len(bar.takes) > 1
    for take, percent in ((bar.takes[0], 40), (bar.takes[-1], 150)):
        pace = mandolin.tune.tempo or pace_at(mandolin.tune)
        assert pace
        whole_s = pace_at(mandolin.tune).whole * 100 / percent
        struck = {one.sounding.onset for one in take.heard}
        assert 6 <= len(struck) / (float(bar.length) * whole_s) <= 13, (take.upto, percent)


def test_a_swung_eighth_comes_at_two_thirds_of_its_beat() -> None:
    """As in a triplet at full swing (common practice); beats stay, threes do not swing."""
    four, six = parse_metre("4/4"), parse_metre("6/8")
    beat = Fraction(1, 4)
    assert swung_by(Fraction(3, 8), four, beat) == pytest.approx(float(beat) * (2 / 3 - 1 / 2))
    assert swung_by(Fraction(1, 2), four, beat) == 0
    assert swung_by(Fraction(1, 8), six, Fraction(3, 8)) == 0


# -- rounds


def test_a_round_by_the_pickup_is_as_long_as_its_bars(mandolin: Ladder) -> None:
    """Bars 1 to 4: the last one leaves an eighth, the upbeat fills it; the count before ends where that begins."""
    score = score_of(material_at(mandolin, 3))
    start = score.bars[1].starts[0]
    assert (start.lead, start.ends[4]) == ((0, Fraction(0), Fraction(1, 8)), Fraction(7, 8))
    assert start.counts_length == Fraction(1) + Fraction(7, 8)
    assert [click.said for click in start.counts] == ["1", "2", "3", "4", "1", "2", "3", "4"]
    middle = score.bars[1].starts[1]
    assert (middle.at, middle.lead, middle.counts_length) == (Fraction(1, 2), None, Fraction(3, 2))


def test_every_bar_has_its_place_for_the_cursor() -> None:
    """Each bar of the score stands on one line, its moments from its beginning to its end, left to right."""
    for ladder in ladders_of(sized(2, 6), "clawhammer"):
        material = material_at(ladder, 7)
        score = score_of(material)
        for size in SIZES:
            places_are_sound(score, lines_of(material, OPTIONS, size))
        for drill in drills_of(material):
            places_are_sound(drill_score(ladder, drill), drill_lines(ladder, drill, OPTIONS, "large"))


def places_are_sound(score: Score, lines: tuple[TabLine, ...]) -> None:
    placed = [bar for line in lines for bar in line.bars]
    assert [bar.bar for bar in placed] == list(range(len(score.bars)))
    for line in lines:
        for bar in line.bars:
            times, xs = zip(*bar.moments, strict=True)
            assert times[-1] == score.bars[bar.bar].length
            assert list(times) == sorted(times) and list(xs) == sorted(set(xs))
            assert bar.x < xs[0] and xs[-1] <= line.width + 0.01


# -- sounds


@pytest.mark.parametrize("commas", range(0, 54, 6))
def test_commas_sound_to_a_cent(commas: int) -> None:
    """53 commas to the octave, from the saz's middle string up (handbook §2), by a Fourier transform."""
    pitch = 5000 + Fraction(1200, 53) * commas
    hertz = 440 * 2 ** ((float(pitch) - 6900) / 1200)
    assert abs(cents(fourier_hertz(voice(string_voice("saz", pitch)), VOICE_RATE, hertz), hertz)) < 1


def test_sounds_are_short_and_stay_in_bounds() -> None:
    for name in (*STRUCK, "banjo-5900.00", "guitar-4000.00"):
        sound = voice(name)
        assert 0.02 < len(sound) / VOICE_RATE < 3 and 0.1 < np.max(np.abs(sound)) <= PEAK + 1e-9
    for name in ("", "banjo", "banjo-", "banjo-1e9", "../x-5900.00", "banjo--100.00", "count-second"):
        with pytest.raises(VoiceError):
            voice(name)


# -- taken home


def test_a_page_without_a_server_counts_the_same() -> None:
    """Every state that words lead to is there, with what each word makes of it."""
    steps = TempoSteps(80, 10, 100, 2)
    ways, state = every_way(steps), begun(steps)
    for said in (Said.CLEAN, Said.CLEAN, Said.BACK, Said.AGAIN, *[Said.CLEAN] * 9, Said.BACK, Said.CLEAN):
        made, known = after(state, said, steps), ways[Progress(state.percent, state.clean, 0, state.done)][said]
        assert (made.percent, made.clean, made.done) == (known.percent, known.clean, known.done)
        state = made


def test_a_command_writes_the_page(tmp_path: Path) -> None:
    """`nailhead practice --take-home`: one file with a room, a plan and every sound in it, under 3 MB for 32 bars."""
    bars = [f"{note}2{note}A {note}2cd|" for note in "GABcdefg" * 4]
    tune, page = tmp_path / "a.abc", tmp_path / "a.html"
    tune.write_text("X:1\nT:Five </script> Gates\nM:4/4\nL:1/8\nK:G\n" + "".join(bars) + "\n", encoding="utf-8")
    main(["practice", str(tune), "--rung", "7", "--take-home", str(page), "--note", "<b>Softly</b>"])
    text = page.read_text(encoding="utf-8")
    assert len(text.encode()) < 3_000_000 and "<b>Softly" not in text and "Five &lt;/script&gt; Gates" in text
    found = re.search(r'<script type="application/json" id="taken">(.*?)</script>', text, re.DOTALL)
    assert found
    taken = json.loads(found.group(1))
    assert taken["note"] == "<b>Softly</b>" and len(taken["room"]["score"]["bars"]) >= 32 and taken["plan"]["steps"]
    assert all(one["address"].startswith("data:audio/flac;base64,") for one in taken["room"]["voices"])
    assert not re.search(r'(?:src|href)="(?!data:)', text)
