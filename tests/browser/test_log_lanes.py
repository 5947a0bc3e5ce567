"""A log on its screen: lanes first, findings beside them; one that is touched shows what told it."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.steps import LONG
from tests.conftest import ROOT

LEAN = ROOT / "demo" / "day" / "logs" / "estate-round-0.csv"


def box(page: Page, what: str) -> tuple[float, float]:
    found = page.locator(what).bounding_box()
    assert found is not None
    return found["y"], found["y"] + found["height"]


def test_six_lanes_the_windows_and_the_findings_are_in_view_and_one_touched_shows_its_samples(
    signed_in: Page, address: str
):
    page = signed_in
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_label("Log file").set_input_files(LEAN)
    expect(page.get_by_role("heading", name=LEAN.name)).to_be_visible(timeout=LONG)
    expect(page.locator(".lanes canvas")).to_have_count(6)
    rail = page.get_by_label("Findings")
    worst = rail.locator(".rail-head").first
    expect(worst).to_contain_text("STOP")
    for what in (".lanes", ".rail", ".windows"):
        top, bottom = box(page, what)
        assert 0 <= top < bottom <= 800, (what, top, bottom)

    log = page.evaluate("async id => (await fetch(`/api/logs/${id}`)).json()", page.url.rsplit("/", 1)[1])
    finding = log["findings"][0]
    names = {column["name"]: column["label"] for column in log["columns"]}
    assert finding["channels"]
    assert set(finding["channels"]) <= set(names)
    before = page.locator(".lane-label").all_inner_texts()
    worst.click()
    expect(worst).to_have_attribute("aria-expanded", "true")
    expect(rail.get_by_text("Tell apart:").first).to_be_visible()
    after = page.locator(".lane-label").all_inner_texts()
    assert after[1] == names[finding["channels"][0]]
    assert after != before
    page.get_by_role("button", name="Whole log").click()
    expect(worst).to_have_attribute("aria-expanded", "false")
    page.locator(".windows .mark.stop").first.click()
    expect(worst).to_have_attribute("aria-expanded", "true")

    worst.click()
    expect(worst).to_have_attribute("aria-expanded", "false")
    page.get_by_label("Row of lanes").click()
    page.locator(".ant-select-dropdown:visible .ant-select-item-option-content", has_text="mixture").click()
    expect(page.locator(".lane-label").nth(1)).to_have_text("Mixture")
