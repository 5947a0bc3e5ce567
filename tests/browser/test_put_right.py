"""Jobs that put something right, and what is shut before the kit may be another, by the screens."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.remote import Remote
from tests.browser.steps import go, one, seals, slat, work
from tests.browser.test_before_power_on import ask
from tests.shopwork import INTAKE, answer_all, by_hand, steps

VAN = {
    "name": "Otterby Carrier 2.2",
    "kind": "van",
    "cylinders": 4,
    "stroke": 4,
    "injection": "diesel",
    "induction": "turbo",
    "registration": "OTB 22",
}


def beside(page: Page, line: int, kind: str, name: str) -> None:
    page.get_by_role("button", name="Another part").click()
    page.get_by_role("combobox", name=f"Part {line}, kind").click()
    page.locator(".ant-select-dropdown:visible").get_by_text(kind, exact=True).click()
    page.get_by_label(f"Part {line}, what it is called").fill(name)


def within(lead: Remote, path: str, key: str) -> str:
    """A figure in the middle of a step's limits."""
    reading = steps(lead, path)[key]["reading"]
    return f"{(reading['low'] + reading['high']) / 2:g}"


def test_a_diesel_s_injectors_go_out_and_in_again_with_no_device_and_no_goal(signed_in: Page, address: str):
    page, lead = signed_in, Remote(address)
    number = ask(page, "POST", "jobs/unknown", VAN)["number"]
    path = f"jobs/{number}"
    page.goto(f"{address}/{path}/plan")
    beside(page, 1, "Injectors, out and in again", "cleaned set")
    expect(page.get_by_role("combobox", name="Part 1, opens")).to_be_disabled()
    beside(page, 2, "Temperature sensor", "at the housing")
    page.get_by_role("combobox", name="Part 2, opens").click()
    page.locator(".ant-select-dropdown:visible").get_by_text("opens coolant", exact=True).click()
    page.get_by_role("button", name="Keep the list").click()
    expect(page.get_by_label("Ledger").get_by_text("cleaned set, at the housing")).to_be_visible()
    plate = lead.get(path)["plate"]
    lead.put(f"{path}/intake", {name: plate[name] for name in INTAKE} | {"complaint": "Smokes when cold"})
    answer_all(lead, path)
    by_hand(lead, path, "intake", "plan", "baseline")
    page.goto(f"{address}/{path}/make-safe")
    rail = "Read the rail: high side and feed let down"
    work(page, {"Read the coolant temperature": "25", rail: "20 kPa"})
    go(page, "First start")
    expect(page.get_by_text("Do not start the engine: “The fuel system is open” is a stop.")).to_be_visible()
    go(page, "Fit")
    work(page, {"Measure the injectors' resistance": "90 kΩ"}, last="Measure the injectors' resistance")
    one(page, "90 kΩ")
    expect(page.get_by_label("hold: Measure the injectors' resistance")).to_be_visible()
    one(page, "190 kΩ")
    expect(page.get_by_role("heading", name="New decoupling rings")).to_be_visible()
    work(page, {}, last="Size each tip seal")
    seals(page, 4)
    expect(page.get_by_role("heading", name="Torque the rail bolts")).to_be_visible()
    work(page, {"Torque the rail bolts": within(lead, path, "fit.rail")}, last="Hold-downs, lines")
    work(page, {})
    slat(page, "Fit", "open")
    go(page, "Load")
    work(page, {})
    go(page, "First start")
    idle = within(lead, path, "first-start.idle")
    work(page, {"Measure charging with the engine running": "14.1", "Read the warm idle": idle})
    slat(page, "First start", "open")
    rows = page.get_by_role("button", name="Whole sheet")
    rows.click()
    sheet = page.locator(".ant-drawer")
    expect(sheet.get_by_text("cleaned set: right at two points")).to_be_visible()
    for absent in ("Choose the injectors for the goal", "Stock runs on the drum", "Check that the kit fits"):
        expect(sheet.get_by_text(re.compile(absent))).to_have_count(0)
