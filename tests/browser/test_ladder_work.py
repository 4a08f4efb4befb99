"""A teacher at work on the ladder in Chromium: keys alone, stretches, hand edits, undo over a reload, two windows."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import axe
from tests.browser.test_screens import on_path, open_ladder

pytestmark = pytest.mark.browser


def keys(page: Page, *names: str) -> None:
    for name in names:
        page.keyboard.press(name)


def selected(page: Page) -> tuple[str | None, str | None]:
    cell = page.locator(".cell.selected")
    return cell.get_attribute("data-place"), cell.get_attribute("data-rung")


def said(page: Page):  # type: ignore[no-untyped-def]
    return page.get_by_role("status").last


def test_one_phrase_with_all_its_rungs_is_in_sight(page: Page, address: str) -> None:
    """At 1280 x 800, without scrolling; the whole tune above it in the map, which jumps."""
    open_ladder(page, address, "Lantern on the Weir")
    boxes = [page.locator(f"[data-place='1'][data-rung='{rung}']").bounding_box() for rung in (1, 7)]
    assert all(box and box["y"] >= 0 and box["y"] + box["height"] <= 800 for box in boxes)
    bars = page.get_by_role("navigation", name="The whole tune").get_by_role("button")
    expect(bars).to_have_count(18)
    bars.nth(16).click()
    expect(page.locator(".cell.selected")).to_have_attribute("data-place", "16")
    expect(page.locator("[data-place='16'][data-rung='5'] svg")).to_be_in_viewport()


def test_a_whole_session_by_keys_alone(page: Page, address: str) -> None:
    """A stretch raised, an alternative taken, a bar locked, a note edited, all undone and redone, over a reload too."""
    open_ladder(page, address, "Lantern on the Weir")
    keys(page, "ArrowRight", "Shift+ArrowRight", "Shift+ArrowRight", "]", "]", "]")
    expect(page.locator(".cell.on-path[data-rung='5']")).to_have_count(4)  # bar 1 comes again as bar 5
    assert selected(page) == ("3", "5")
    keys(page, "ArrowLeft", "a")
    expect(page.locator("[data-place='2'][data-rung='5'] .flag.alternative")).to_be_visible()
    keys(page, "k")
    expect(page.locator(".bar-head .state")).to_have_text("locked")
    keys(page, "ArrowLeft")
    editor = page.locator("[data-bar-editor]")
    expect(page.get_by_role("complementary", name="Selected bar")).to_contain_text("Bar 1")
    editor.focus()
    keys(page, "ArrowRight", "ArrowDown", "2")
    expect(page.locator("[data-place='1'][data-rung='5'] .flag.edited")).to_be_visible()
    expect(page.get_by_role("list", name="Awkward")).to_be_visible()
    keys(page, "Escape")
    assert selected(page) == ("1", "5")
    keys(page, "u")
    expect(page.locator("[data-place='1'] .flag.edited")).to_have_count(0)
    page.reload()
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()
    keys(page, "U")
    expect(page.locator("[data-place='1'][data-rung='5'] .flag.edited")).to_be_visible()
    keys(page, *"uuuuuu")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    assert {rung for _, rung in on_path(page)} == {"2"}
    keys(page, "?")
    expect(page.get_by_role("complementary", name="Help")).to_contain_text("next alternative")
    keys(page, "Escape")
    expect(page.get_by_role("complementary", name="Help")).to_have_count(0)


def test_the_large_bar_is_always_the_one_that_is_named(page: Page, address: str) -> None:
    """On a slow connection: the ladder's own bar at once, no other one's under its name; keys wait for its notes."""
    open_ladder(page, address, "Lantern on the Weir")
    large = page.locator("[data-bar-editor]")
    expect(large).to_have_attribute("aria-busy", "false")
    held: list[Route] = []
    page.route("**/cells/3/*", lambda route: held.append(route))
    keys(page, "ArrowRight", "ArrowRight", "ArrowRight")
    expect(page.get_by_role("complementary", name="Selected bar")).to_contain_text("Bar 3")
    expect(large).to_have_attribute("aria-busy", "true")
    shown = large.locator("svg text").all_text_contents()
    assert shown == page.locator("[data-place='3'][data-rung='2'] svg text").all_text_contents()
    assert shown != page.locator("[data-place='2'][data-rung='2'] svg text").all_text_contents()
    large.focus()
    keys(page, "ArrowRight", "ArrowDown", "2")
    expect(page.locator(".flag.edited")).to_have_count(0)
    assert held
    page.unroute("**/cells/3/*")  # lets go what was held
    expect(page.locator("[data-place='3'][data-rung='2'] .flag.edited")).to_be_visible()


def test_a_note_is_moved_and_dressed_in_place(page: Page, address: str) -> None:
    """Picked by mouse: another string by its price, an ornament, then as computed again."""
    open_ladder(page, address, "Lantern on the Weir")
    page.locator("[data-place='2'][data-rung='4']").click()
    inspector = page.get_by_role("complementary", name="Selected bar")
    expect(inspector).to_contain_text("Bar 2")
    editor = page.locator("[data-bar-editor]")
    editor.focus()
    keys(page, "ArrowDown")
    note = page.get_by_role("group", name="The picked note")
    expect(note).to_contain_text("C4, melody note on string 2")
    note.get_by_role("button", name="string 3 fret 5").click()
    expect(page.locator("[data-place='2'][data-rung='4'] .flag.alternative")).to_be_visible()
    keys(page, "Tab")
    editor.focus()
    keys(page, "ArrowDown")
    expect(note).to_contain_text("string 3, fret 5")
    note.get_by_label("Ornament").select_option("slide")
    expect(page.locator("[data-place='2'][data-rung='4'] .flag.edited")).to_be_visible()
    inspector.get_by_role("button", name="Reset to the computed bar").click()
    expect(page.locator("[data-place='2'][data-rung='4'] .flag")).to_have_count(0)


def test_the_richest_path_under_a_grade_and_a_pattern(page: Page, address: str) -> None:
    """The slider sets the whole path; a pattern chosen for a bar is played there."""
    open_ladder(page, address, "Lantern on the Weir")
    slider = page.get_by_role("slider", name="Grade at most")
    slider.fill("3")
    expect(said(page)).to_have_text("Grade 3 at most")
    assert len({rung for _, rung in on_path(page)}) > 1
    grades = page.locator(".cell.on-path .grade").all_inner_texts()
    assert max(map(int, grades)) <= 3
    page.locator("[data-place='8'][data-rung='5']").click()
    page.get_by_role("button", name="Pattern and chord shapes").click()
    page.locator(".choices select").first.select_option("basic stroke")
    expect(page.locator("[data-place='8'][data-rung='5'] .flag.alternative")).to_be_visible()


def test_two_windows_do_not_overwrite_each_other_silently(page: Page, address: str) -> None:
    """The second window is told, shows what the first has done, and can go on from there."""
    open_ladder(page, address, "Lantern on the Weir")
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.locator(".cell.on-path[data-rung='2']")).to_have_count(18)
    page.get_by_role("button", name="All on 4").click()
    expect(said(page)).to_contain_text("All on rung 4")
    other.get_by_role("button", name="All on 6").click()
    expect(other.get_by_text("changed in another window")).to_be_visible()
    expect(other.locator(".cell.on-path[data-rung='4']")).to_have_count(18)
    other.get_by_role("button", name="All on 6").click()
    expect(other.locator(".cell.on-path[data-rung='6']")).to_have_count(18)
    other.close()


def test_a_second_time_of_its_own(page: Page, address: str) -> None:
    """Switched on, raising changes the second time only."""
    open_ladder(page, address, "Lantern on the Weir")
    page.get_by_label("Second time").check()
    page.locator("[data-place='3'][data-rung='2']").click()
    keys(page, "]")
    expect(page.locator(".cell.on-path[data-rung='3']")).to_have_count(1)
    page.get_by_label("Second time").uncheck()
    expect(page.locator(".cell.on-path[data-rung='3']")).to_have_count(0)
    expect(page.get_by_text("Second time, grade")).to_be_visible()


def test_the_solo_shows_what_is_around_it(page: Page, address: str) -> None:
    """Kick-off and ending stand under the ladder while the path has a solo bar."""
    open_ladder(page, address, "Lantern on the Weir")
    expect(page.get_by_role("region", name="Around the solo")).to_have_count(0)
    page.get_by_role("button", name="All on 7").click()
    around = page.get_by_role("region", name="Around the solo")
    for name in ("Kick-off", "Ending"):
        expect(around.get_by_role("img", name=name).locator("circle").first).to_be_attached()
    assert axe(page) == []
    page.get_by_role("button", name="All on 5").click()
    expect(around).to_have_count(0)


def test_a_copy_beside_its_original(page: Page, address: str) -> None:
    """Copied under a name, changed, and shown below the other's phrase with beats aligned."""
    open_ladder(page, address, "Lantern on the Weir")
    first = page.url
    page.get_by_role("button", name="Copy").click()
    page.get_by_label("Name of the copy").fill("Tuesday group")
    keys(page, "Enter")
    page.wait_for_url(lambda url: url != first)
    page.get_by_role("button", name="All on 1").click()
    expect(said(page)).to_contain_text("All on rung 1")
    page.goto(first)
    page.get_by_label("Beside it").select_option("Tuesday group")
    row = page.locator(".row.beside").first
    expect(row).to_contain_text("Tuesday group")
    expect(row).to_contain_text("rung 1")
    above = page.locator("[data-place='1'][data-rung='1'] circle.fill-melody").first.bounding_box()
    below = row.locator(".cell").nth(1).locator("circle.fill-melody").first.bounding_box()
    assert above and below and abs(above["x"] - below["x"]) < 0.5


def test_space_plays_from_here_and_the_cursor_follows(page: Page, address: str) -> None:
    """The bar that is heard is marked in the map; Space again stops."""
    open_ladder(page, address, "Lantern on the Weir")
    keys(page, "ArrowRight", "ArrowRight", " ")
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    heard = page.locator(".map .heard")
    expect(heard).to_have_count(1)
    expect(page.locator(".map .bar").nth(3)).to_have_class("bar heard", timeout=20_000)
    page.get_by_role("button", name="Stop").click()
    expect(heard).to_have_count(0)
    with page.expect_request("**/cells/2/2/sound**") as asked:
        keys(page, "h")
    assert asked.value.response().headers["content-type"] == "audio/wav"  # type: ignore[union-attr]


def test_a_ladder_at_work_is_accessible(page: Page, address: str) -> None:
    """Nothing against WCAG 2 A and AA with everything open: editor, alternatives, keys, marks, a warning."""
    open_ladder(page, address, "Lantern on the Weir")
    page.locator("[data-place='1'][data-rung='5']").click()
    page.get_by_role("button", name="Other ways to play it").click()
    expect(page.locator(".alternatives li").first).to_be_visible()
    page.locator("[data-bar-editor]").focus()
    keys(page, "ArrowRight", "ArrowDown", "2")
    expect(page.get_by_role("list", name="Awkward")).to_be_visible()
    page.get_by_label("Beside it").select_option(index=1)
    expect(page.locator(".row.beside").first).to_be_visible()
    page.get_by_role("button", name="Help ?").click()
    expect(page.get_by_role("complementary", name="Help")).to_contain_text("Signs of this tab")
    assert axe(page) == []


def test_an_arrangement_moves_to_another_setup(page: Page, address: str) -> None:
    """What was edited and no longer sounds the melody waits aside, with the reason; undo brings all of it back."""
    open_ladder(page, address, "Lantern on the Weir")
    page.locator("[data-place='1'][data-rung='2']").click()
    page.locator("[data-bar-editor]").focus()
    keys(page, "ArrowDown", "ArrowDown", "ArrowDown", "ArrowDown", "0")
    expect(page.locator("[data-place='1'][data-rung='2'] .flag.edited")).to_be_visible()
    page.get_by_role("link", name="Setup").click()
    page.get_by_text("Choose by hand").click()
    page.get_by_role("combobox", name="Tuning", exact=True).click()
    page.get_by_role("option", name="double C").click()
    page.get_by_role("combobox", name="Capo", exact=True).click()
    page.get_by_role("option", name="no capo").click()
    expect(page.locator(".answer")).to_contain_text("double C")
    page.get_by_text("Move or forget").click()
    page.get_by_role("button", name="Move here").first.click()
    aside = page.get_by_role("region", name="Kept aside")
    expect(aside).to_contain_text("is not on string")
    expect(page.locator(".top")).to_contain_text("double C")
    keys(page, "u")
    expect(page.locator(".top")).to_contain_text("open G")
    expect(page.locator("[data-place='1'][data-rung='2'] .flag.edited")).to_be_visible()


def in_sight_without_notes(page: Page) -> int:
    """Cells within the window that have no drawing."""
    return int(
        page.evaluate(
            """() => {
                const room = document.querySelector('.phrases').getBoundingClientRect()
                return [...document.querySelectorAll('.cell[data-rung]')].filter((cell) => {
                    const box = cell.getBoundingClientRect()
                    return box.bottom > room.top && box.top < room.bottom && !cell.querySelector('svg')
                }).length
            }"""
        )
    )


def scroll_down(page: Page) -> None:
    """To the last phrase, where its notes have come by being looked at."""
    page.locator(".phrases").evaluate("room => room.scrollTo(0, room.scrollHeight)")
    expect(page.locator("[data-place='17'][data-rung='5'] svg")).to_be_visible()


def test_notes_stay_after_every_kind_of_answer(page: Page, address: str) -> None:
    """A choice of school, a lock, a refused change, undo and a reload, far down in the ladder: nothing goes blank."""
    open_ladder(page, address, "Lantern on the Weir")
    scroll_down(page)
    page.get_by_label("Nail that strikes").select_option("middle")
    expect(said(page)).to_have_text("Nail that strikes: middle")
    page.wait_for_function('() => document.querySelector(\'[data-place="17"][data-rung="5"] svg\')')
    page.wait_for_timeout(300)
    assert in_sight_without_notes(page) == 0
    page.locator("[data-place='17'][data-rung='5']").click()
    keys(page, "k")
    expect(said(page)).to_contain_text("Lock bar")
    assert in_sight_without_notes(page) == 0
    keys(page, "]")  # a locked bar is not raised
    expect(page.get_by_text("is locked.").first).to_be_visible()
    page.wait_for_timeout(300)
    assert in_sight_without_notes(page) == 0
    keys(page, "u")
    expect(said(page)).to_contain_text("Undone")
    page.wait_for_timeout(300)
    assert in_sight_without_notes(page) == 0
    page.reload()
    expect(page.locator("[data-place='1'][data-rung='5'] svg")).to_be_visible()
    scroll_down(page)
    for _ in range(50):  # what has just come into sight may take a moment on a busy machine
        if not in_sight_without_notes(page):
            break
        page.wait_for_timeout(100)
    assert in_sight_without_notes(page) == 0


def test_a_phrase_that_does_not_come_says_so_and_can_be_asked_for_again(page: Page, address: str) -> None:
    """The connection breaks while a phrase is on its way; later it comes when it is asked for."""
    broken = {"on": True}
    page.route("**/phrases/*", lambda route: route.abort() if broken["on"] else route.continue_())
    open_ladder(page, address, "Lantern on the Weir")
    page.locator(".phrases").evaluate("room => room.scrollTo(0, room.scrollHeight)")
    again = page.get_by_role("button", name="Ask again")
    expect(again.first).to_be_visible()
    expect(page.get_by_text("These bars did not come").first).to_be_visible()
    broken["on"] = False
    for _ in range(again.count()):
        again.first.click()
        page.wait_for_timeout(200)
    expect(page.locator("[data-place='17'][data-rung='5'] svg")).to_be_visible()
    expect(again).to_have_count(0)


def test_a_teachers_own_pattern_is_played(page: Page, address: str) -> None:
    """Typed in signs, refused with the sign at fault, kept with the arrangement, forgotten."""
    open_ladder(page, address, "Lantern on the Weir")
    page.get_by_role("button", name="Your own patterns").click()
    page.get_by_label("Name", exact=True).fill("gallop")
    page.get_by_label("Signs").fill("d Q d t")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("Sign 2 of the pattern “gallop”")).to_be_visible()
    page.get_by_label("Signs").fill("d t | d! t")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(said(page)).to_have_text("Own pattern gallop")
    page.locator("[data-place='17'][data-rung='2']").click()
    page.get_by_role("button", name="Pattern and chord shapes").click()
    expect(page.locator(".choices select").first).to_have_value("gallop")
    page.get_by_role("button", name="Forget").click()
    expect(said(page)).to_have_text("Without the pattern gallop")


#: A bar in sight of a phrase that is not wholly so: its place and rung, and where it is.
HALF_SEEN = """() => {
    const scrolled = document.querySelector('.phrases')
    scrolled.scrollTop = 150
    const room = scrolled.getBoundingClientRect()
    for (const cell of document.querySelectorAll('[data-cell]')) {
        const box = cell.getBoundingClientRect()
        const cut = cell.closest('.phrase').getBoundingClientRect().top < room.top - 60
        if (cut && box.top > room.top + 40)
            return [cell.dataset.place, cell.dataset.rung, box.x + box.width / 2, box.bottom - 3]
    }
}"""


def test_the_page_stands_still_under_the_hand(page: Page, address: str) -> None:
    """A bar of a phrase that is half in sight is pressed: the page does not move, so no other bar is dragged over."""
    open_ladder(page, address, "Lantern on the Weir")
    expect(page.locator(".cell svg").first).to_be_visible()
    place, rung, x, y = page.evaluate(HALF_SEEN)
    before = page.evaluate("document.querySelector('.phrases').scrollTop")
    page.mouse.move(x, y)
    page.mouse.down()
    page.wait_for_timeout(300)
    page.mouse.move(x + 1, y)
    page.mouse.up()
    expect(page.locator(".cell.selected")).to_have_count(1)
    expect(page.locator(f"[data-place='{place}'][data-rung='{rung}']")).to_have_class(re.compile("selected"))
    assert page.evaluate("document.querySelector('.phrases').scrollTop") == before
