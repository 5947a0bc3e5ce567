"""What a person waits for on a map's sheet of 32 × 32 cells; rows for docs/performance.md, by bin/bench."""

from __future__ import annotations

import statistics
from collections.abc import Callable

from playwright.sync_api import Page

SEND = """async () => {
    const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
    const headers = {"Content-Type": "application/json", "X-CSRFToken": token};
    const send = (method, path, body) =>
        fetch(`/api/${path}`, {method, headers, body: JSON.stringify(body)}).then((r) => r.json());
    await send("POST", "jobs", {vehicle: "hobcroft-trail-1000", registration: "SRP 32", owner: "Ada"});
    const number = (await fetch("/api/jobs").then((r) => r.json())).at(-1).number;
    await send("PUT", `jobs/${number}/kit`, {devices: ["ardle-swap"]});
    const axis = Array.from({length: 32}, (_, n) => n + 1);
    const rows = axis.map((y) => [y * 5, ...axis.map((x) => 50 + ((x * y) % 40))].join("\\t"));
    const text = ["\\t" + axis.map((x) => x * 250).join("\\t"), ...rows].join("\\n");
    await send("POST", `jobs/${number}/borrowed/ardle-swap`, {text, kind: "ve"});
    return number;
}"""
#: Until the cell says what it is to say and is painted.
PAINTED = """async ([cell, said]) => {
    const began = window.began, found = document.getElementById(cell);
    while (found.textContent.trim() !== said) await new Promise(requestAnimationFrame);
    await new Promise(requestAnimationFrame);
    return performance.now() - began;
}"""


def middle(times: list[float]) -> str:
    return f"{statistics.median(times):.0f} ms, slowest {max(times):.0f} ms"


def sheet_rows(page: Page, base: str, row: Callable[[str, str, str], None]) -> None:
    """Edit to paint, paste to paint, and a table against another version."""
    number = page.evaluate(SEND)
    page.goto(f"{base}/jobs/{number}/base-map")
    page.locator("#cell-31-31").wait_for()
    page.evaluate("""() => document.addEventListener('keydown', (event) => {
        if (event.key === 'Enter') window.began = performance.now();
    }, true)""")
    edits = []
    for n in range(8):
        page.locator(f"#cell-{n}-{n}").click()
        page.keyboard.type(f"{60 + n}.5")
        page.keyboard.press("Enter")
        edits.append(page.evaluate(PAINTED, [f"cell-{n}-{n}", f"{60 + n}.5"]))
    row(
        "32 × 32 sheet, edit to paint",
        middle(edits),
        "≤ 50 ms",
    )
    pastes = []
    for n in range(4):
        page.locator("#cell-31-0").click()
        page.evaluate(
            """(value) => {
            const data = new DataTransfer();
            data.setData('text/plain', Array(32).fill(Array(32).fill(value).join('\\t')).join('\\n'));
            window.began = performance.now();
            document.querySelector('[role=grid]').dispatchEvent(
                new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}));
        }""",
            f"{70 + n}.5",
        )
        pastes.append(page.evaluate(PAINTED, ["cell-0-31", f"{70 + n}.5"]))
    row(
        "paste of 1 024 cells",
        middle(pastes),
        "≤ 150 ms",
    )
    took = page.evaluate(
        """async (number) => {
        const sheet = await fetch(`/api/jobs/${number}/sheets/ardle-swap`).then((r) => r.json());
        const taken = [], asked = `table=ve&version=${sheet.versions[0].id}`;
        for (let n = 0; n < 8; n++) {
            const began = performance.now();
            await fetch(`/api/jobs/${number}/sheets/ardle-swap/difference?${asked}`)
                .then((r) => r.json());
            taken.push(performance.now() - began);
        }
        return taken;
    }""",
        number,
    )
    row("a table against another version", f"{statistics.median(took):.0f} ms", "≤ 100 ms")
