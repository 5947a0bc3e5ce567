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

OUT = Path(__file__).parent / "screenshots"


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

        def shot(name: str, path: str, act: Callable[[Page], object] = as_it_is) -> None:
            page.goto(f"{base}{path}")
            page.locator("main h1").first.wait_for()
            page.wait_for_load_state("networkidle")
            act(page)
            page.wait_for_timeout(900)
            page.screenshot(path=OUT / f"{name}.png")
            print(name)

        for name, path, act in VIEWS:
            shot(name, path, act)
        unknown_log(api, shot)
        browser.close()


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


def down(pixels: int) -> Callable[[Page], object]:
    """What lies further down on a slat."""
    return lambda page: page.locator(".work").evaluate(f"e => e.scrollTo(0, {pixels})")


def as_it_is(page: Page) -> object:
    return None


#: Picture, where it is taken on the sample's working day, and what is done there first.
VIEWS: list[tuple[str, str, Callable[[Page], object]]] = [
    ("floor", "/floor", as_it_is),
    ("intake", "/jobs/0003/intake", as_it_is),
    ("plan", "/jobs/0013/plan", as_it_is),
    ("baseline", "/jobs/0005/baseline", down(330)),
    ("make-safe", "/jobs/0004/make-safe", as_it_is),
    ("fit", "/jobs/0012/fit", as_it_is),
    ("base-map", "/jobs/0007/base-map", as_it_is),
    ("map-sheet", "/jobs/0002/base-map", sheet),
    ("load", "/jobs/0006/load", as_it_is),
    ("first-start", "/jobs/0008/first-start", as_it_is),
    ("log", "/jobs/0014/log", as_it_is),
    ("correct", "/jobs/0002/correct", as_it_is),
    ("prove", "/jobs/0005/prove", down(60)),
    ("hand-over", "/jobs/0005/hand-over", as_it_is),
    ("sums", "/sums/feed-line", as_it_is),
    ("shelf", "/shelf/device", as_it_is),
    ("shop", "/shop/rules", as_it_is),
]


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
