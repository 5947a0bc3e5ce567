"""Makes docs/screenshots from a fresh sample shop that is served at the address given. Run by
bin/pictures.
"""

from __future__ import annotations

import io
import re
import sys
from collections.abc import Callable
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, sync_playwright

from tests.browser.remote import Remote
from tests.shopwork import BOARD, J, by_hand, intake, log, to_map, until, write

OUT = Path(__file__).parent / "screenshots"


def steps_before(api: Remote, job: str, last: str) -> None:
    """Every step by hand up to the one named, which stays open."""
    for stage in ("intake", "make-safe", "fit"):
        by_hand_until(api, job, stage, last)


def by_hand_until(api: Remote, job: str, stage: str, last: str) -> None:
    from tests.shopwork import do

    for step in api.get(job)["steps"]:
        if step["key"] == last:
            return
        if step["stage"] == stage and step["evidence"] != "auto" and not step["done"]:
            do(api, job, step)


def main(base: str) -> None:
    api = Remote(base)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium",
            args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
        )
        page = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB").new_page()
        page.goto(f"{base}/sign-in")
        page.get_by_label("Name").fill("lead")
        page.get_by_label("Pass phrase").fill("sorrel pass 1450")
        page.get_by_role("button", name="Sign in").click()
        page.wait_for_url("**/floor")

        def shot(name: str, path: str, act: Callable[[Page], object] = lambda page: None) -> None:
            page.goto(f"{base}{path}")
            page.locator("main h1").first.wait_for()
            page.wait_for_load_state("networkidle")
            act(page)
            page.wait_for_timeout(900)
            page.screenshot(path=OUT / f"{name}.png")
            print(name)

        corvane(api, shot)
        others(api, shot)
        unknown_log(api, shot)
        shot("floor", "/floor")
        browser.close()


def corvane(api: Remote, shot: Callable[..., None]) -> None:
    """The whole loop of job 0001, with a picture at each slat."""
    to_map(api)
    api.post(f"{J}/baseline")
    api.post(f"{J}/captures", {"watched": False, "baseline": True})
    until(lambda: api.get(f"{J}/captures/current"), lambda c: c["state"] != "running")
    for _ in range(3):
        api.post(f"{J}/runs", {"when": "before"})
    shot("baseline", f"/{J}/baseline", lambda page: page.locator(".work").evaluate("e => e.scrollTo(0, 330)"))
    api.post(f"{J}/saved-images")
    api.put(f"{J}/load-board", {"answers": {**BOARD, "cable_seated": None}})
    shot("load", f"/{J}/load")
    write(api)
    for act in ("key-on", "pedal", "start"):
        api.post(f"{J}/{act}")
    shot("first-start", f"/{J}/first-start")
    by_hand(api, J, "first-start")
    first = log(api)
    shot("log", f"/{J}/log")
    shot("correct", f"/{J}/correct", lambda page: page.locator(".cell.changed").nth(9).click())
    api.post(f"{J}/mixture?log_id={first['id']}")
    api.post(f"{J}/rounds", {"log_id": first["id"]})
    write(api)
    api.post(f"{J}/start")
    second = log(api)
    api.post(f"{J}/mixture?log_id={second['id']}")
    shot("map-sheet", f"/{J}/base-map", sheet)
    for _ in range(3):
        api.post(f"{J}/runs", {"when": "after"})
    api.post(f"{J}/comparison")
    shot("prove", f"/{J}/prove", lambda page: page.locator(".work").evaluate("e => e.scrollTo(0, 60)"))
    shot("hand-over", f"/{J}/hand-over")


def sheet(page: Page) -> None:
    """The sheet of a map, a range chosen, a slice below."""
    page.locator(".ant-segmented-item", has_text=re.compile("^Sheet$")).click()
    page.get_by_role("grid").wait_for()
    page.locator("#cell-4-4").click()
    page.locator("#cell-6-7").click(modifiers=["Shift"])
    page.locator(".ant-segmented-item", has_text=re.compile("^Slice$")).click()
    page.locator(".drawn").wait_for()
    page.locator(".work").evaluate("e => e.scrollTo(0, 150)")


def unknown_log(api: Remote, shot: Callable[..., None]) -> None:
    """A log of which some columns are not clear."""
    text = (Path(__file__).parents[1] / "demo" / "logs" / "long-names.csv").read_text()
    for known, odd in (("Intake Manifold Absolute Pressure", "Pressure 2"), ("Engine Coolant", "Motor")):
        text = text.replace(known, odd, 1)
    told = api.call("PUT", "logs?name=bench%20ride.csv", text.encode(), "application/octet-stream")
    shot("columns", f"/look/{told['id']}")


def others(api: Remote, shot: Callable[..., None]) -> None:
    """Before power-on, on the other jobs."""
    shot("intake", "/jobs/0003/intake")
    intake(api, "jobs/0003")
    api.put("jobs/0003/vehicle", {"vehicle": "ostrel-merrin-16t", "answers": {"charge pipe": "steel"}})
    shot("plan", "/jobs/0003/plan")
    shot("base-map", "/jobs/0003/base-map")
    api.post("jobs/0003/steps/make-safe.cool/done", {})
    shot("make-safe", "/jobs/0003/make-safe")
    steps_before(api, "jobs/0003", "fit.common")
    readings = [
        {"a": ["1", "B"], "b": [plug, pin], "beeps": True}
        for plug, pin in (("2", "A"), ("3", "B"), ("4", "B"))
    ]
    api.put("jobs/0003/steps/fit.common/grid", {"data": {"readings": readings[:2]}, "revision": 0})
    shot("fit", "/jobs/0003/fit")
    api.post("jobs/0005/steps/intake.leaks/done", {"answer": "weeps"})
    shot("sums", "/sums/feed-line")
    shot("shelf", "/shelf/device")
    shot("shop", "/shop/rules")


def first_hour(base: str) -> None:
    """An own shop on an empty folder: first start, a vehicle nobody knows, its Intake, a step that asks."""
    frames: list[bytes] = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB").new_page()
        page.goto(base)
        shop = {
            "shop": "Bench Road Motors",
            "altitude": "320 m",
            "first": "Ann",
            "last": "Lee",
            "username": "ann",
            "phrase": "four words of my own",
        }
        for name, text in shop.items():
            page.locator(f"input[name={name}]").fill(text)
        frames.append(page.screenshot())
        page.get_by_role("button", name="Open the shop with the starter shelf").click()
        page.get_by_role("button", name="Open a job").first.click()
        page.get_by_label("What is it called?").fill("Kestrel Trail 690")
        for group, option in (
            ("Kind of vehicle", "motorcycle"),
            ("Cylinders", "1"),
            ("Stroke", "four-stroke"),
            ("Fuel and injection", "petrol, port"),
            ("Induction", "none"),
        ):
            page.get_by_role("group", name=group).get_by_text(option, exact=True).click()
        frames.append(page.screenshot())
        page.get_by_role("button", name="Open the job").click()
        page.get_by_role("button", name="Pass over").click()
        page.wait_for_timeout(600)
        frames.append(page.screenshot())
        page.goto(page.url.replace("/intake", "/make-safe"))
        page.get_by_text("Is there high voltage on board?").wait_for()
        page.wait_for_timeout(900)
        frames.append(page.screenshot())
        browser.close()
    pictures = [Image.open(io.BytesIO(frame)).resize((1024, 640)) for frame in frames]
    whole = Image.new("RGB", (1024, 640 * len(pictures) + 16 * (len(pictures) - 1)), "#D8D2C4")
    for n, picture in enumerate(pictures):
        whole.paste(picture, (0, n * 656))
    whole.save(OUT / "first-hour.png", optimize=True)
    print("first-hour")


if __name__ == "__main__":
    main(sys.argv[1])
    first_hour(sys.argv[2])
