"""A capture as it is watched: planned, heard, marked, paused; and what one keeps of one's own at its log."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.remote import Remote
from tests.browser.steps import LONG
from tests.shopwork import J, log, to_map, write

#: Sounds that the page made, told by the page itself.
LISTEN = (
    "document.addEventListener('ventmap:sounds', e => (window.heard = [...(window.heard ?? []), e.detail]))"
)


@pytest.fixture(scope="module")
def loaded(address) -> Remote:
    api = Remote(address)
    to_map(api)
    write(api)
    return api


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_label(label, exact=True).click()
    page.locator(".ant-select-dropdown:visible .ant-select-item-option").filter(has_text=option).first.click()


@pytest.mark.usefixtures("loaded")
class TestACapture:
    def test_a_limit_of_ones_own_is_heard_seen_and_ends_the_drive(self, signed_in: Page, address: str):
        page = signed_in
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(f"{address}/{J}/log")
        page.evaluate(LISTEN)
        expect(page.get_by_text(re.compile(r"1/s at best"))).to_be_visible()
        page.locator(".log-plan summary").click()
        expect(page.locator("table.wanted")).to_contain_text("Knock retard")
        choose(page, "Channel of the limit", "Engine speed")
        page.get_by_label("Figure of the limit").fill("1 100 rpm")
        page.get_by_role("checkbox", name="foot off").check()
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_text("and the foot comes off")).to_be_visible()
        page.get_by_role("button", name="Capture and watch").click()
        expect(page.get_by_role("heading", name=re.compile("^Capturing"))).to_be_visible()
        page.keyboard.press("m")
        expect(page.get_by_text("marks: mark 1")).to_be_visible()
        page.get_by_role("button", name="Pause").click()
        expect(page.get_by_role("heading", name="Paused: nothing is kept")).to_be_visible()
        page.get_by_role("button", name="Go on").click()
        cells = page.get_by_label("Cells that fill")
        expect(cells.locator("td.driven-now")).to_have_count(1)
        # Engine speed passes its limit at the first held speed: word, shape, figure against limit, and sound.
        # The foot comes off within a second of it, so either word may stand when it is looked at.
        alarm = page.get_by_role("alert").locator(".call.stop")
        told = re.compile("(OFF THE LOAD|Came off the load): Engine speed: above your limit")
        expect(alarm).to_contain_text(told, timeout=90_000)
        expect(page.locator(".gauge.stop", has_text="Engine speed")).to_be_visible()
        expect(page.get_by_role("heading", name=re.compile("^log "))).to_be_visible(timeout=LONG)
        assert "stop" in page.evaluate("window.heard")
        # Its marks stand over the windows.
        expect(page.locator(".word-mark").filter(has_text="mark 1")).to_be_visible()
        expect(page.locator(".word-mark").filter(has_text="above your limit")).to_be_attached()

    def test_own_channel_own_row_word_rows_and_what_leaves(
        self, signed_in: Page, address: str, loaded: Remote
    ):
        page = signed_in
        page.set_viewport_size({"width": 1280, "height": 800})
        log(loaded)
        page.goto(f"{address}/{J}/log")
        expect(page.locator(".lanes canvas").first).to_be_visible(timeout=LONG)
        page.get_by_role("button", name="By formula").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Name of the channel").fill("Boost")
        dialog.get_by_label("Formula", exact=True).fill("map - boots")
        dialog.get_by_label("Unit", exact=True).fill("bar")
        expect(dialog.get_by_text("“boots” at place 7: that is no channel.")).to_be_visible()
        expect(dialog.get_by_role("button", name="Keep it for the shop")).to_be_disabled()
        dialog.get_by_label("Formula", exact=True).fill("map - baro")
        expect(dialog.get_by_text("On this log:")).to_be_visible()
        dialog.get_by_role("button", name="Keep it for the shop").click()
        expect(page.locator(".lane-label", has_text="Boost").last).to_be_visible()

        page.get_by_label("Row of lanes").click()
        page.get_by_label("Name for these lanes").fill("mine")
        page.get_by_role("button", name="Keep", exact=True).click()
        page.reload()
        expect(page.locator(".lanes canvas").first).to_be_visible(timeout=LONG)
        choose(page, "Row of lanes", "mine")
        expect(page.locator(".lane-label", has_text="Boost")).to_be_visible()

        page.get_by_role("button", name="Marks").click()
        page.get_by_label("Word at this moment").fill("pump sings")
        page.get_by_label("Word at this moment").press("Enter")
        expect(page.locator(".word-mark", has_text="pump sings")).to_be_visible()

        page.locator(".looks").get_by_text("rows", exact=True).click()
        expect(
            page.get_by_label("Rows", exact=True).get_by_text(re.compile(r"Rows 1 to 200 of \d+"))
        ).to_be_visible()
        page.get_by_role("button", name="Rows after").click()
        expect(page.get_by_text(re.compile(r"Rows 201 to 400 of"))).to_be_visible()
        page.get_by_role("button", name="Take out").click()
        with page.expect_download() as taken:
            page.get_by_role("link", name="These lanes, SVG").click()
        assert taken.value.suggested_filename.endswith(".svg")

    def test_a_story_is_told_and_an_answered_check_moves_its_causes(
        self, signed_in: Page, address: str, loaded: Remote
    ):
        page = signed_in
        log(loaded)
        page.goto(f"{address}/{J}/log")
        story = page.locator(".story").first
        story.locator(".causes summary").click()
        said = story.locator(".causes summary").inner_text()
        story.locator(".check button").first.click()
        expect(page.get_by_role("button", name="Take back")).to_be_visible()
        expect(story.get_by_text("was").first).to_be_visible()
        expect(story.locator(".causes summary")).not_to_have_text(said)
        page.get_by_role("button", name="Take back").click()
        expect(story.locator(".causes summary")).to_have_text(said)
