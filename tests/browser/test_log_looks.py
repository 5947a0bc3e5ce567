"""Looking into a log: figures between two marks, pull against pull, one channel over another."""

from __future__ import annotations

import re

import polars as pl
from playwright.sync_api import Page, expect

from tests.browser.steps import LONG
from tests.conftest import ROOT

LOGS = ROOT / "demo" / "day" / "logs"
BEFORE, AFTER = LOGS / "estate-round-0.csv", LOGS / "estate-round-1.csv"


def drop(page: Page, log) -> None:
    page.get_by_label("Log file").set_input_files(log)
    expect(page.get_by_role("heading", name=log.name)).to_be_visible(timeout=LONG)
    expect(page.locator(".lanes canvas").first).to_be_visible(timeout=LONG)


def figures(page: Page, channel: str) -> list[float]:
    row = page.get_by_label("Between the marks").get_by_role("row").filter(has_text=channel).first
    texts = row.locator("td.r").all_inner_texts()
    return [float(text.replace("−", "-").replace("\u202f", "")) for text in texts]


def between_ends(url: str) -> float:
    """Seconds in view by the address; a log's own where it names no view."""
    found = re.search(r"view=\d+_([\d.]+)_([\d.]+)", url)
    return float(found[2]) - float(found[1]) if found else 1e9


def view(page: Page) -> tuple[float, float]:
    found = re.search(r"view=\d+_([\d.]+)_([\d.]+)", page.url)
    assert found is not None
    return float(found[1]), float(found[2])


def test_between_two_marks_stand_the_figures_of_the_samples_and_two_pulls_lie_over_each_other(
    signed_in: Page, address: str
):
    page = signed_in
    page.set_viewport_size({"width": 1280, "height": 800})
    drop(page, BEFORE)
    page.goto(f"{address}/look")
    drop(page, AFTER)

    page.get_by_role("button", name="Measure").click()
    expect(page.get_by_text("Drag over what you want to measure")).to_be_visible()
    page.locator(".windows button.pull").first.click()
    expect(page.get_by_label("Between the marks")).to_be_visible()
    log = page.evaluate("async id => (await fetch(`/api/logs/${id}`)).json()", page.url.rsplit("/", 1)[1])
    window = next(one for one in log["windows"] if one["kind"] == "pull")
    own = pl.read_csv(AFTER)
    time_s = own["Time (s)"]
    speed = own.filter((time_s >= window["from_s"]) & (time_s <= window["to_s"]))["Engine Speed (rpm)"]
    first, last, change, least, mean, most, scatter, samples = figures(page, "Engine speed")
    assert samples == len(speed.drop_nulls())
    assert abs(least - speed.min()) <= 0.5
    assert abs(most - speed.max()) <= 0.5
    assert abs(mean - speed.mean()) <= 0.5
    assert abs(scatter - speed.std()) <= 0.05
    assert abs(change - (last - first)) <= 1
    page.get_by_role("button", name="Take the marks away").click()
    expect(page.get_by_label("Between the marks")).to_have_count(0)

    page.keyboard.press("+")
    expect(page).to_have_url(re.compile(r"view=\d+_"))
    nearer = view(page)
    page.keyboard.press("ArrowRight")
    page.wait_for_url(lambda url: f"_{nearer[0]:.2f}_" not in url)
    lane = page.locator(".lanes .u-over").first
    lane.hover()
    page.keyboard.down("Control")
    page.mouse.wheel(0, -300)
    page.keyboard.up("Control")
    page.wait_for_url(lambda url: between_ends(url) < nearer[1] - nearer[0] - 1)
    page.reload()
    expect(page.get_by_role("button", name="Whole log")).to_be_visible(timeout=LONG)
    page.get_by_role("button", name="Wider", exact=True).click()
    page.keyboard.press("0")
    expect(page).not_to_have_url(re.compile("view="))

    assert page.get_by_text("trend", exact=True).count() == 0  # a look without a job is no vehicle's
    page.get_by_text("pull against pull").click()
    page.get_by_label("Channels laid over").click()
    page.locator(".ant-select-dropdown:visible .ant-select-item-option-content", has_text="mixture").click()
    pulls = page.get_by_label("Pulls", exact=True)
    of_before = pulls.locator(".pull").filter(has_text=BEFORE.name)
    of_before.nth(0).get_by_text("before", exact=True).click()
    mixture = page.get_by_role("region", name="Mixture", exact=True)
    expect(mixture).to_contain_text("after − before")
    of_before.nth(1).get_by_text("before", exact=True).click()
    expect(mixture).to_contain_text("Beyond the scatter of the stretches.")
    expect(mixture).to_contain_text("after − before −")  # lean under load before, put right by the correction
    for other in range(2):
        of_before.nth(other).get_by_text("out", exact=True).click()
    expect(mixture).to_contain_text("Put a stretch with this channel on each side.")

    page.get_by_text("over another").click()
    cloud = page.get_by_role("img", name="Manifold pressure over Engine speed")
    expect(cloud.locator("canvas")).to_be_visible()
    page.get_by_text("seconds driven").click()
    cells = page.get_by_label("Where it was driven").locator("td:not(:empty)")
    expect(cells.first).to_be_visible()
    driven = sum(float(text) for text in cells.all_inner_texts())
    assert abs(driven - (time_s.max() - time_s.min())) < 0.06 * cells.count() + 1
