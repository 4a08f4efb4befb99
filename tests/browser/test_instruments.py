"""Instruments in Chromium: chord shapes, places of a note, the key table, own ones, the tuner."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from nailhead.core.fretboard.instruments import INSTRUMENTS
from nailhead.core.sound.pluck import RATE, pluck
from nailhead.formats.wav import write_wav
from tests.browser.conftest import axe

pytestmark = pytest.mark.browser


def choose(page: Page, name: str, option: str) -> None:
    page.get_by_role("combobox", name=name, exact=True).click()
    page.get_by_role("option", name=option, exact=True).click()


def test_a_chord_is_found_with_the_capo_on(page: Page, address: str) -> None:
    """An A-minor shape with capo 2 on the guitar sounds B minor (handbook §2, common practice); picked, it is on the
    neck with its fingers; a note instead shows its places.
    """
    page.goto(f"{address}/instruments/guitar/chords")
    choose(page, "Capo", "fret 2")
    page.get_by_label("Chord, as the hands play it").fill("Am")
    expect(page.get_by_role("heading", name="Am")).to_contain_text("sounds Bm")
    first = page.locator(".chord-diagram").first
    told = ["6 left out", "5 open", "4 fret 2 finger 2", "3 fret 2 finger 3", "2 fret 1 finger 1", "1 open"]
    expect(first).to_have_attribute("aria-label", f"Am: {', '.join(f'string {one}' for one in told)}")
    expect(page.locator(".neck-drawing circle.chord")).to_have_count(5)
    page.locator(".shapes button").nth(1).click()
    expect(page.locator(".shapes button").nth(1)).to_have_attribute("aria-pressed", "true")
    page.get_by_label("Or every place of a note").fill("E4")
    expect(page.locator(".neck-drawing title").filter(has_text="string 2 fret 3")).to_have_count(1)
    page.get_by_label("Or every place of a note").fill("X")
    expect(page.get_by_role("alert")).to_contain_text("not a note name")


def test_hands_are_cautioned_where_shapes_stretch(page: Page, address: str) -> None:
    """Beside barres and four fingers the doctor is named (handbook §9)."""
    page.goto(f"{address}/instruments/guitar/chords")
    page.get_by_label("Chord, as the hands play it").fill("F")
    expect(page.get_by_text("see a doctor or physiotherapist")).to_be_visible()


@pytest.mark.parametrize("name", INSTRUMENTS)
def test_every_instrument_has_chords_and_a_neck(page: Page, address: str, name: str) -> None:
    """Its strings on the neck, shapes for its first chord, its key table of twelve rows."""
    page.goto(f"{address}/instruments/{name}/chords")
    expect(page.locator(".neck-drawing .open")).to_have_count(INSTRUMENTS[name].strings)
    expect(page.locator(".chord-diagram").first).to_be_visible()
    page.get_by_role("link", name="Key table").click()
    expect(page.locator(".key-table tbody tr")).to_have_count(12)


def test_the_key_table_is_printed_alone(page: Page, address: str) -> None:
    """On paper only the table: G shapes with capo 2 for A, and no menus."""
    page.goto(f"{address}/instruments/banjo/keys")
    row = page.locator(".key-table tbody tr").nth(9)
    expect(row).to_contain_text("G capo 2, fifth A, hook 7")
    page.emulate_media(media="print")
    expect(page.get_by_role("navigation", name="Instruments")).to_be_hidden()
    expect(page.locator(".key-table table")).to_be_visible()


def test_an_own_instrument_from_form_to_ladder(page: Page, address: str) -> None:
    """Described, refused at the field, kept, tuned anew, set up for a tune; not forgotten while it is used."""
    page.goto(f"{address}/instruments")
    page.get_by_role("button", name="Add your own").click()
    choose(page, "Played like a", "Mountain dulcimer")
    page.get_by_label("Name", exact=True).fill("Cherry dulcimer")
    page.get_by_label("1½").check()
    page.get_by_label("left-handed").check()
    page.get_by_label("Nut to bridge, mm").fill("20")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("alert")).to_contain_text("A scale of 20 mm cannot be. Measure from nut to bridge")
    page.get_by_label("Nut to bridge, mm").fill("690")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("heading", name="Cherry dulcimer")).to_be_visible()
    page.get_by_label("Name", exact=True).fill("one three five")
    page.get_by_label("Open strings, bass first").fill("D3 A3 F#4")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("rowheader", name="one three five")).to_be_visible()
    page.get_by_role("link", name="Tunes").click()
    page.get_by_role("link", name="Low Tide at Annisk").click()
    page.get_by_role("link", name="Setup").click()
    choose(page, "Instrument", "Cherry dulcimer")
    choose(page, "Sounds in", "any key")
    page.locator(".list .keep").first.click()
    expect(page.locator(".cell").first).to_be_visible()
    page.goto(f"{address}/instruments/own-1/tunings")
    page.on("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="Forget", exact=True).first.click()
    expect(page.get_by_role("alert")).to_contain_text("It is used by “Low Tide at Annisk”")


def test_a_retuning_is_rehearsed(page: Page, address: str, tmp_path: Path) -> None:
    """Open G to double C: string 2 from B3 up to C4 with its caution; the peg turned until it is in tune; a recording
    of string 3, 30 cents flat, is told to come up.
    """
    page.goto(f"{address}/instruments/banjo/tuner")
    choose(page, "Tune it to", "double C · gCGCD")
    page.get_by_role("row", name="2 B3 C4").click()
    expect(page.locator(".dial")).to_contain_text("String 2 is low: bring it up a good way.")
    expect(page.locator(".dial")).to_contain_text("face away, eyes protected")
    peg = page.get_by_label("Peg, in cents beside the goal")
    peg.fill("-9")
    page.get_by_role("button", name="Ten cents up").click()
    expect(page.locator(".dial")).to_contain_text("String 2 is in tune.")
    page.get_by_role("button", name="Hear the goal").click()
    flat = tmp_path / "flat.wav"
    flat.write_bytes(write_wav(pluck(196.0 * 2 ** (-30 / 1200), 1.0), RATE))
    page.get_by_label("A recording of one string").set_input_files(flat)
    expect(page.locator(".dial")).to_contain_text("String 3 is low: bring it up some.")
    expect(page.locator(".dial")).to_contain_text("The recording sounds at 192.6")


@pytest.mark.parametrize("tab", ["chords", "keys", "tunings", "tuner"])
def test_the_instrument_screens_are_accessible(page: Page, address: str, tab: str) -> None:
    """axe-core finds nothing."""
    page.goto(f"{address}/instruments/banjo/{tab}")
    expect(page.locator("table, .shapes li").first).to_be_visible()
    assert axe(page) == []
