"""Before the first run after: on a bike that no shelf knows, its runs from another drum."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.remote import Remote
from tests.browser.test_before_power_on import ask

BIKE = {
    "name": "Quarle Thrush 700",
    "kind": "motorcycle",
    "cylinders": 2,
    "stroke": 4,
    "injection": "port",
    "induction": "none",
    "registration": "QT 70",
}
MADE = "gear=5&intake=20%20%C2%B0C&drum=bay%20drum&ramp=inertia"


def test_the_before_the_conditions_and_the_plan_stand_before_a_run_after(signed_in: Page, address: str):
    page, lead = signed_in, Remote(address)
    number = ask(page, "POST", "jobs/unknown", BIKE)["number"]
    page.goto(f"{address}/jobs/{number}/prove")
    expect(
        page.get_by_text("There are no runs before. Without a baseline no gain is claimed.")
    ).to_be_visible()
    expect(page.get_by_role("heading", name="Held against")).to_have_count(0)

    page.goto(f"{address}/jobs/{number}/baseline")
    expect(page.get_by_text("then this says how many it takes")).to_be_visible()
    for kw in (49.5, 50.0, 50.5):
        rows = "".join(f"{rpm},{kw * rpm / 9000:.3f}\n" for rpm in range(3000, 9001, 100))
        run = f"rpm,wheel power (kW)\n{rows}".encode()
        lead.put(f"jobs/{number}/run-files?when=before&name=run.csv&{MADE}", run, "application/octet-stream")
        assert lead.status == 200
    page.reload()
    seen = page.get_by_text("What so many runs see")
    seen.click()
    expect(page.get_by_role("row", name="3 3 ")).to_be_visible()

    page.goto(f"{address}/jobs/{number}/prove")
    expect(page.get_by_role("heading", name="Held against: 3 runs before")).to_be_visible()
    expect(page.get_by_text("50.0 kW", exact=True)).to_be_visible()
    asked = page.locator(".to-match")
    expect(asked).to_contain_text("bay drum")
    expect(asked).to_contain_text("14.0 °C to 26.0 °C")
    rows = "rpm,wheel power (kW)\n" + "".join(
        f"{rpm},{55 * rpm / 9000:.3f}\n" for rpm in range(3000, 9001, 100)
    )
    lead.put(
        f"jobs/{number}/run-files?when=after&name=run.csv&{MADE}", rows.encode(), "application/octet-stream"
    )
    assert lead.status == 200
    page.reload()
    expect(page.get_by_text("Mean gain over the band")).to_be_visible()
    expect(page.get_by_role("heading", name="Held against")).to_have_count(0)
