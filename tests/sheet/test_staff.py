"""The five-line staff: pitches, accidentals, stems and beams, ties, and nothing on top of another thing."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations, pairwise

import pytest
from music21 import key as m21_key
from music21 import note as m21_note
from music21 import pitch as m21_pitch
from music21 import stream as m21_stream

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.key import Key
from nailhead.core.music.pitch import Pitch, PitchClass
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from nailhead.sheet.boxes import box
from nailhead.sheet.glyphs import all_glyphs, glyph
from nailhead.sheet.marks import Curve, Mark, Sign, Text
from nailhead.sheet.options import PAPERS, STAVES, SheetOptions
from nailhead.sheet.page import MARGIN, layout_sheet
from nailhead.sheet.passages import Item, passages_of
from nailhead.sheet.staff.moments import writing_of
from nailhead.sheet.staff.painter import VOICES, StaffPainter
from nailhead.sheet.staff.stacks import Accidental, Signature, Stack, points_up, shifts, step_of
from nailhead.sheet.staff.stems import SHORTEST, beam_tips, free_tip, height, outer
from nailhead.sheet.style import Style
from tests.corpora import sample, sized
from tests.demo import demo_tunes
from tests.sheet.test_layout import ladder_of, overlapping

OPTIONS = SheetOptions(kick_off=False, ending=False)


def tune_of(text: str) -> Tune:
    tune = read_tune(text).tune
    assert tune
    return tune


def items_of(ladder: Ladder, rung: int = 1) -> list[Item]:
    passages = passages_of(ladder, Arrangement(level_path(ladder, rung)), OPTIONS)
    return [item for row in passages[0].rows for item in row]


def painter_of(ladder: Ladder, staff: str = "melody") -> StaffPainter:
    return StaffPainter(Style(), writing_of(ladder), VOICES[staff])


def stacks_of(ladder: Ladder, staff: str = "melody", rung: int = 1) -> Iterator[tuple[Item, list[Stack]]]:
    painter = painter_of(ladder, staff)
    for item in items_of(ladder, rung):
        yield item, painter.engrave(item).stacks


def pages_of(ladder: Ladder, rung: int, staff: str, **options: object) -> Iterator[list[Mark]]:
    wanted = SheetOptions(staff=staff, **options)  # type: ignore[arg-type]
    for page in layout_sheet(ladder, Arrangement(level_path(ladder, rung)), wanted).pages:
        yield list(page.marks)


def test_every_choice_is_drawn() -> None:
    assert set(STAVES) == {"none", *VOICES}


def test_the_signs_have_the_measures_of_the_standard() -> None:
    """SMuFL 1.4: an em is four spaces, a black head is a space high and lies about its line, a clef about the G."""
    head = glyph("noteheadBlack")
    assert head.bottom - head.top == pytest.approx(0.25, abs=0.03)
    assert head.top == pytest.approx(-head.bottom, abs=0.01)
    clef = glyph("gClef")
    assert clef.top < -1.0 and clef.bottom > 0.5, "from above the top line to under the lowest"
    assert glyph("gClef8vb").bottom > clef.bottom + 0.15, "the 8 hangs under it"
    assert len(all_glyphs()) >= 33
    for name in all_glyphs():
        assert glyph(name).outline[0][0] == "M" and glyph(name).right > glyph(name).left


@pytest.mark.parametrize("part", range(2))
def test_heads_and_accidentals_are_those_of_music21(part: int) -> None:
    """On real tunes: the line of every head, and which notes show an accidental in their key."""
    signs = 0
    for chosen in sample(sized(16, 100))[part::2]:
        ladder = ladder_of(tune_of(chosen.text))
        writing = writing_of(ladder)
        for item, stacks in stacks_of(ladder):
            measure = m21_stream.Measure()
            measure.append(m21_key.KeySignature(writing.signature(item.written.key).fifths))
            shown = []
            for stack in stacks:
                for pitch in stack.moment.pitches:
                    sounding = m21_pitch.Pitch(step=pitch.step, octave=pitch.octave)
                    sounding.accidental = m21_pitch.Accidental(pitch.alter) if pitch.alter else None
                    measure.append(m21_note.Note(sounding))
                    if pitch in stack.moment.tied:
                        measure.notes.last().pitch.accidental = None  # type: ignore[union-attr]
                    assert step_of(pitch) == sounding.diatonicNoteNum - m21_pitch.Pitch("E4").diatonicNoteNum
                    shown.append(bool(stack.accidentals))
            if item.held or any(stack.moment.tied for stack in stacks) or item.written.key.extra:
                continue
            measure.makeAccidentals(
                inPlace=True, overrideStatus=True, cautionaryPitchClass=False, cautionaryNotImmediateRepeat=False
            )
            told = [bool(n.pitch.accidental and n.pitch.accidental.displayStatus) for n in measure.notes]
            assert shown == told, (chosen, item.written.number)
            signs += sum(shown)
    assert signs > 4


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("K:G\nf ^f =f f|", ["", "", "accidentalNatural", ""]),
        ("K:G\n=f F f ^f|", ["accidentalNatural", "accidentalNatural", "", "accidentalSharp"]),
        ("K:D\n_B B =c ^c|", ["accidentalFlat", "", "accidentalNatural", "accidentalSharp"]),
        (
            "K:C\n^^F __B ^F =F|",
            ["accidentalDoubleSharp", "accidentalDoubleFlat", "accidentalSharp", "accidentalNatural"],
        ),
    ],
)
def test_accidentals_hold_to_the_end_of_the_bar(text: str, expected: list[str]) -> None:
    """In their own octave, no longer than their bar (common practice); written before capo and tuning move them."""
    tune = tune_of(f"X:1\nM:4/4\nL:1/4\n{text}{text.split(chr(10))[1]}\n")
    ladder = build_ladder(fit_tune(tune, find_instrument("mandolin"), Wish(key=str(tune.key.tonic))), "plectrum")
    for _, stacks in stacks_of(ladder):
        assert [stack.accidentals[0].sign if stack.accidentals else "" for stack in stacks] == expected


def test_commas_stand_over_their_accidental() -> None:
    """B lowered by two commas is a flat with a small 2, F raised by three a sharp with a 3; none that the key has."""
    key = Key(PitchClass("A"), "minor", extra=(("B", 0),), micro=(("B", -2),))
    signature = Signature(key)
    assert signature.needs(Pitch("B", 0, 4, -2)) is None
    assert signature.needs(Pitch("F", 0, 4, 3)) == Accidental(1, "accidentalSharp", "³")
    assert signature.needs(Pitch("B", 0, 4)) == Accidental(4, "accidentalNatural", "")
    assert signature.needs(Pitch("B", 0, 4, -2)) == Accidental(4, "accidentalFlat", "²")
    signs, width = painter_of(ladder_of(demo_tunes()[0])).signature(key, None)
    assert [mark.name for mark in signs if isinstance(mark, Sign)] == ["accidentalFlat"] and width > 0
    assert [mark.text for mark in signs if isinstance(mark, Text)] == ["²"]


def test_stems_go_to_the_middle_and_seconds_stand_aside() -> None:
    """Common practice: the farthest note decides, the middle line goes down; of a second one head is moved."""
    assert shifts((0, 1), up=True) == (False, True) and shifts((0, 1), up=False) == (True, False)
    assert shifts((0, 1, 2), up=True) == (False, True, False)
    assert shifts((0, 2, 4), up=True) == (False, False, False)
    ladder = ladder_of(tune_of("X:1\nM:4/4\nL:1/4\nK:C\nE G B c|e g A F|\n"), "clawhammer")
    for _, stacks in stacks_of(ladder):
        for stack in stacks:
            assert stack.up == (stack.steps[0] < 4)
            tip = free_tip(stack)
            assert (tip < height(stack.steps[0])) == stack.up and (tip <= 2.0 if stack.up else tip >= 2.0)


@pytest.mark.parametrize("staff", VOICES)
def test_beams_leave_every_stem_its_length(staff: str) -> None:
    """No stem shorter than allowed, no beam steeper than a space, all stems of a beam on one side."""
    beams = 0
    for tune in [*demo_tunes(), *(tune_of(chosen.text) for chosen in sample(sized(4, 20)))]:
        ladder = ladder_of(tune)
        painter = painter_of(ladder, staff)
        for item in items_of(ladder, 6):
            for group in painter.engrave(item).groups:
                if len(group) == 1:
                    continue
                beams += 1
                assert len({stack.up for stack in group}) == 1
                assert group[0].up == points_up(stack.moment for stack in group)
                tips = beam_tips(group, range(0, 2 * len(group), 2))
                assert abs(tips[-1] - tips[0]) <= 1.0
                for stack, tip in zip(group, tips, strict=True):
                    way = -1 if stack.up else 1
                    assert way * (tip - height(outer(stack))) >= SHORTEST - 1e-9
    assert beams > 50


def test_ties_are_drawn_over_bar_lines_and_from_the_edge() -> None:
    """One arc a tie: to the next head on the line, or to the line's end and again from the next one's beginning."""
    plain = tune_of("X:1\nM:4/4\nL:1/4\nK:G\nG A B c|d4-|d2 c2|B4|\n")
    count = {
        tied: sum(
            isinstance(mark, Curve) for marks in pages_of(ladder_of(tune), 1, "melody", hands=False) for mark in marks
        )
        for tied, tune in (
            (True, plain),
            (False, tune_of("X:1\nM:4/4\nL:1/4\nK:G\nG A B c|d4|d2 c2|B4|\n")),
        )
    }
    assert count[True] == count[False] + 1


def test_it_is_written_as_the_hands_play() -> None:
    """A banjo with capo 2 that plays C and sounds D: written in C, an octave up under an 8; the sheet says so."""
    waltz = next(tune for tune in demo_tunes() if tune.title.startswith("Hazel"))
    ladder = ladder_of(waltz)
    raised = ladder.fit.setup.raised
    writing = writing_of(ladder)
    assert raised and writing.clef == "gClef8vb"
    assert str(writing.signature(ladder.tune.key)) == str(ladder.fit.shape_key)
    for pitch in ladder.tune.pitches:
        assert writing.pitch(pitch).midi == pitch.midi - raised + 12
    words = [mark.text for marks in pages_of(ladder, 1, "melody") for mark in marks if isinstance(mark, Text)]
    assert any(f"sounds {raised} semitones higher" in word for word in words)
    mandolin = build_ladder(fit_tune(waltz, find_instrument("mandolin"), Wish()), "plectrum")
    assert writing_of(mandolin).clef == "gClef"


def test_all_notes_are_those_of_the_tablature() -> None:
    """As many heads a moment as notes struck, each at its pitch; what rings on is tied."""
    for tune in demo_tunes():
        ladder = ladder_of(tune, "three-finger")
        writing = writing_of(ladder)
        for item, stacks in stacks_of(ladder, "all notes", 6):
            struck = {stroke.onset: {writing.pitch(note.pitch) for note in stroke.notes} for stroke in item.bar.strokes}
            first = {stack.moment.onset: stack for stack in reversed(stacks)}
            for onset, pitches in struck.items():
                assert set(first[onset].moment.pitches) == pitches
            for before, stack in pairwise(stacks):
                assert set(before.moment.ties) == set(stack.moment.tied), "a tie has two ends"


def test_a_new_key_is_shown_where_it_begins() -> None:
    """Two sharps and then naturals, with their room; nothing at the other bars."""
    tune = tune_of("X:1\nM:4/4\nL:1/4\nK:D\nD F A d|[K:C]c A G E|C4|[K:G]G A B G|\n")
    ladder = build_ladder(fit_tune(tune, find_instrument("mandolin"), Wish(key=str(tune.key.tonic))), "plectrum")
    painter = painter_of(ladder)
    changes = [painter.key_change(item)[0] for item in items_of(ladder)]
    signs = [[mark.name for mark in marks if isinstance(mark, Sign)] for marks in changes]
    assert signs == [[], ["accidentalNatural"] * 2, [], ["accidentalSharp"]]


def crossing(marks: list[Mark]) -> list[tuple[object, object]]:
    """Pairs of signs that lie on one another; flags are as wide as they like."""
    signs = [mark for mark in marks if isinstance(mark, Sign) and not mark.name.startswith(("flag", "gClef"))]
    found = []
    for one, other in combinations(signs, 2):
        a, b = box(one), box(other)
        wide, high = min(a[2], b[2]) - max(a[0], b[0]), min(a[3], b[3]) - max(a[1], b[1])
        if wide > 0.2 and high > 0.2:
            found.append((one, other))
    return found


@pytest.mark.parametrize(("staff", "part"), [(staff, part) for staff in VOICES for part in range(2)])
def test_sheets_with_a_staff_are_clean(staff: str, part: int) -> None:
    """Inside the margins, no sign or text on another, on demo tunes and real ones, plain and full rungs."""
    tunes = [*demo_tunes(), *(tune_of(chosen.text) for chosen in sample(sized(4, 40)))][part::2]
    for number, tune in enumerate(tunes):
        ladder = ladder_of(tune, ("clawhammer", "three-finger")[number % 2])
        for rung in (1, 4, 7):
            for marks in pages_of(ladder, rung, staff, fingers=bool(number % 3)):
                for mark in marks:
                    left, top, right, bottom = box(mark)
                    assert left >= MARGIN - 1 and right <= PAPERS["A4"][0] - MARGIN + 1, (tune.title, mark)
                    assert top >= MARGIN - 5 and bottom <= PAPERS["A4"][1] - MARGIN + 4, (tune.title, mark)
                assert overlapping(marks) == [], (tune.title, rung)
                assert crossing(marks) == [], (tune.title, rung)
