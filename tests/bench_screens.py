"""What a person waits for in the browser; prints rows for docs/performance.md. Run by bin/bench, never by the
tests.
"""

from __future__ import annotations

import gzip
import statistics
import sys
import time
from pathlib import Path

from playwright.sync_api import sync_playwright

from tests.bench_sheet import sheet_rows
from tests.conftest import ROOT

base = sys.argv[1]


def row(what: str, measured: str, wanted: str) -> None:
    print(f"| {what} | {measured} | {wanted} |")


with sync_playwright() as playwright:
    browser = playwright.chromium.launch(
        executable_path="/usr/bin/chromium",
        args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
    )
    times, scripts = [], set()
    for _ in range(3):
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.on(
            "response",
            lambda answer: (
                scripts.add(answer.url.split("/static/")[1]) if answer.url.endswith(".js") else None
            ),
        )
        began = time.perf_counter()
        page.goto(f"{base}/sign-in")
        page.get_by_label("Pass phrase").wait_for()
        times.append(time.perf_counter() - began)
    row("first screen, cold browser", f"{statistics.median(times):.2f} s", "≤ 1.5 s")
    packed = sum(len(gzip.compress((ROOT / "web" / "dist" / Path(name)).read_bytes())) for name in scripts)
    row("first JavaScript, gzip", f"{packed / 1000:.0f} kB", "≤ 400 kB")
    page.get_by_label("Name").fill("lead")
    page.get_by_label("Pass phrase").fill("sorrel pass 1450")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/floor")
    page.goto(f"{base}/jobs/0001/intake")
    page.get_by_role("heading", name="Who, which vehicle").wait_for()
    page.wait_for_timeout(3000)  # screens are fetched while nobody is in a hurry
    slats = page.evaluate("""async () => {
          const taken = {};
          for (let round = 0; round < 6; round++)
            for (const link of document.querySelectorAll('.slats a')) {
              const began = performance.now();
              link.click();
              while (!document.title.includes(link.innerText.trim())
                || !document.querySelector('.work')?.children.length)
                await new Promise(requestAnimationFrame);
              await new Promise(requestAnimationFrame);
              if (round) (taken[link.innerText.trim()] ??= []).push(performance.now() - began);
              await new Promise((done) => setTimeout(done, 400));
            }
          return taken;
        }""")
    # Each slat five times: the middle one is the screen's, the slowest is the machine's.
    middle = {name: statistics.median(times) for name, times in slats.items()}
    slowest = max(middle, key=lambda name: middle[name])
    row(
        "slat to slat, middle of five",
        f"{statistics.median(middle.values()):.0f} ms, slowest slat {slowest} {middle[slowest]:.0f} ms",
        "≤ 150 ms",
    )
    page.goto(f"{base}/jobs/0004/intake")
    page.get_by_role("button", name="Dry", exact=True).wait_for()
    acks = page.evaluate("""async () => {
          const taken = [];
          for (const [key, body] of [['plan.parts', {}], ['intake.leaks', {answer: 'dry'}],
              ['intake.fluids', {answer: 'full'}], ['make-safe.coolant', {reading: '30'}]]) {
            const began = performance.now();
            await fetch('/api/jobs/0004/steps/' + key + '/done', {method: 'POST', body: JSON.stringify(body),
              headers: {'Content-Type': 'application/json',
                'X-CSRFToken': document.cookie.match(/csrftoken=([^;]*)/)[1]}});
            taken.push(performance.now() - began);
          }
          return taken;
        }""")
    row("a step acknowledged", f"{statistics.median(acks):.0f} ms, slowest {max(acks):.0f} ms", "≤ 150 ms")
    sheet_rows(page, base, row)
    browser.close()
