"""What goes wrong on the vehicle, on screen: a link lost in a write, and a first start with two faults."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import served
from tests.browser.remote import Remote
from tests.browser.steps import LONG, slat
from tests.shopwork import BOARD, J, to_map

FAULTS = "interrupt_write_at=0.4,pedal_track=0.3"


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return tmp_path_factory.mktemp("faults")


@pytest.fixture(scope="module")
def address(folder):
    """A bench at which the link is lost once, the thermistor is open, and the pedal's second track is out."""
    with served(folder, sample=True, more={"VENTMAP_FAULTS": f"{FAULTS},coolant_open=1"}) as base:
        yield base


def test_a_lost_link_is_recovered_and_two_faults_are_named_before_the_engine_is_started(
    signed_in: Page, address: str, folder: Path
):
    page, api = signed_in, Remote(address)
    to_map(api)
    api.post(f"{J}/saved-images")
    assert api.put(f"{J}/load-board", {"answers": BOARD})["verdict"] == "go"
    page.goto(f"{address}/{J}/load")
    page.get_by_role("button", name=re.compile("^Write map")).click()
    work = page.locator("#work")
    expect(work.get_by_text("The write was cut: nothing is loaded")).to_be_visible(timeout=LONG)
    slat(page, "Load", "stopped")
    ways = page.get_by_role("list", name="Ways on").get_by_role("listitem")
    expect(ways).to_have_count(4)
    expect(ways.first).to_contain_text("Resume where it was cut")
    expect(ways.last).to_contain_text("Recovery at the bench")
    told = api.post(f"{J}/start")
    assert told["field"] == "gate"
    assert "nothing is loaded" in told["sentence"], "whatever was tapped"
    page.get_by_role("button", name="Resume where it was cut").click()
    expect(page.get_by_role("heading", name="Written: now cycle the ignition")).to_be_visible(timeout=LONG)
    page.get_by_role("button", name="Ignition is off").click()
    page.get_by_role("button", name="Ignition is on again").click(timeout=LONG)
    page.get_by_role("button", name="Read, record and clear codes", exact=True).click()
    slat(page, "Load", "open")

    page.goto(f"{address}/{J}/first-start")
    page.get_by_role("button", name="Read the sensors").click()
    coolant = page.get_by_label("stop: Coolant sensor: open circuit")
    expect(coolant).to_be_visible(timeout=LONG)
    slat(page, "First start", "stopped")
    for act in ("Learn", "Start and judge idle"):
        expect(page.get_by_role("button", name=act)).to_be_disabled()

    # The plug is pushed on: the same vehicle, with what is left.
    with served(folder, sample=False, more={"VENTMAP_FAULTS": FAULTS}) as mended:
        page.goto(f"{mended}/{J}/first-start")
        page.get_by_role("button", name="Read the sensors").click()
        expect(page.get_by_label("go: Temperatures after a cold soak")).to_be_visible(timeout=LONG)
        expect(coolant).to_be_hidden()
        page.get_by_role("button", name="Learn").click()
        expect(page.get_by_label(re.compile("^stop: .*racks"))).to_be_visible(timeout=LONG)
        expect(page.get_by_role("button", name="Start and judge idle")).to_be_disabled()
