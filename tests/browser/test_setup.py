"""The setup screen in Chromium: ranked ways to play, the neck to scale, six instruments."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, Route, TimeoutError, expect

from nailhead.core.fretboard.instruments import INSTRUMENTS
from tests.browser.conftest import axe

pytestmark = pytest.mark.browser


def open_setup(page: Page, address: str) -> None:
    """The reel, with the banjo in hand."""
    page.goto(f"{address}/tunes/2/setup?from=3")
    expect(page.get_by_role("heading", name="Lantern on the Weir")).to_be_visible()
    expect(page.locator(".list li").first).to_be_visible()


def choose(page: Page, name: str, option: str) -> None:
    """Opened again where an answer that came in between has moved the page, which closes an open list."""
    wanted = page.get_by_role("option", name=option, exact=True)
    for _ in range(3):
        page.get_by_role("combobox", name=name, exact=True).click()
        try:
            return wanted.click(timeout=5000)
        except TimeoutError:
            continue
    raise AssertionError(f"“{option}” is not offered under {name}.")


def test_the_wanted_key_gives_open_g_with_capo_2(page: Page, address: str) -> None:
    """The reel in A: open G, capo 2, fifth string A comes first; taken, it is set up and its ladder opens."""
    open_setup(page, address)
    choose(page, "Sounds in", "A")
    first = page.locator(".list li").first
    expect(first).to_contain_text("open G, capo 2, fifth string A")
    expect(first).to_contain_text("plays G major, sounds A major")
    expect(first).to_contain_text("Capo at fret 2. +10")
    expect(page.locator(".answer")).to_contain_text("hook at fret 7")
    first.get_by_role("button", name="Set up: open G, capo 2").click()
    expect(page.locator(".cell.on-path")).to_have_count(18)


def test_what_is_chosen_by_hand_stands_when_the_ways_come_late(page: Page, address: str) -> None:
    """On a slow machine she is quicker than the planner: its first way does not take the place of hers."""
    held: list[Route] = []
    page.route("**/plan", lambda route: held.append(route))
    page.goto(f"{address}/tunes/2/setup")
    choose(page, "Instrument", "Five-string banjo")
    page.get_by_text("Choose by hand").click()
    choose(page, "Tuning", "double C · gCGCD")
    expect(page.locator(".answer")).to_contain_text("double C")
    assert held, "the ways are asked for before anything is chosen"
    page.unroute("**/plan")  # lets go what was held
    expect(page.locator(".list li").first).to_contain_text("open G")
    expect(page.locator(".answer")).to_contain_text("double C")
    choose(page, "Capo", "no capo")
    expect(page.locator(".answer")).to_contain_text("double C (gCGCD), no capo")
    page.locator(".list li").first.click()
    expect(page.locator(".answer")).to_contain_text("open G")


def test_the_same_choice_again_changes_nothing(page: Page, address: str) -> None:
    """Her instrument and way, picked once more in their lists: the way that she looks at is still the picked one."""
    open_setup(page, address)
    with page.expect_request("**/setups/ahead"):
        page.locator(".list li").nth(1).get_by_role("button").first.click()
    expect(page.locator(".list li.picked")).to_have_count(1)
    chosen = page.locator(".list li.picked .way").inner_text()
    choose(page, "Instrument", "Five-string banjo")
    choose(page, "Way of playing", page.get_by_role("combobox", name="Way of playing").inner_text())
    expect(page.locator(".list li.picked .way")).to_have_text(chosen, use_inner_text=True)


def test_a_tune_that_is_set_up_begins_with_its_own_instrument(page: Page, address: str) -> None:
    """A tune with commas, set up on the saz: not with the guitar, used last elsewhere, which has no frets for it."""
    page.goto(address)
    page.get_by_role("link", name="Walnut Court").click()
    page.get_by_role("link", name="Setup").click()
    expect(page.get_by_role("combobox", name="Instrument", exact=True)).to_contain_text("Saz")
    expect(page.locator(".list li").first).to_be_visible()


def test_why_not_is_answered(page: Page, address: str) -> None:
    """A setup that was expected: what it costs more, or that it comes first."""
    open_setup(page, address)
    choose(page, "Sounds in", "A")
    choose(page, "Expected tuning", "double C · gCGCD")
    choose(page, "Expected capo", "capo 2")
    page.get_by_role("button", name="Why not?").click()
    expect(page.locator(".why")).to_contain_text("away from home")


def test_weights_and_the_tuning_in_hand_change_the_order(page: Page, address: str) -> None:
    """From double C, retuning is counted and told string by string with its tension."""
    open_setup(page, address)
    page.get_by_text("What matters more, and limits").click()
    choose(page, "It is tuned to", "double C · gCGCD")
    expect(page.locator(".list")).to_contain_text("% tension")
    page.get_by_label("may retune").uncheck()
    expect(page.locator(".list li").first).to_contain_text("double C")
    expect(page.locator(".list")).not_to_contain_text("% tension")


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_every_instrument_has_ways_and_a_neck(page: Page, address: str, instrument: str) -> None:
    """Its list, its neck with as many strings, and a ladder with the bare melody on it."""
    row = INSTRUMENTS[instrument]
    open_setup(page, address)
    choose(page, "Instrument", row.name)
    choose(page, "Sounds in", "any key")
    expect(page.locator(".neck-drawing .open")).to_have_count(row.strings)
    expect(page.locator(".neck-drawing .played").first).to_be_visible()
    page.locator(".list .keep").first.click()
    expect(page.locator(".cell.on-path")).to_have_count(18)
    page.get_by_role("link", name="Sheet").click()
    expect(page.locator("svg.page").first).to_contain_text(row.name)


def test_the_setup_screen_is_accessible(page: Page, address: str) -> None:
    """axe-core finds nothing with a list and a neck on screen."""
    open_setup(page, address)
    expect(page.locator(".neck-drawing .played").first).to_be_visible()
    assert axe(page) == []


def test_a_chord_of_the_tune_on_the_neck(page: Page, address: str) -> None:
    """A chord of the tune in this setup: its shapes, the picked one on the neck, and back to the notes."""
    open_setup(page, address)
    page.get_by_role("group", name="Shown on the neck").get_by_role("button", name="D7").click()
    expect(page.locator(".chord-diagram").first).to_be_visible()
    expect(page.locator(".neck-drawing circle.chord").first).to_be_visible()
    page.get_by_role("button", name="the tune’s notes").click()
    expect(page.locator(".neck-drawing .played").first).to_be_visible()


def test_limits_bound_the_ways(page: Page, address: str) -> None:
    """Only double C, no capo, nothing let down: what is left is said to be so; an upside-down range is refused."""
    open_setup(page, address)
    page.get_by_text("What matters more, and limits").click()
    page.get_by_label("double C", exact=True).check()
    choose(page, "Highest capo", "none")
    choose(page, "Tune it all down", "no")
    choose(page, "Sounds in", "any key")
    expect(page.locator(".list li").filter(has_text="double C")).not_to_have_count(0)
    expect(page.locator(".list li").filter(has_text="open G")).to_have_count(0)
    expect(page.locator(".list")).not_to_contain_text("capo")
    choose(page, "Singer", "own range …")
    page.get_by_label("Lowest note").fill("D5")
    page.get_by_label("Highest note").fill("A3")
    expect(page.get_by_role("alert").first).to_contain_text("Give the lowest note first")


def test_the_whole_instrument_let_down(page: Page, address: str) -> None:
    """For a singer a tone lower: open G down a tone comes first, and is set up as it stands."""
    open_setup(page, address)
    choose(page, "Sounds in", "F")
    first = page.locator(".list li").first
    expect(first).to_contain_text("open G down a tone")
    expect(first).to_contain_text("Every string a tone lower.")
    expect(page.locator(".answer")).to_contain_text("open G down a tone (F C F A C)")
    first.get_by_role("button", name="Set up").click()
    expect(page.locator(".cell.on-path")).to_have_count(18)
