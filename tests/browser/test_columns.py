"""A log that nobody knows: its columns said by hand, the next of that source read without a question."""

from __future__ import annotations

from pathlib import Path
from urllib.parse import urlsplit

from playwright.sync_api import Page, expect

from tests.browser.steps import LONG
from tests.conftest import ROOT
from tests.server.test_columns import ODD, odd_log
from tests.server.traces import DBC, trace

LABELS = {
    "rpm": "Engine speed",
    "map": "Manifold pressure",
    "pedal": "Pedal",
    "lambda": "Mixture",
    "coolant": "Coolant",
}


def at(page: Page, path: str) -> str:
    parts = urlsplit(page.url)
    return f"{parts.scheme}://{parts.netloc}/{path}"


def drop(page: Page, file: Path) -> None:
    page.goto(at(page, "look"))
    page.get_by_label("Log file", exact=True).set_input_files(file)


def choose(page: Page, field: str, label: str, find: bool = True) -> None:
    page.get_by_label(field, exact=True).click()
    if find:
        page.get_by_label(field, exact=True).fill(label)
    page.locator(".ant-select-item-option-content", has_text=label).filter(visible=True).last.click()


def test_an_unknown_log_is_named_by_hand_and_the_next_asks_nothing(signed_in: Page, tmp_path: Path):
    page, file = signed_in, tmp_path / "odd bench.csv"
    file.write_bytes(odd_log())
    drop(page, file)
    card = page.locator(".columns-card")
    expect(card).to_contain_text("5 asked", timeout=LONG)
    for channel, column in ODD.items():
        choose(page, f"Channel of {column}", LABELS[channel])
    choose(page, "Unit of Gemisch", "AFR", find=False)
    choose(page, "Induction", "turbo", find=False)
    page.get_by_label("Name of this source").fill("Odd bench logger")
    page.get_by_role("button", name="Read it so").click()
    expect(card).to_contain_text("5 understood", timeout=LONG)
    expect(page.locator("main")).to_contain_text("Lean under load")
    drop(page, file)
    expect(card).to_contain_text("read as “Odd bench logger” was told before", timeout=LONG)
    expect(card).not_to_contain_text("asked")
    page.evaluate((ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text())
    found = page.evaluate("axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']})")
    assert [fault["id"] for fault in found["violations"]] == []
    page.goto(at(page, "shelf/source"))
    expect(page.get_by_role("cell", name="Odd bench logger")).to_be_visible(timeout=LONG)


def test_a_trace_asks_for_its_dbc_once(signed_in: Page, tmp_path: Path):
    page, bus, names = signed_in, tmp_path / "bus.asc", tmp_path / "bench.dbc"
    bus.write_bytes(trace(".asc"))
    names.write_text(DBC)
    drop(page, bus)
    expect(page.get_by_role("button", name="Choose the DBC file")).to_be_visible(timeout=LONG)
    page.get_by_label("DBC file", exact=True).set_input_files(names)
    expect(page.locator(".columns-card")).to_contain_text("3 understood", timeout=LONG)
    # Looked at on the shelf and saved again, it is still the file that it was.
    page.goto(at(page, "shelf/source"))
    page.get_by_role("row", name="bench (DBC)").get_by_role("button", name="Edit").click()
    page.get_by_label("name", exact=True).fill("bench bus (DBC)")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("row", name="bench bus (DBC)")).to_be_visible(timeout=LONG)
    drop(page, bus)
    expect(page.locator(".columns-card")).to_contain_text("3 understood", timeout=LONG)


def test_the_guide_opens_where_it_is_asked_and_is_searched(signed_in: Page):
    page = signed_in
    page.goto(at(page, "jobs/0003/intake"))
    page.get_by_role("link", name="? Guide").first.click()
    expect(page.get_by_role("heading", name="Intake")).to_be_visible()
    page.get_by_label("Find in the guide").fill("dead time")
    expect(page.locator(".guide section").first).to_contain_text("dead", ignore_case=True)
    page.get_by_label("Find in the guide").fill("zebra")
    expect(page.locator(".guide")).to_contain_text("Nothing in the guide says “zebra”")
    page.goto(at(page, "guide/log"))
    page.get_by_role("button", name="overrun").first.click()
    expect(page.locator(".ant-popover")).to_contain_text("rolling with the foot off")
