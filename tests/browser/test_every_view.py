"""Every view at every width, by touch and on a dark stage: nothing over the edge, nothing too small, axe clean."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import axe

pytestmark = pytest.mark.browser

#: Each view by its address on the demo shelf, and what is there when it is ready.
VIEWS = {
    "shelf": ("/", "tbody tr"),
    "bring-in": ("/bring-in", "#abc"),
    "desk": ("/tunes/1", ".staff svg"),
    "setup": ("/tunes/1/setup", ".neck-drawing .played"),
    "ladder": ("/setups/1", ".cell svg"),
    "sheet": ("/setups/1/sheet", "svg.page"),
    "practice": ("/setups/1/practice", ".play:enabled"),
    "copies": ("/copies", ".link-button"),
    "packet": ("/packet", ".tunes li"),
    "chords": ("/instruments/guitar/chords", ".chord-diagram"),
    "keys": ("/instruments/banjo/keys", "tbody tr"),
    "tunings": ("/instruments/banjo/tunings", "tbody tr"),
    "tuner": ("/instruments/banjo/tuner", ".dial"),
    "settings": ("/settings", "select"),
}
#: How far the page is over the edge, and what can be pressed but is under 44 px high or wide; a tick counts its label.
MEASURE = """() => {
    const pressed = 'a[href], button, input:not([type=hidden]), select, textarea, summary, [role=combobox], [role=tab]'
    const small = []
    for (const element of document.querySelectorAll(pressed)) {
        const label = ['checkbox', 'radio'].includes(element.type) ? element.closest('label') : null
        const { width, height } = (label ?? element).getBoundingClientRect()
        const seen = element.checkVisibility({ visibilityProperty: true }) && width && height
        if (seen && (width < 43.5 || height < 43.5))
            small.push(`${element.tagName} ${element.textContent.trim().slice(0, 30)} ${width} x ${height}`)
    }
    return [document.documentElement.scrollWidth - innerWidth, small]
}"""


def walk(page: Page, address: str):  # type: ignore[no-untyped-def]
    for name, (place, there) in VIEWS.items():
        page.goto(address + place)
        expect(page.locator(there).first).to_be_visible()
        page.wait_for_load_state("networkidle")
        yield name


#: Tablet upright and on its side, laptop, large screen.
SIZES = {820: 1180, 1024: 768, 1280: 800, 1600: 1000}


@pytest.mark.browser_context_args(viewport={"width": 820, "height": 1180}, has_touch=True)
def test_every_view_at_every_width_by_touch(page: Page, address: str) -> None:
    """Nothing over the edge, nothing to press under 44 px."""
    assert page.evaluate("matchMedia('(pointer: coarse)').matches")
    wrong = {}
    for name in walk(page, address):
        for width, height in SIZES.items():
            page.set_viewport_size({"width": width, "height": height})
            page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
            over, small = page.evaluate(MEASURE)
            if over > 0 or small:
                wrong[name, width] = (over, small)
        page.set_viewport_size({"width": 820, "height": SIZES[820]})
    assert wrong == {}


def test_every_view_is_accessible(page: Page, address: str) -> None:
    """axe-core finds nothing against WCAG 2 A and AA on any view, on white paper and on black."""
    wrong = {}
    for name in walk(page, address):
        dim = page.get_by_role("button", name="Dim", exact=True)
        for how, class_name in (("light", re.compile("^(?!.*dim)")), ("dim", re.compile("dim"))):
            expect(page.locator("html")).to_have_class(class_name)
            if found := axe(page):
                wrong[name, how] = found
            dim.click()
    assert wrong == {}


@pytest.mark.browser_context_args(viewport={"width": 820, "height": 1180}, has_touch=True)
def test_a_stretch_is_drawn_with_a_finger(page: Page, address: str) -> None:
    """From one bar of the map to another without lifting it; raising then raises the whole stretch."""
    page.goto(f"{address}/setups/1")
    bars = page.locator(".map .bar")
    expect(bars.nth(4)).to_be_visible()
    boxes = [bars.nth(at).bounding_box() for at in (1, 2, 3)]
    client = page.context.new_cdp_session(page)
    points = [{"x": box["x"] + 20, "y": box["y"] + 20} for box in boxes if box]
    client.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": points[:1]})
    for point in points[1:]:
        client.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": [point]})
    client.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    expect(page.locator(".map .stretch")).to_have_count(3)
    page.get_by_role("button", name="Raise 3 bars").tap()
    expect(page.locator("[data-place='2'][data-rung='3']")).to_have_class(re.compile("on-path"))


@pytest.mark.browser_context_args(viewport={"width": 820, "height": 1180}, has_touch=True)
def test_pages_are_turned_by_tap_and_pedal(page: Page, address: str) -> None:
    """A tap on the right half, a pedal's PgUp, the place is there again after a reload; Escape leaves."""
    page.goto(f"{address}/setups/1/sheet")
    page.get_by_role("button", name="Play from it").tap()
    stand = page.get_by_role("region", name="The sheet alone")
    expect(stand.get_by_role("status")).to_contain_text("Page 1 of")
    page.touchscreen.tap(700, 500)
    expect(stand.get_by_role("status")).to_contain_text("Page 2 of")
    page.keyboard.press("PageUp")
    expect(stand.get_by_role("status")).to_contain_text("Page 1 of")
    page.keyboard.press("PageDown")
    page.reload()
    page.get_by_role("button", name="Play from it").tap()
    expect(stand.get_by_role("status")).to_contain_text("Page 2 of")
    page.keyboard.press("Escape")
    expect(stand).to_have_count(0)


def test_settings_reach_the_other_screens(page: Page, address: str) -> None:
    """What is taught stands first, its tuning is known, a sheet is Letter, a visit begins where one stopped."""
    page.goto(f"{address}/settings")
    page.get_by_label("Mandolin", exact=True).check()
    page.get_by_label("Mandolin, usually tuned to").select_option("GDGD")
    page.get_by_label("Paper").select_option("Letter")
    page.get_by_label("Begin with").select_option("last ladder")
    page.wait_for_load_state("networkidle")
    page.goto(f"{address}/tunes/1/setup")
    page.get_by_role("combobox", name="Instrument", exact=True).click()
    expect(page.get_by_role("option").first).to_have_text("Mandolin")
    page.get_by_role("option").first.click()
    expect(page.locator(".list")).to_contain_text("to retune from cross G")
    page.locator(".list .keep").first.click()
    expect(page.locator(".cell.on-path").first).to_be_visible()
    ladder = page.url
    page.get_by_role("link", name="Print …").click()
    expect(page.locator("svg.page[viewBox^='0 0 215.9']").first).to_be_visible()
    page.goto(address)
    expect(page).to_have_url(ladder)
    page.get_by_role("link", name="Tunes").click()
    expect(page.locator("tbody tr").first).to_be_visible()


def test_every_screen_has_help(page: Page, address: str) -> None:
    """`?` opens it with the screen's own words and keys, and closes it; a field keeps its question mark."""
    for name in walk(page, address):
        page.locator("h1, h2, .masthead strong").first.click()
        page.keyboard.press("?")
        panel = page.get_by_role("complementary", name="Help")
        if name == "practice":  # the room shows its own keys, which can be changed there
            expect(page.get_by_text("foot switch").first).to_be_visible()
            continue
        expect(panel.get_by_role("region", name="Keys")).to_contain_text("back to where you came from")
        page.keyboard.press("?")
        expect(panel).to_have_count(0)
    page.goto(address)
    page.get_by_label("Find a tune").fill("why?")
    expect(page.get_by_role("complementary", name="Help")).to_have_count(0)
