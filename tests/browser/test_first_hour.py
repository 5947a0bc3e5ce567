"""A real shop's first hour: an empty folder, a vehicle and a device no shelf knows, Wi-Fi that goes away."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import served
from tests.browser.remote import Remote
from tests.browser.steps import go
from tests.conftest import by_night
from tests.shopwork import answer, answer_all, picture

SHOP = {
    "shop": "Bench Road Motors",
    "altitude": "320 m",
    "first": "Ann",
    "last": "Lee",
    "username": "lead",
    "phrase": "sorrel pass 1450",
}
KINDS = {
    "car": ("Wrenfield Saloon 1.8", "car", "4", "petrol, port", "none", "plug-in ECU"),
    "diesel": ("Otterby Hauler 2.2", "pickup", "4", "diesel", "turbo", "injector driver module"),
    "bike": (
        "Kestrel Trail 690",
        "motorcycle",
        "1",
        "petrol, port",
        "none",
        "inline fuel and ignition controller",
    ),
    "boat": ("Tern Runabout 1100", "watercraft", "3", "petrol, port", "none", "swapped computer"),
}


class Hand:
    """What a person does with a page: fields that are filled, and taps."""

    def __init__(self, page: Page) -> None:
        self.page, self.fields, self.taps = page, 0, 0

    def fill(self, field, text: str) -> None:
        field.fill(text)
        self.fields += 1

    def tap(self, target) -> None:
        target.click()
        self.taps += 1

    def button(self, name: str | re.Pattern[str]) -> None:
        self.tap(self.page.get_by_role("button", name=name).first)

    def choose(self, group: str, option: str) -> None:
        self.tap(self.page.get_by_role("group", name=group).get_by_text(option, exact=True))


@pytest.fixture(scope="module")
def browser_context_args(browser_context_args):
    """A tablet that may be away."""
    return {**browser_context_args, "service_workers": "allow"}


@pytest.fixture(scope="module")
def base(tmp_path_factory) -> Iterator[str]:
    """An empty data folder, served."""
    with served(tmp_path_factory.mktemp("empty"), sample=False) as address:
        yield address


@pytest.fixture
def hand(page: Page, base: str) -> Iterator[Hand]:
    """Somebody at the page: the first one names the shop, later ones sign in; what that takes is counted."""
    page.set_default_timeout(30_000)
    expect.set_options(timeout=30_000)
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    hand = Hand(page)
    page.goto(base)
    expect(page.get_by_role("button", name=re.compile("Open the shop|Sign in"))).to_be_visible()
    if page.get_by_role("button", name="Sign in").count():
        page.get_by_label("Name").fill(SHOP["username"])
        page.get_by_label("Pass phrase").fill(SHOP["phrase"])
        page.get_by_role("button", name="Sign in").click()
        # What opening the shop took stands for the first time it was done.
        hand.fields, hand.taps = len(SHOP), 1
    else:
        for name, text in SHOP.items():
            hand.fill(page.locator(f"input[name={name}]"), text)
        hand.button("Open the shop with the starter shelf")
    expect(page.get_by_role("heading", name="On the floor")).to_be_visible()
    yield hand
    assert faults == []


def open_unknown(hand: Hand, name: str, kind: str, cylinders: str, fuel: str, induction: str) -> str:
    """A job on a vehicle that no shelf has seen; its address."""
    page = hand.page
    hand.button("Open a job")
    other = page.get_by_text("Not on the shelf", exact=True)
    expect(page.get_by_label("What is it called?").or_(other).first).to_be_visible()
    if other.count():
        hand.tap(other)
    hand.choose("Kind of vehicle", kind)
    hand.fill(page.get_by_label("What is it called?"), name)
    hand.choose("Cylinders, or rotors", cylinders)
    hand.choose("Stroke", "four-stroke")
    hand.choose("Fuel and injection", fuel)
    hand.choose("Induction", induction)
    hand.button("Open the job")
    page.wait_for_url(re.compile("/intake$"))
    expect(page.get_by_role("button", name="Save intake")).to_be_visible()
    if page.get_by_role("button", name="Pass over").count():
        hand.button("Pass over")
    return re.search(r"/jobs/(\d+)/", page.url)[1]


def seen_here(hand: Hand, title: str, answer: str) -> None:
    """A question answered by what is seen on the vehicle."""
    asked = hand.page.locator(".ask-must").filter(has_text=title)
    hand.tap(asked.get_by_role("button", name=f"{title} {answer}"))
    hand.tap(asked.get_by_role("button", name="Seen or measured here"))
    expect(asked).to_have_count(0)


@pytest.mark.parametrize("which", ["diesel", "boat", by_night("car"), by_night("bike")])
def test_from_nothing_to_the_first_safe_step_and_a_second_one_asks_nothing(hand, base, which):
    page, (name, kind, cylinders, fuel, induction, device) = hand.page, KINDS[which]
    number = open_unknown(hand, name, kind, cylinders, fuel, induction)
    go(page, "Plan")
    hand.taps += 1
    hand.button("A device that is not there")
    hand.choose("Kind of device", device)
    hand.fill(page.get_by_label("Name of the device"), f"Box for {name}")
    hand.button("Take it")
    expect(page.get_by_text("Does its maker's list name this engine?")).to_be_visible()
    go(page, "Make safe")
    hand.taps += 1
    first = page.locator(".work h1").first
    expect(first).to_be_visible()
    # Vapour in a hull is aired to the end of its time; an engine may be cool already.
    begins = re.compile("^Start the wait" if which == "boat" else "(is cool|has passed) already")
    expect(page.get_by_role("button", name=begins)).to_be_disabled()
    seen_here(hand, "Is there high voltage on board?", "no")
    if kind in ("car", "pickup"):
        seen_here(hand, "Does airbag wiring run near the work?", "no")
    if page.locator(".ask-must").filter(has_text="What comes off").count():
        # Nothing on this one: one tap says so.
        asked = page.locator(".ask-must").filter(has_text="What comes off")
        hand.tap(asked.get_by_role("button", name="Seen or measured here"))
        expect(asked).to_have_count(0)
    title = first.inner_text()
    hand.button(begins)
    if which == "boat":
        expect(page.locator("footer.now")).to_contain_text("Air the hull")
        expect(page.get_by_role("button", name="End it early")).to_have_count(0)
    else:
        expect(first).not_to_have_text(title)
    assert hand.fields <= 12, (hand.fields, hand.taps)
    assert hand.taps <= 40, (hand.fields, hand.taps)

    # The Wi-Fi is away for a while: what is seen is kept, and sent when it is back.
    page.evaluate("navigator.serviceWorker.ready")
    page.goto(f"{base}/jobs/{number}/intake")
    expect(page.get_by_role("heading", name="Look for leaks")).to_be_visible()
    page.context.set_offline(True)
    page.get_by_role("button", name="Dry", exact=True).click()
    page.get_by_role("button", name="Full and clean").click()
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("not sent yet")).to_have_count(0)

    # To Fit, with what it asks on the way: said beside the step, refused before it is known.
    other, job = Remote(base), f"jobs/{number}"
    asking = next(
        step["key"]
        for step in other.get(job)["steps"]
        if step["stage"] == "fit" and any(ask["must"] for ask in step["asks"])
    )
    page.goto(f"{base}/{job}/fit?step={asking}")
    expect(page.locator(".ask-must").first).to_contain_text("Usually found")
    assert answer_all(other, job) > 5
    done = {step["key"] for step in other.get(job)["steps"] if step["done"]}
    assert {"intake.leaks", "intake.fluids"} <= done
    page.reload()
    expect(page.locator(".ask-must")).to_have_count(0)
    for step in other.get(job)["steps"]:
        assert not [ask for ask in step["asks"] if ask["must"]], step["key"]

    # A second one of the kind is asked for nothing.
    page.goto(f"{base}/floor")
    page.get_by_role("button", name="Open a job").first.click()
    page.get_by_label("Vehicle", exact=True).click()
    page.keyboard.type(name)
    page.keyboard.press("Enter")
    page.get_by_role("dialog").get_by_role("button", name="Open", exact=True).click()
    page.wait_for_url(re.compile("/intake$"))
    go(page, "Plan")
    page.get_by_role("region", name=re.compile(f"^Box for {name}")).get_by_role(
        "button", name="Take this"
    ).click()
    page.get_by_role("button", name="Take this kit").click()
    expect(page.get_by_role("region", name=f"Box for {name}: fits")).to_be_visible()
    for slat in ("Make safe", "Fit"):
        go(page, slat)
        expect(page.locator(".work h1").first).to_be_visible()
        expect(page.locator(".ask-must")).to_have_count(0)


def test_what_is_entered_while_the_wifi_is_away_is_kept_and_merged(hand, context: BrowserContext, base):
    page = hand.page
    number = open_unknown(hand, "Hobby Ute 2.4", "pickup", "4", "petrol, port", "none")
    job, other = f"jobs/{number}", Remote(base)
    page.evaluate("navigator.serviceWorker.ready")
    page.reload()
    expect(page.get_by_role("heading", name="Look for leaks")).to_be_visible()
    grid = f"{job}/steps/intake.compression/grid"
    page.goto(f"{base}/{job}/intake?step=intake.compression")
    expect(page.get_by_role("button", name="Judge the compression")).to_be_visible()

    context.set_offline(True)
    page.get_by_label("Compression, cylinder 1").fill("1190")
    page.get_by_role("button", name="Judge the compression").click()
    expect(page.get_by_text("1 not sent yet")).to_be_visible()
    page.goto(f"{base}/{job}/intake")
    expect(page.get_by_role("heading", name="Look for leaks")).to_be_visible()
    page.get_by_role("button", name="Dry", exact=True).click()
    expect(page.locator(".unsent")).to_contain_text("Look for leaks")
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    page.reload()
    expect(page.locator(".unsent")).to_contain_text("Look for leaks")
    # Opened again, the grid goes on from what waits here, not from what the server last knew.
    page.goto(f"{base}/{job}/intake?step=intake.compression")
    expect(page.get_by_label("Compression, cylinder 1")).to_have_value("1190")
    page.get_by_label("Compression, cylinder 3").fill("1210")
    page.get_by_role("button", name="Judge the compression").click()
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    # The other tablet goes on meanwhile.
    other.put(grid, {"data": {"kpa": ["", "1200", "", ""]}, "revision": 0})
    assert other.get(job)["steps"][1]["done"] is False

    context.set_offline(False)
    expect(page.get_by_text("not sent yet")).to_have_count(0)
    expect(page.get_by_label("Compression, cylinder 2")).to_have_value("1200")
    assert other.get(grid)["data"]["kpa"][:3] == ["1190", "1200", "1210"], "both tablets' readings stand"
    done = {step["key"]: step for step in other.get(job)["steps"]}
    assert done["intake.leaks"]["done"]
    assert done["intake.leaks"]["by"] == "Ann Lee"


def test_a_picture_goes_straight_into_evidence_later_and_a_refusal_is_told(hand, context, base):
    page = hand.page
    number = open_unknown(hand, "Hobby Van 1.6", "van", "4", "petrol, port", "none")
    job, other = f"jobs/{number}", Remote(base)
    other.post(f"{job}/kit/new-device", {"kind": "handheld or phone flasher", "name": "Pocket writer"})
    page.evaluate("navigator.serviceWorker.ready")
    page.goto(f"{base}/{job}/fit?step=fit.port")
    expect(page.get_by_label("Picture")).to_be_attached()
    context.set_offline(True)
    page.get_by_label("Picture").set_input_files(
        {"name": "port.jpg", "mimeType": "image/jpeg", "buffer": picture()}
    )
    expect(page.get_by_text("1 not sent yet")).to_be_visible()
    page.goto(f"{base}/{job}/make-safe")
    page.get_by_role("button", name=re.compile("^Write a note|^Note")).first.wait_for()
    page.get_by_placeholder("Write a note").fill("Seen without Wi-Fi")
    page.get_by_role("button", name="Note", exact=True).click()
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    expect(page.get_by_placeholder("Write a note")).to_have_value("")
    context.set_offline(False)
    expect(page.get_by_text("not sent yet")).to_have_count(0)
    assert [photo["name"] for photo in other.get(f"{job}/photos")] == ["port.jpg"]
    assert any(line["title"] == "Seen without Wi-Fi" for line in other.get(f"{job}/ledger"))

    answer(other, job, "intake.battery", "two_batteries")
    # What the server does not take stays on the tablet with the server's sentence.
    page.goto(f"{base}/{job}/intake?step=intake.battery")
    page.get_by_text("Known for this step").click()
    expect(page.get_by_text("Are there two batteries: no")).to_be_visible()
    context.set_offline(True)
    page.get_by_role("textbox", name="battery at rest").fill("twelve")
    page.get_by_role("button", name=re.compile("^Enter, next step")).click()
    expect(page.get_by_text("1 not sent yet", exact=False).first).to_be_visible()
    context.set_offline(False)
    page.get_by_role("button", name=re.compile("1 refused")).click()
    refused = page.get_by_role("dialog", name="Kept on this tablet")
    expect(refused).to_contain_text("Measure the battery at rest")
    refused.get_by_role("button", name="I have seen it").click()
    expect(refused).to_contain_text("Everything is sent.")


def test_a_tablet_that_is_older_than_the_server_says_so(hand, base):
    page = hand.page
    # The page that this tablet kept is of a build that the server has no more.
    page.add_init_script(
        """new MutationObserver(() => {
          const build = document.querySelector('meta[name="build"]');
          if (build && !sessionStorage.taken) build.content = '000000000000';
        }).observe(document, { childList: true, subtree: true });"""
    )
    page.goto(f"{base}/floor?fresh")
    older = page.get_by_role("button", name=re.compile("Older than the server"))
    expect(older).to_be_visible()
    page.evaluate("sessionStorage.taken = '1'")
    older.click()
    expect(page.get_by_role("heading", name="On the floor")).to_be_visible()
    expect(older).to_have_count(0)


def test_a_list_is_brought_by_hand_and_large_touch_is_large(hand, base):
    page = hand.page
    page.goto(f"{base}/shop/lists")
    page.get_by_label("List file").set_input_files(
        {
            "name": "folk.csv",
            "mimeType": "text/csv",
            "buffer": b"Who;Handy\nMara Lind;0791\nOle Brandt;0792\n",
        }
    )
    page.get_by_role("button", name="Dry run").click()
    expect(page.get_by_role("alert")).to_contain_text("Say which column holds “Name”")
    page.get_by_label("Who goes to").click()
    page.locator(".ant-select-dropdown:visible").get_by_text("Name · needed").click()
    page.get_by_role("button", name="Dry run").click()
    expect(page.get_by_role("status").filter(has_text="It would be: 2 made")).to_be_visible()
    page.get_by_role("button", name="Keep 2").click()
    expect(page.get_by_role("status").filter(has_text="Kept: 2 made")).to_be_visible()
    height = page.get_by_role("button", name="Another file").bounding_box()["height"]
    page.keyboard.press("l")
    page.wait_for_function("document.documentElement.dataset.touch === 'large'")
    assert page.get_by_role("button", name="Another file").bounding_box()["height"] > height
    page.keyboard.press("l")


def test_the_tour_of_the_first_job_is_shown_once_and_again_when_it_is_asked_for(hand, base):
    page = hand.page
    page.evaluate("localStorage.removeItem('ventmap.tour.lead')")
    open_unknown(hand, "Hobby Trail 125", "motorcycle", "1", "petrol, port", "none")
    page.reload()
    expect(page.get_by_role("button", name="Save intake")).to_be_visible()
    expect(page.get_by_text("One job, from left to right")).to_have_count(0)
    page.get_by_role("button", name="? Keys").click()
    page.get_by_role("button", name="Show me round a job").click()
    expect(page.get_by_text("One job, from left to right")).to_be_visible()
    for _ in range(4):
        page.get_by_role("button", name="Next", exact=True).click()
    page.get_by_role("button", name="Finish").click()
    expect(page.get_by_text("One job, from left to right")).to_have_count(0)


def test_a_wait_that_ends_is_heard_wherever_one_is(hand, base):
    page = hand.page
    number = open_unknown(hand, "Hobby Coupe 2.0", "car", "4", "petrol, port", "none")
    other = Remote(base)
    for field in ("hybrid", "airbag_near"):
        answer(other, f"jobs/{number}", "make-safe.cool", field)
    page.clock.install()
    page.goto(f"{base}/jobs/{number}/make-safe")
    page.get_by_role("button", name=re.compile("^Start the wait")).click()
    page.goto(f"{base}/shelf/vehicle")
    expect(page.locator("footer.now")).to_contain_text("Let the engine cool")
    page.evaluate("document.addEventListener('ventmap:rang', () => { window.rang = true })")
    page.clock.fast_forward(1_198_000)
    page.clock.run_for(4_000)
    page.wait_for_function("window.rang === true")
