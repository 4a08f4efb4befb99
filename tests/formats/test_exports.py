"""Text tab, JSON, MusicXML and the command line: what leaves the house says what was arranged."""

from __future__ import annotations

import json
import subprocess
import sys
from fractions import Fraction
from pathlib import Path
from xml.etree import ElementTree

import pytest

from nailhead.cli import main
from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.rows.touches import TOUCHES
from nailhead.core.arrange.rows.ways import IDIOMS
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Role
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.music.tune import Tune
from nailhead.demo.shelf import TUNES
from nailhead.formats.abc import read_tune
from nailhead.formats.arrangement_json import arrangement_document
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.text_tab import write_text
from tests.demo import demo_tunes

BANJO = find_instrument("banjo")
LANTERN = str(TUNES / "lantern-on-the-weir.abc")


def ladder_of(tune: Tune, idiom: str = "clawhammer", **wish: object) -> Ladder:
    return build_ladder(fit_tune(tune, BANJO, Wish(**wish)), idiom)  # type: ignore[arg-type]


DEMO = [
    (tune, rung, idiom)
    for tune in demo_tunes()
    for idiom, rungs in (("clawhammer", (1, 3, 4, 7)), ("three-finger", (2, 6)))
    for rung in rungs
]
IDS = [f"{tune.title} {idiom} {rung}" for tune, rung, idiom in DEMO]


@pytest.mark.parametrize(("tune", "rung", "idiom"), DEMO, ids=IDS)
def test_musicxml_opens_in_music21_with_the_same_notes(tune: Tune, rung: int, idiom: str) -> None:
    """Bars, onsets and sounding pitches as music21 reads them; what it adds are the later parts of ties."""
    from music21 import chord, converter, note

    ladder = ladder_of(tune, idiom)
    part = converter.parse(write_musicxml(ladder, level_path(ladder, rung)), format="musicxml").parts[0]
    measures = list(part.getElementsByClass("Measure"))
    assert [measure.number for measure in measures] == [bar.number for bar in tune.bars]
    for measure, bar in zip(measures, ladder.rungs[rung - 1], strict=True):
        theirs: dict[tuple[Fraction, int], bool] = {}
        for found in measure.recurse().notes:
            if type(found) in (note.Note, chord.Chord) and not found.duration.isGrace:
                onset = Fraction(found.getOffsetInHierarchy(measure)) / 4
                continues = found.tie is not None and found.tie.type in ("stop", "continue")
                theirs |= {(onset, pitch.midi): continues for pitch in found.pitches}
        ours = {(stroke.onset, n.pitch.midi) for stroke in bar.strokes for n in stroke.notes}
        assert ours <= set(theirs)
        assert all(theirs[extra] for extra in set(theirs) - ours)


@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_musicxml_strings_and_frets_sound_the_pitch(tune: Tune) -> None:
    """Of every note: staff tuning of its string + capo + fret = its pitch (MusicXML 4.0, element capo)."""
    steps = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}

    def midi(step: str, alter: str, octave: str) -> int:
        return 12 * (int(octave) + 1) + steps[step] + int(alter or 0)

    ladder = ladder_of(tune)
    root = ElementTree.fromstring(write_musicxml(ladder, level_path(ladder, 3)))
    capo = int(root.findtext(".//capo", "0"))
    lines = {int(t.get("line", "0")): t for t in root.findall(".//staff-tuning")}
    names = ("tuning-step", "tuning-alter", "tuning-octave")
    opened = {6 - line: midi(*(t.findtext(name, "") for name in names)) for line, t in lines.items()}
    for found in root.findall(".//note[pitch]"):
        string, fret = (int(found.findtext(f".//technical/{name}", "-1")) for name in ("string", "fret"))
        assert opened[string] + capo + fret == midi(
            *(found.findtext(f"pitch/{name}", "") for name in ("step", "alter", "octave"))
        )


def test_musicxml_has_staff_tuning_capo_harmony_repeats_and_endings() -> None:
    """Elements a tab reader needs, written as MusicXML 4.0 defines them."""
    tune = next(tune for tune in demo_tunes() if "Ferry" in tune.title)
    ladder = ladder_of(tune)
    root = ElementTree.fromstring(write_musicxml(ladder, level_path(ladder, 2)))
    assert root.get("version") == "4.0"
    details = root.find(".//staff-details")
    assert details is not None
    tuned = [t.findtext("tuning-step", "") + t.findtext("tuning-octave", "") for t in details.findall("staff-tuning")]
    assert tuned == ["G4", "D3", "G3", "C4", "D4"]
    assert details.findtext("capo") == "2"
    assert root.findtext(".//clef/sign") == "TAB"
    assert root.findtext(".//harmony/root/root-step") == "A"
    assert [e.get("type") for e in root.findall(".//ending")] == ["start", "stop", "start", "stop"]
    assert [e.get("direction") for e in root.findall(".//repeat")] == ["forward", "backward", "forward", "backward"]
    assert root.find(".//measure[@number='0']").get("implicit") == "yes"  # type: ignore[union-attr]


@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_musicxml_bars_are_full_by_its_own_durations(tune: Tune) -> None:
    """The durations of a measure's notes (chord members once) add up to the bar."""
    ladder = ladder_of(tune)
    root = ElementTree.fromstring(write_musicxml(ladder, level_path(ladder, 3)))
    divisions = int(root.findtext(".//divisions", "0"))
    for measure, bar in zip(root.findall(".//measure"), tune.bars, strict=True):
        total = sum(int(n.findtext("duration", "0")) for n in measure.findall("note") if n.find("chord") is None)
        assert Fraction(total, 4 * divisions) == bar.length


def test_verovio_opens_the_musicxml() -> None:
    """A third reader finds every bar and every stopped or open note."""
    import verovio

    ladder = ladder_of(demo_tunes()[1])
    text = write_musicxml(ladder, level_path(ladder, 2))
    toolkit = verovio.toolkit()
    assert toolkit.loadData(text)
    mei = toolkit.getMEI()
    assert mei.count("<measure") == len(ladder.tune.bars)
    assert mei.count("<note ") == text.count("<pitch>")


@pytest.mark.parametrize(("tune", "rung", "idiom"), DEMO, ids=IDS)
def test_json_holds_every_note(tune: Tune, rung: int, idiom: str) -> None:
    """Exact fractions, strings, frets, roles and hands; notes and rests fill each bar."""
    ladder = ladder_of(tune, idiom)
    document = json.loads(json.dumps(arrangement_document(ladder, level_path(ladder, rung))))
    assert len(document["bars"]) == len(tune.bars)
    for bar, arranged in zip(document["bars"], ladder.rungs[rung - 1], strict=True):
        spans = {(note["onset"], note["duration"]) for note in [*bar["notes"], *bar["rests"]]}
        assert sum(Fraction(duration) for _, duration in spans) == Fraction(bar["length"])
        assert len(bar["notes"]) == sum(len(stroke.notes) for stroke in arranged.strokes)
        for note in bar["notes"]:
            assert note["bar"] == bar["number"]
            open_string = document["setup"]["open_strings_midi"][note["string"] - 1]
            assert note["midi"] == open_string + note["fret"]
            assert note["role"] in {role.value for role in Role}
            assert note["touch"] in {row.id for row in TOUCHES}
            assert (note["touch"] == "rings on") == (note["technique"] == "tie")
            assert (note["struck_by"] is None) == (note["touch"] in ("left hand", "left pluck", "rings on"))
            if note["touch"] == "left hand" or note["grace"]:
                assert note["technique"] in ("hammer-on", "pull-off", "slide") and note["from_fret"] is not None


def test_the_text_tab_reads_as_played() -> None:
    """A worked bar, column by column: the basic stroke twice, open G."""
    from tests.core.test_arrange import ladder

    made = ladder('"G"G4 "C"E4|]')
    text = write_text(made, level_path(made, 2)).splitlines()
    assert text[3] == "Rung 2: Basic stroke, the beats."
    bar = [line.split("|")[1] for line in text[7:12]]
    assert bar[0] == "------0------------"
    assert bar[1] == "------0------------"
    assert bar[2] == "--0-----------0----"
    assert bar[3] == "----------2--------"
    assert bar[4] == "--------0-------0--"
    assert text[12].split() == ["d", "B", "T", "d", "d", "T"]


# -- the command line


def run(*arguments: str, capsys) -> tuple[int, str, str]:  # type: ignore[no-untyped-def]
    code = main(["arrange", *arguments])
    captured = capsys.readouterr()
    return code, captured.out, captured.err


@pytest.mark.parametrize("kind", ["text", "json", "musicxml"])
def test_arrange_writes_every_format(kind: str, tmp_path: Path, capsys) -> None:  # type: ignore[no-untyped-def]
    """To standard output and to a file the same."""
    code, out, err = run(LANTERN, "--rung", "2", "--to", kind, capsys=capsys)
    assert code == 0 and out and "Chosen: open G (gDGBD), no capo" in err
    target = tmp_path / "out"
    assert run(LANTERN, "--rung", "2", "--to", kind, "-o", str(target), capsys=capsys)[:2] == (0, "")
    assert target.read_text(encoding="utf-8") == out


def test_every_option_is_obeyed(capsys) -> None:  # type: ignore[no-untyped-def]
    """Tuning, capo, fifth, key and tune by title."""
    options = ["--tuning", "gDGBD", "--capo", "2", "--fifth", "A4", "--key", "A", "--tune", "Lantern", "--to", "json"]
    code, out, _ = run(LANTERN, "--instrument", "banjo", "--idiom", "clawhammer", *options, capsys=capsys)
    setup = json.loads(out)["setup"]
    assert code == 0
    assert (setup["tuning"], setup["capo"], setup["fifth"]) == ("gDGBD", 2, "A4")
    assert (setup["sounding_key"], setup["shape_key"]) == ("A major", "G major")


@pytest.mark.parametrize(
    "arguments",
    [
        ["nowhere.abc"],
        [LANTERN, "--tuning", "zzz"],
        [LANTERN, "--capo", "30"],
        [LANTERN, "--capo", "-1"],
        [LANTERN, "--fifth", "nine"],
        [LANTERN, "--fifth", "C2"],
        [LANTERN, "--key", "H"],
        [LANTERN, "--rung", "0"],
        [LANTERN, "--rung", "8"],
        [LANTERN, "--tune", "99"],
        [LANTERN, "--tune", "No such tune"],
        [LANTERN, "--instrument", "lute"],
        [LANTERN, "--idiom", "tapping"],
        [str(Path(__file__))],
    ],
)
def test_bad_input_is_one_line_and_exit_code_2(arguments: list[str], capsys) -> None:  # type: ignore[no-untyped-def]
    """No traceback; what is wrong in one line on stderr."""
    code, out, err = run(*arguments, capsys=capsys)
    assert (code, out) == (2, "")
    assert err.startswith("nailhead: ") and err.count("\n") == 1


def test_the_command_runs_by_itself() -> None:
    """As a program, from standard input."""
    command = [sys.executable, "-m", "nailhead", "arrange", "-", "--rung", "3"]
    result = subprocess.run(command, input=b"X:1\nK:G\nL:1/4\nG2d2|\n", capture_output=True, check=False)
    assert result.returncode == 0
    assert b"open G" in result.stdout


@pytest.mark.parametrize(
    ("instrument", "idiom"), [(name, row.id) for row in IDIOMS for name in row.instruments], ids="-".join
)
def test_every_instrument_is_arranged_from_the_command_line(instrument: str, idiom: str, capsys) -> None:  # type: ignore[no-untyped-def]
    """The bare melody in each way of playing, in a key that suits; the planner's answer is printed."""
    for key in ("G", "D", "C"):
        code, out, err = run(
            LANTERN, "--instrument", instrument, "--idiom", idiom, "--key", key, "--rung", "1", capsys=capsys
        )
        if code == 0:
            break
        assert err.count("\n") == 1 and "Choose" in err
    assert code == 0
    assert "Chosen: " in err
    strings = INSTRUMENTS[instrument].strings
    system = out.split("\n\n")[1].splitlines()
    assert sum("|" in line for line in system) == strings
    assert out.splitlines()[1].startswith(f"{INSTRUMENTS[instrument].name}: ")


@pytest.mark.parametrize(
    ("instrument", "tuning", "key", "body", "expected"),
    [
        # Open strings where there are any, the first position elsewhere (handbook §3, common practice).
        ("mandolin", "GDAE", "D", "D2F2 A2d2|", {3: "0 4", 2: "0 5"}),
        ("guitar", "EADGBE", "G", "G,2B,2 D2G2|", {6: "3", 5: "2", 4: "0", 3: "0"}),
        ("ukulele", "gCEA", "C", "C2E2 G2c2|", {3: "0", 2: "0 3", 1: "3"}),
        ("dulcimer", "DAD", "D", "D2F2 A2d2|", {1: "0 2 4 7"}),
        # The open top course, then B and C at frets 6 and 7 of the middle one, where handbook §2 has C.
        ("saz-short", "D-G-A", "Am", "A,2B,2 C2D2|", {3: "0", 2: "6 7", 1: "0"}),
    ],
)
def test_first_notes_lie_where_players_put_them(
    instrument: str, tuning: str, key: str, body: str, expected: dict[int, str], tmp_path: Path, capsys
) -> None:  # type: ignore[no-untyped-def]
    """A bar of four notes, read off the text tab string by string."""
    file = tmp_path / "bar.abc"
    file.write_text(f"X:1\nT:Bar\nM:4/4\nL:1/8\nK:{key}\n{body}]\n", encoding="utf-8")
    wanted = ["--tuning", tuning, "--key", key.removesuffix("m"), "--rung", "1"]
    code, out, _ = run(str(file), "--instrument", instrument, *wanted, capsys=capsys)
    assert code == 0
    rows = [line.split("|")[1] for line in out.split("\n\n")[1].splitlines() if "|" in line]
    found = {number: " ".join(row.strip("-:").replace("-", " ").split()) for number, row in enumerate(rows, start=1)}
    assert {number: text for number, text in found.items() if text} == expected


def test_the_text_tab_writes_slurs_pinches_and_the_solo() -> None:
    """h, p and / with the fret they come to, a grace with its own; kick-off, second time and ending with the solo."""
    from tests.core.test_worked_figures import CLAW, ROLL

    tune = read_tune('X:1\nT:Signs\nM:4/4\nL:1/8\nK:G\n|:"D"f4 d4|"G"BAGA B2AG|"G"G8:|\n').tune
    assert tune
    slurred = write_text(found := ladder_of(tune, CLAW, tuning="gDGBD"), level_path(found, 4))
    assert "2/4" in slurred and "-p0" in slurred
    pinched = write_text(found := ladder_of(tune, ROLL, tuning="gDGBD"), level_path(found, 2))
    assert " P" in pinched
    solo = write_text(found, level_path(found, 7)).splitlines()
    assert "Kick-off" in solo and "Ending" in solo
    assert "Kick-off" not in slurred


def test_musicxml_pairs_every_slur() -> None:
    """Each hammer-on, pull-off and slide has its start and its stop (MusicXML 4.0); a grace is a grace note."""
    tune = read_tune('X:1\nT:Signs\nM:4/4\nL:1/8\nK:G\n|:"D"f4 d4|"G"BAGA B2AG|"G"G8:|\n').tune
    assert tune
    ladder = ladder_of(tune, "clawhammer", tuning="gDGBD")
    root = ElementTree.fromstring(write_musicxml(ladder, level_path(ladder, 4)))
    counted = {}
    for name in ("hammer-on", "pull-off", "slide"):
        ends = [element.get("type") for element in root.iter(name)]
        counted[name] = ends.count("start")
        assert ends.count("start") == ends.count("stop")
    assert sum(counted.values()) == sum(
        note.slur is not None for bar in ladder.rungs[3] for stroke in bar.strokes for note in stroke.notes
    )
    assert counted["slide"] and len(list(root.iter("grace"))) >= 1
