"""What a person's hands do on the screens of a job."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.shopwork import picture

LONG = 120_000


def slat(page: Page, name: str, state: str):
    expect(page.get_by_role("link", name=f"{name}: {state}")).to_be_visible(timeout=LONG)


def go(page: Page, name: str):
    page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile(f"^{name}:")).click()
    expect(page).to_have_title(re.compile(f" {name} · "))


def title(page: Page) -> str:
    return page.locator(".work h1").first.inner_text()


def work(page: Page, readings: dict[str, str], last: str = "all done"):
    """The steps of a slat by their own evidence, one after the other, until it says that all is done."""
    while last not in (now := title(page)):
        one(page, readings.get(now, ""))
        expect(page.locator(".work h1").first).not_to_have_text(now)


def one(page: Page, reading: str = ""):
    """The step in front."""
    card = page.locator(".work .sheet").first
    done = page.get_by_role("button", name=re.compile("^(Done|Enter), next step"))
    passed = page.get_by_role("button", name=re.compile("(is cool|has passed) already"))
    answers = page.locator(".work button.answer.go")
    words = page.get_by_role("button", name="Keep it, next step")
    expect(
        done.or_(passed)
        .or_(answers)
        .or_(words)
        .or_(card.get_by_role("button", name=re.compile("^Judge")))
        .or_(card.locator("table.grid").get_by_role("radiogroup"))
        .or_(card.get_by_role("button", name=re.compile(" is off$")))
        .first
    ).to_be_visible()
    if card.get_by_role("button", name="Judge the grounds").count():
        for field in card.get_by_label(re.compile("(static|cranking)$")).all():
            field.fill("20 mV")
        card.get_by_role("button", name="Judge the grounds").click()
    elif card.locator("table.grid").get_by_role("radiogroup").count():
        for row in card.get_by_role("radiogroup").all():
            row.locator("label").first.click()
    elif card.get_by_role("button", name=re.compile(" is off$")).count():
        for off in card.get_by_role("button", name=re.compile(" is off$")).all():
            off.click()
    elif card.get_by_role("button", name="Judge what is back").count():
        back(page)
    elif card.get_by_role("button", name="Judge the plugs").count():
        plugs(page)
    elif card.get_by_role("button", name="Judge the set").count():
        card.get_by_label("Number and revision, cylinder 1").fill("F33 A")
        card.get_by_role("button", name=re.compile("^All ")).click()
        card.get_by_role("button", name="Judge the set").click()
    elif card.get_by_role("button", name="Judge the list").count():
        torque(page)
    elif words.count():
        page.get_by_label("What was set or read back").fill("As its sheet says: A 4, red, crimp splice")
        words.click()
    elif answers.count():
        answers.first.click()
    elif passed.count():
        passed.click()
    else:
        if card.get_by_label("Picture").count():
            card.get_by_label("Picture").set_input_files(
                {"name": "seen.jpg", "mimeType": "image/jpeg", "buffer": picture()}
            )
            expect(card.get_by_role("button", name=re.compile("^Photo seen.jpg"))).to_be_visible()
        if reading:
            card.locator("label input").first.fill(reading)
        done.click()


def back(page: Page):
    """Everything back with its figure, what had to be new is, and nothing left over."""
    for new in page.locator(".work").get_by_label(re.compile(", new$")).all():
        new.check()
    for button in page.get_by_role("button", name=re.compile("^(?!Judge).* is back$")).all():
        button.click()
    if page.get_by_label("Left over, pieces").count():
        page.get_by_label("Left over, pieces").fill("0")
    torque(page, "Judge what is back")


def plugs(page: Page):
    """Every plug that the sheet names, labelled and tugged; where it names none, the box's own."""
    first = page.get_by_label("Plug, line 1")
    if not first.input_value():
        first.fill("main plug")
    for label in page.locator(".work").get_by_label(re.compile(", labelled$")).all():
        label.check()
    page.get_by_role("button", name="All others tugged").click()
    page.get_by_role("button", name="Judge the plugs").click()


def seals(page: Page, cylinders: int):
    """Each tip seal from its last die into its seat."""
    for cylinder in range(1, cylinders + 1):
        seal = page.get_by_label(f"Seal {cylinder}", exact=True)
        seal.get_by_role("button", name="Last die off").click()
        seal.get_by_role("button", name="Seated", exact=True).click()


def torque(page: Page, judge: str = "Judge the list"):
    """Every line at the maker's figure, with the wrench that the list proposes."""
    rows = page.locator(".work table.grid tbody tr").filter(has=page.get_by_label(re.compile("torque set$")))
    for row in rows.all():
        figure = re.search(r"([\d.]+) N·m", row.inner_text())[1]
        row.get_by_label(re.compile("torque set$")).fill(figure)
        row.locator(".ant-select").click()
        high = "5–25" if float(figure) >= 5 else "1–5"
        page.locator(".ant-select-dropdown:visible").get_by_text(f"Torque wrench {high} N·m").click()
    page.get_by_role("button", name=judge).click()


def outputs(page: Page, cylinders: int):
    """Every output test by the screen: interlocks confirmed, each driven, heard and answered."""
    tests = ["brake switch", "fan, slow", "fan, fast"]
    tests += [f"{what} {n}" for what in ("coil", "injector") for n in range(1, cylinders + 1)] + ["fuel pump"]
    first = page.get_by_role("button", name="Run brake switch", exact=True)
    expect(first).to_be_disabled()
    for label in tests:
        run = page.get_by_role("button", name=f"Run {label}", exact=True)
        group = page.locator("section").filter(has=run)
        for lock in group.get_by_role("checkbox").all():
            if not lock.is_checked():
                lock.check()
                expect(group.get_by_role("button", name=re.compile("^Run")).first).to_be_visible()
        expect(run).to_be_enabled(timeout=LONG)
        run.click()
        expect(group.get_by_text("At the pretend vehicle:").last).to_be_visible(timeout=LONG)
        answer = page.get_by_role("button", name=f"{label}: it does that", exact=True)
        expect(answer).to_be_enabled(timeout=LONG)
        answer.click()
        if label != "fuel pump":
            expect(answer).to_have_class(re.compile("answer go"))


def timing(page: Page):
    """Base timing by the light over the link: idle, and 3 000 rpm."""
    page.get_by_role("button", name="Read the light at idle").click()
    expect(page.get_by_label("go: Base timing at idle")).to_be_visible(timeout=LONG)
    page.get_by_role("button", name="Read the light at 3000 rpm").click()
    expect(page.get_by_label("go: Set base timing by light, at two speeds")).to_be_visible(timeout=LONG)
