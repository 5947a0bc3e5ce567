"""Each of the eleven kinds of device, from its map to a judged idle, by the screens that it has."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.remote import Remote
from tests.browser.steps import LONG, one, outputs, slat, timing, title
from tests.conftest import by_night
from tests.shopwork import DEAD, answer_all, by_hand, intake, write

#: Job → kinds of its devices, in the order of its kit.
BY_HAND = {
    "0003": ("sensor piggyback", "injector piggyback"),
    "0004": ("laptop flasher with a remote tuner", "injector driver module"),
    "0005": ("inline fuel and ignition controller",),
    "0007": ("handheld or phone flasher",),
    "0008": ("swapped computer",),
    "0009": ("body-network module",),
}
FROM_HERE = {
    "0001": "plug-in ECU",
    "0006": "board in the stock case",
    "0010": "standalone on an adapted harness",
}


def to_load(api: Remote, number: str) -> str:
    """A job as far as its map, with everything before it done."""
    job = f"jobs/{number}"
    if api.get(job)["plate"]["petrol"]:
        intake(api, job)
    answer_all(api, job)
    by_hand(api, job, "intake", "plan", "make-safe", "fit")
    return job


def set_at_the_device(page: Page):
    """Screen after screen, as it says what must show."""
    now, place = title(page), page.locator(".press .soft").first
    shows = page.locator(".press").get_by_role(
        "button", name=re.compile("^(It shows (?!something)|Done$|It was off that long)")
    )
    while title(page) == now:
        was = place.inner_text()
        shows.click()
        # The next screen, or the next step.
        page.wait_for_function(
            """([was, now]) => document.querySelector('.work h1').innerText !== now
                || ![was, undefined].includes(document.querySelector('.press .soft')?.innerText)""",
            arg=[was, now],
        )


#: Walked by the screens every day: two boxes on one engine, a tuner's file with its driver, a standalone. The
#: others are by API in `tests/server`, and by the screens at night.
BY_DAY = ("0003", "0004", "0010")


def cases(jobs: dict[str, Any]) -> list[Any]:
    named = [
        (number, ", ".join([kinds] if isinstance(kinds, str) else kinds)) for number, kinds in jobs.items()
    ]
    return [
        pytest.param(number, id=name) if number in BY_DAY else by_night(number, id=name)
        for number, name in named
    ]


@pytest.mark.parametrize("number", cases(BY_HAND))
def test_set_at_the_device_read_back_and_started_by_hand(signed_in: Page, address: str, number: str):
    page, api = signed_in, Remote(address)
    job = to_load(api, number)
    by_hand(api, job, "base-map")
    page.goto(f"{address}/{job}/base-map")
    expect(page.get_by_role("heading", name=re.compile("map", re.IGNORECASE)).first).to_be_visible()
    page.goto(f"{address}/{job}/load")
    devices = 0
    while "all done" not in (now := title(page)):
        if now.startswith("Set it and read it back"):
            set_at_the_device(page)
            devices += 1
        else:
            one(page, "12.8 V" if "battery" in now else "")
        expect(page.locator(".work h1").first).not_to_have_text(now)
    assert devices == len(BY_HAND[number])
    slat(page, "Load", "open")
    wanted = {step["title"]: step["reading"] for step in api.get(job)["steps"] if step["reading"]}
    readings = {
        title: f"{(asked['low'] + asked['high']) / 2:g} {asked['unit']}"
        for title, asked in wanted.items()
        if asked["low"] is not None and asked["high"] is not None
    }
    here = api.get(job)["plate"]["runs_here"]
    page.goto(f"{address}/{job}/first-start")
    while "all done" not in (now := title(page)):
        if here and now == "Read the warm idle":
            # The stock computer runs this engine, the box beside it: read, and entered by a person.
            page.get_by_role("button", name="Read it over the link").click()
            expect(page.get_by_label("warm idle")).to_have_value(re.compile(" rpm$"), timeout=LONG)
            page.get_by_role("button", name="Enter, next step").click()
        else:
            one(page, readings.get(now, ""))
        expect(page.locator(".work h1").first).not_to_have_text(now)
    expect(page.get_by_label("go: Read the warm idle")).to_be_visible()
    slat(page, "First start", "open")


@pytest.mark.parametrize("number", cases(FROM_HERE))
def test_written_and_started_from_here(signed_in: Page, address: str, number: str):
    page, api = signed_in, Remote(address)
    job = f"jobs/{number}"
    if number == "0001":
        intake(api, job)
        kind = {"vehicle": "corvane-estate-20", "answers": {"computer plug": "94 pins", "oil cap": "black"}}
        api.put(f"{job}/vehicle", kind)
        api.put(f"{job}/plan", {"injectors": "fenwright-330"})
    to_load(api, number)
    if number == "0001":
        api.post(f"{job}/maps", {"key": api.get(f"{job}/base-map")["candidates"][0]["key"]})
    sheet = api.get(f"{job}/base-map")["sheet"]
    made = {"rated": f"{sheet['rated_kpa']} kPa", "pressure": f"{sheet['pressure_kpa']} kPa"}
    dead = sheet["dead_time"] or DEAD
    api.put(f"{job}/figures", {"flow": str(sheet["flow"]), **made, "dead_time": dead})
    assert api.status == 200
    write(api, job)
    page.goto(f"{address}/{job}/first-start")
    for act, judged in (("Read the sensors", "Manifold pressure"), ("Learn", "Pedal|Throttle")):
        page.get_by_role("button", name=act, exact=True).click()
        expect(page.get_by_label(re.compile(f"^go: .*({judged})")).first).to_be_visible(timeout=LONG)
    standalone = FROM_HERE[number].startswith("standalone")
    if standalone:
        outputs(page, 4)
        expect(page.get_by_label("go: Try every output before it turns")).to_be_visible(timeout=LONG)
    by_hand(api, job, "first-start", before="first-start.start")
    page.get_by_role("button", name="Start and judge idle").click()
    expect(page.get_by_label(re.compile("^go: Idle"))).to_be_visible(timeout=LONG)
    if standalone:
        by_hand(api, job, "first-start", before="first-start.base_timing")
        timing(page)
