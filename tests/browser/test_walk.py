"""The whole job in Chromium against the real server: intake to a printed report, by the screens alone."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.steps import LONG, go, one, outputs, slat, work
from tests.conftest import ROOT


def load(page: Page):
    go(page, "Load")
    save = page.get_by_role("button", name="Read it twice and save")
    write = page.get_by_role("button", name=re.compile("^Write map"))
    expect(write).to_be_visible()
    # The board of this very map: a fresh one has nothing measured yet.
    expect(page.get_by_text("not measured")).to_be_visible()
    if save.count():
        save.click()
        expect(save).to_have_count(0, timeout=LONG)
    page.get_by_role("button", name="Measure and read identity").click()
    for answer in ("all off", "stays awake", "in park, feet off", "mains, no sleep", "seated"):
        expect(page.get_by_role("radio", name=answer, exact=True)).to_be_enabled()
        page.get_by_text(answer, exact=True).click()
        expect(page.get_by_role("radio", name=answer, exact=True)).to_be_checked()
    expect(write).to_be_enabled()
    write.click()
    page.get_by_role("button", name="Ignition is off").click(timeout=LONG)
    page.get_by_role("button", name="Ignition is on again").click(timeout=LONG)
    page.get_by_role("button", name="Read, record and clear codes", exact=True).click()
    slat(page, "Load", "open")


def capture(page: Page, name: str):
    go(page, "Log")
    page.get_by_role("button", name="Capture unwatched").click()
    expect(page.get_by_role("heading", name=name)).to_be_visible(timeout=LONG)


def test_the_whole_job(signed_in: Page, address: str):
    page = signed_in
    page.get_by_role("link", name="Go on").first.click()
    expect(page).to_have_title("0001 Intake · Vent Map")

    vin = page.get_by_label("VIN, from the plate")
    right = vin.input_value()
    vin.fill(right[:-1])
    page.get_by_role("button", name="Save intake").click()
    expect(page.get_by_label("hold: Vehicle identification number")).to_be_visible()
    expect(page.get_by_text("A VIN has 17 characters").first).to_be_visible()
    vin.fill(right)
    page.get_by_role("button", name="Save intake").click()
    expect(page.get_by_label("go: Vehicle identification number")).to_be_visible()
    page.get_by_role("button", name="2 pins, grey").click()
    page.get_by_role("button", name="black", exact=True).click()
    page.get_by_role("button", name="This is it").click()
    for seen in ("Dry", "Full and clean", "Even, light tan"):
        page.get_by_role("button", name=seen, exact=True).click()
    page.get_by_label("battery at rest").fill("12600 mV")
    expect(page.get_by_text("= 12.6 V")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Enter, next step")).click()
    slat(page, "Intake", "open")

    page.keyboard.press("]")
    page.get_by_role("row", name=re.compile("F33")).get_by_role("button", name="Choose").click()
    page.get_by_role("button", name=re.compile("^Done, next step")).click()
    slat(page, "Plan", "open")

    page.keyboard.press("n")
    page.get_by_role("button", name="Read identity and codes").click()
    expect(page.get_by_role("cell", name="CV20-0417")).to_be_visible()
    page.get_by_role("button", name="Capture it stock").click()
    expect(page.get_by_role("heading", name="Stock log: idle, cruise and a pull, done")).to_be_visible(
        timeout=LONG
    )
    for number in (1, 2, 3):
        page.get_by_role("button", name=f"Make run {number}").click()
        expect(page.get_by_role("heading", name=f"Drum runs before: {number} of 3")).to_be_visible(
            timeout=LONG
        )
    slat(page, "Baseline", "held")
    page.get_by_role("button", name="Overrule with a reason").click()
    page.get_by_label("Reason").fill("an old intake leak, found and closed at Intake")
    page.get_by_role("button", name="Overrule", exact=True).click()
    slat(page, "Baseline", "open")

    go(page, "Make safe")
    # The engine runs for the last time before it cools: what is read then is what is opened.
    expect(page.get_by_role("heading", name="Pull the pump fuse")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Done, next step")).click()
    expect(page.get_by_text("Hot coolant and exhaust burn.")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Start the wait")).click()
    expect(page.locator(".now").get_by_text("Let the engine cool")).to_have_count(2)
    page.reload()
    expect(page.locator(".now .time")).to_be_visible()
    page.get_by_role("link", name="Sums").click()
    running = page.locator(".now").get_by_role("button", name=re.compile("^0001 Let the engine cool"))
    expect(running).to_be_visible()
    running.click()
    expect(page).to_have_title(re.compile("0001 Make safe"))
    page.get_by_role("button", name="End it early").click()
    expect(page.get_by_text("Its time has not passed.")).to_be_visible()
    page.get_by_role("button", name="It is so, go on").click()
    page.get_by_label("coolant", exact=True).fill("55")
    page.get_by_role("button", name=re.compile("^Enter, next step")).click()
    slat(page, "Make safe", "stopped")
    page.get_by_label("coolant", exact=True).fill("31")
    page.get_by_role("button", name=re.compile("^Enter, next step")).click()
    expect(page.get_by_role("heading", name="Crank again until it no longer fires")).to_be_visible()
    work(page, {"Crank again until it no longer fires": "5 kPa"})
    slat(page, "Make safe", "open")

    go(page, "Fit")
    work(page, {"Measure the injectors' resistance": "12.3", "Torque the rail bolts": "9"})
    slat(page, "Fit", "open")

    go(page, "Base map")
    page.get_by_text(re.compile(r"^\d+ that do not fit")).click()
    expect(page.get_by_text("needs 98 RON; the tank holds 95").first).to_be_visible()
    page.get_by_role("button", name="Start from this").first.click()
    page.get_by_role("button", name="Fill from the injector's sheet").click()
    page.get_by_label("Injector static flow").fill("330")
    page.get_by_label("dead time at 14 V, 300 kPa").fill("6.00")
    page.get_by_role("button", name="Set these figures").click()
    expect(page.get_by_text("Dead time out of range")).to_be_visible()
    page.get_by_label("dead time at 14 V, 300 kPa").fill("0.600")
    page.get_by_role("button", name="Set these figures").click()
    slat(page, "Base map", "open")

    load(page)
    go(page, "First start")
    for name in ("Read the sensors", "Learn"):
        page.get_by_role("button", name=name).click()
    outputs(page, 4)
    page.get_by_role("button", name="It builds").click(timeout=LONG)
    expect(page.get_by_role("button", name="Judge the grounds")).to_be_visible(timeout=LONG)
    for field in page.get_by_label(re.compile("cranking$")).all():
        field.fill("0.1 V")
    page.get_by_role("button", name="Judge the grounds").click()
    page.get_by_role("button", name="Start and judge idle").click()
    page.get_by_role("button", name=re.compile("^Done, next step")).click(timeout=LONG)
    slat(page, "First start", "held")

    capture(page, "log 1")
    expect(page.get_by_text("Lean under load").first).to_be_visible()
    slat(page, "Log", "stopped")
    go(page, "Correct")
    page.get_by_role("button", name="Enter this judgement").click()
    slat(page, "Correct", "held")
    # A tenth of the fuel at most a round: how many it takes hangs on what was driven.
    for number in (1, 2, 3, 4):
        page.get_by_role("button", name=re.compile(f"^Make map r{number} with")).click()
        load(page)
        go(page, "First start")
        slat(page, "First start", "ajar")
        page.get_by_role("button", name="Start and judge idle", exact=True).click()
        slat(page, "First start", "open")
        capture(page, f"log {number + 1}")
        go(page, "Correct")
        with page.expect_response(re.compile("/mixture")):
            page.get_by_role("button", name="Enter this judgement").click()
        slats = page.request.get(f"{address}/api/jobs/0001").json()["slats"]
        if next(one for one in slats if one["key"] == "correct")["state"] == "open":
            break
    slat(page, "Log", "open")
    slat(page, "Correct", "open")

    go(page, "Prove")
    for number in (1, 2, 3):
        page.get_by_role("button", name=f"Make run {number}").click()
        expect(page.get_by_role("heading", name=f"Drum runs after: {number} of 3")).to_be_visible(
            timeout=LONG
        )
    page.get_by_role("button", name="Enter this result").click()
    expect(page.get_by_label("go: The gain is real")).to_be_visible()

    go(page, "Hand over")
    expect(page.get_by_text("Runs out of breath above 5000 rpm")).to_be_visible()
    page.get_by_role("radiogroup", name=re.compile("^Runs out of breath")).get_by_text("Gone").click()
    expect(page.get_by_role("heading", name="See what leaves with it")).to_be_visible()
    one(page)
    expect(page.get_by_role("button", name=re.compile("^Done, next step"))).to_be_visible()
    with page.expect_download(timeout=LONG) as printed:
        page.get_by_role("button", name="Print as PDF").click()
    assert Path(printed.value.path()).read_bytes()[:5] == b"%PDF-"
    page.get_by_role("button", name=re.compile("^Done, next step")).click()
    expect(page.get_by_text("Every step is done.")).to_be_visible()


def test_any_log_without_a_job_and_one_that_is_none(signed_in: Page, address: str, tmp_path):
    from tests.core.drives import as_csv, drive

    page = signed_in
    log, mask = drive()
    log.channels["knock"][mask["pull"]] = 7
    names = {
        "time": "Time (s)",
        "rpm": "RPM",
        "pedal": "APP",
        "map": "MAP (kPa)",
        "lambda": "Lambda",
        "lambda_target": "Lambda Target",
        "knock": "KR",
    }
    file = tmp_path / "road.csv"
    file.write_text(as_csv(log, names))
    wrong = tmp_path / "letter.csv"
    wrong.write_text("Dear sir,\nthank you, for the visit\n")
    page.get_by_label("Log file").set_input_files(wrong)
    expect(page.get_by_text("letter.csv: This is no datalog")).to_be_visible()
    page.get_by_label("Log file").set_input_files(file)
    expect(page.get_by_label("stop: Knock under load")).to_be_visible(timeout=LONG)
    page.get_by_label("stop: Knock under load").get_by_role("button").click()
    expect(page.get_by_role("button", name="Whole log")).to_be_visible()
    expect(page.locator(".lanes canvas").first).to_be_visible()


SCREENS = (
    "/floor",
    "/jobs/0002/intake",
    "/jobs/0002/plan",
    "/jobs/0002/baseline",
    "/jobs/0002/make-safe",
    "/jobs/0002/fit",
    "/jobs/0003/fit",
    "/jobs/0003/first-start",
    "/jobs/0002/log",
    "/jobs/0004/prove",
    "/jobs/0005/hand-over",
    "/sums",
    "/sums/feed-line",
    "/sums/what-is-wrong",
    "/shelf/device",
    "/shop/rules",
    "/shop/people",
    "/shop/me",
    "/look",
)


@pytest.mark.parametrize("dark", [False, True], ids=["day", "night"])
def test_screens_are_accessible_and_nothing_overflows(signed_in: Page, address: str, dark: bool):
    page = signed_in
    axe = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text()
    page.evaluate(f"localStorage.setItem('ventmap.night', '{int(dark)}')")
    wrong = {}
    for path in SCREENS:
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(f"{address}{path}")
        expect(page.locator("main h1").first).to_be_visible()
        page.evaluate(axe)
        found = page.evaluate(
            "axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'],"
            " rules: {'label-content-name-mismatch': {enabled: true}}})"
            ".then(r => r.violations.map(v => v.id + ': ' +"
            " v.nodes.map(n => n.target).join(' | ')))"
        )
        page.set_viewport_size({"width": 820, "height": 1180})
        if not page.evaluate("document.documentElement.scrollWidth <= innerWidth"):
            found.append("wider than its window")
        if found:
            wrong[path] = found
    assert wrong == {}
