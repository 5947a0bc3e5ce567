"""Maps on screen: a sheet by keyboard, a data sheet with a typo, sets, levels, options, cards."""

from __future__ import annotations

import re
from urllib.parse import urlsplit

from playwright.sync_api import Page, expect

from tests.browser.steps import LONG
from tests.conftest import ROOT, make_base_map
from tests.core.test_corrections import CELLS, Dwell
from tests.server.test_sheets import as_csv


def to(page: Page, path: str) -> None:
    parts = urlsplit(page.url)
    page.goto(f"{parts.scheme}://{parts.netloc}/{path}")


def view(page: Page, name: str) -> None:
    page.locator(".ant-segmented-item", has_text=re.compile(f"^{name}$")).first.click()


def send(page: Page, method: str, path: str, body: object = None):
    """A request by the person who is signed in on this page."""
    return page.evaluate(
        """async ([method, path, body]) => {
        const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
        const text = typeof body === "string";
        const headers = {"Content-Type": text ? "text/csv" : "application/json", "X-CSRFToken": token};
        const sent = body === null ? undefined : text ? body : JSON.stringify(body);
        return (await fetch(`/api/${path}`, {method, headers, body: sent})).json();
    }""",
        [method, path, body],
    )


def cell(page: Page, row: int, column: int) -> str:
    return page.locator(f"#cell-{row}-{column}").inner_text()


def accessible(page: Page) -> None:
    page.evaluate((ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text())
    found = page.evaluate("axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']})")
    assert [(fault["id"], fault["nodes"][0]["html"]) for fault in found["violations"]] == []


def test_a_range_is_edited_by_keyboard_undone_and_kept(signed_in: Page):
    page = signed_in
    to(page, "jobs/0005/base-map")
    view(page, "Sheet")
    grid = page.get_by_role("grid")
    expect(grid).to_be_visible(timeout=LONG)
    before = cell(page, 1, 1)
    grid.focus()
    for key in ("ArrowUp", "ArrowRight", "Shift+ArrowUp", "Shift+ArrowRight", "+"):
        page.keyboard.press(key)
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    expect(page.locator("#cell-1-1")).to_have_text(f"{float(before) + 3:.1f}")
    expect(page.locator("#cell-2-2")).to_have_class(re.compile("changed"))
    expect(page.locator(".work")).to_contain_text(re.compile(r"\+\d\.\d % fuel at 2500 rpm"))
    page.keyboard.press("Control+z")
    expect(page.locator("#cell-1-1")).to_have_text(before)
    page.keyboard.press("Control+y")
    expect(page.locator("#cell-1-1")).to_have_text(f"{float(before) + 3:.1f}")
    # What was edited stands after a reload, and so does the way back.
    page.reload()
    view(page, "Sheet")
    expect(page.locator("#cell-1-1")).to_have_text(f"{float(before) + 3:.1f}", timeout=LONG)
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.get_by_label("Why it was changed").fill("lean on small throttle")
    page.get_by_role("button", name=re.compile("^Keep as the next version")).click()
    expect(page.locator(".work")).to_contain_text("r0.1")
    expect(page.get_by_role("table", name="Story of this cell")).to_be_visible()
    page.locator("#cell-1-1").click()
    expect(page.get_by_role("table", name="Story of this cell")).to_contain_text("lean on small throttle")
    accessible(page)
    view(page, "Heights")
    expect(page.get_by_role("img", name=re.compile("height lines"))).to_be_visible()
    view(page, "Versions")
    expect(page.locator(".lineage")).to_contain_text("lean on small throttle")


def test_a_block_goes_to_a_spreadsheet_and_back(signed_in: Page):
    page = signed_in
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    to(page, "jobs/0003/base-map")
    view(page, "Sheet")
    grid = page.get_by_role("grid")
    expect(grid).to_be_visible(timeout=LONG)
    grid.focus()
    page.keyboard.press("Control+a")
    page.keyboard.press("Control+c")
    text = page.evaluate("navigator.clipboard.readText()")
    lines = [line.split("\t") for line in text.split("\n")]
    assert len(lines) == 3, "the highest level on top"
    assert len(lines[0]) == 8, "the highest level on top"
    assert float(lines[0][3]) == 35.0, "the highest level on top"
    lines[2][0] = "1.5"
    page.evaluate("text => navigator.clipboard.writeText(text)", "\n".join("\t".join(row) for row in lines))
    page.locator("#cell-2-0").click()
    page.keyboard.press("Control+v")
    expect(page.locator("#cell-0-0")).to_have_text("1.5")
    lines[1][2] = "2o"
    page.evaluate("text => navigator.clipboard.writeText(text)", "\n".join("\t".join(row) for row in lines))
    page.keyboard.press("Control+v")
    expect(page.get_by_text("“2o” is no figure")).to_be_visible()
    expect(page.locator("#cell-0-0")).to_have_text("1.5")


def test_a_data_sheet_with_one_typo_names_its_cell(signed_in: Page):
    page = signed_in
    to(page, "jobs/0002/base-map")
    send(page, "PUT", "jobs/0002/plan", {"injectors": "fenwright-440"})
    page.reload()
    page.get_by_role("button", name="Start from this").first.click(timeout=LONG)
    view(page, "Sheet")
    page.get_by_label("Table", exact=True).click()
    page.locator(".ant-select-item-option-content", has_text="injector dead time").click()
    page.locator("#cell-3-1").click()
    page.keyboard.type("5.9")
    page.keyboard.press("Enter")
    slip = page.locator(".work section.call.hold", has_text="13 V, 300 kPa looks mistyped")
    expect(slip).to_be_visible()
    page.get_by_role("grid").focus()
    page.keyboard.press("Control+z")
    expect(slip).to_have_count(0)


def test_a_foreign_member_of_a_set_is_refused(signed_in: Page):
    page = signed_in
    to(page, "jobs/0004/base-map")
    page.get_by_text("Harrow injector driver", exact=True).first.click(timeout=LONG)
    view(page, "Choose another")
    row = page.locator(".sheet", has_text="TP30 driver, long haul")
    expect(row.last).to_contain_text("of the set TP30 long haul; the other modules run TP30 tow")
    expect(row.last.get_by_role("button", name="Start from this")).to_have_count(0)
    expect(row.last.get_by_role("button", name="Take its whole set")).to_be_visible()


def test_a_level_map_is_kept_and_a_level_above_the_tank_stops(signed_in: Page):
    page = signed_in
    to(page, "jobs/0003/base-map")
    level = page.get_by_label("level that is set")
    expect(level).to_be_visible(timeout=LONG)
    level.fill("3")
    level.press("Enter")
    expect(page.locator("section.call.stop", has_text="Level and octane")).to_be_visible()
    level.fill("2")
    level.press("Enter")
    expect(page.locator("section.call.stop")).to_have_count(0)
    expect(page.locator("section.call.hold", has_text="Lowest level first")).to_be_visible()
    page.get_by_label("Why it was changed").fill("98 in the tank, level 1 was go")
    page.get_by_role("button", name=re.compile("^Keep as the next version")).click()
    expect(page.locator(".work")).to_contain_text("three levels r0.1")


def test_an_options_map_asks_for_its_signature_and_prints_its_card(signed_in: Page):
    page = signed_in
    to(page, "jobs/0007/base-map")
    wanted = page.get_by_label("wanted, speed limit")
    expect(wanted).to_be_visible(timeout=LONG)
    wanted.fill("115")
    wanted.press("Enter")
    why = page.get_by_label("why, speed limit")
    why.fill("lake race")
    why.press("Enter")
    page.get_by_label("Why it was changed").fill("lake race in June")
    page.get_by_role("button", name=re.compile("^Keep as the next version")).click()
    page.get_by_role("button", name="Ask for the statement").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("closed courses only")
    dialog.get_by_label("Name of the owner or driver").fill("Lene Corrow")
    box = dialog.get_by_role("img", name="Signature, drawn").bounding_box()
    assert box
    page.mouse.move(box["x"] + 20, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + 90, box["y"] + 70, steps=6)
    page.mouse.up()
    dialog.get_by_role("button", name="Sign").click()
    expect(page.get_by_role("button", name="Ask for the statement")).to_have_count(0)
    page.get_by_role("link", name="Card to print").click()
    expect(page.get_by_role("region", name="Options over stock")).to_contain_text("115 km/h")
    to(page, "jobs/0005/card/brandrel-line")
    card = page.get_by_role("region", name="Selector")
    expect(card).to_contain_text("learner")
    assert len(page.pdf()) > 5_000


def test_an_option_set_that_nobody_knows_is_begun_from_nothing(signed_in: Page):
    page = signed_in
    send(page, "POST", "jobs", {"vehicle": "hobcroft-trail-1000", "registration": "SRP 2", "owner": "Ada"})
    made = send(page, "GET", "jobs")[-1]["number"]
    send(page, "PUT", f"jobs/{made}/kit", {"devices": ["ardle-swap"]})
    to(page, f"jobs/{made}/base-map")
    view(page, "Begin it here")
    options = page.get_by_role("group", name="options", exact=True)
    options.get_by_role("button", name="Another row").click()
    row = page.get_by_role("group", name="options, row 1")
    for field, typed in (
        ("what it is", "idle speed"),
        ("stock", "1150"),
        ("wanted", "1250"),
        ("unit", "rpm"),
    ):
        row.get_by_label(field).fill(typed)
    options.get_by_text("Paste many lines").click()
    page.get_by_label("options, pasted").fill(
        "what it is;stock;least;most;unit\nrev limit;9000;8000;9200;rpm"
    )
    options.get_by_role("button", name="Take these lines").click()
    expect(page.get_by_role("group", name="options, row 2").get_by_label("most")).to_have_value("9200")
    page.get_by_role("button", name="Begin with these").click()
    expect(page.locator("#work").get_by_role("alert")).to_contain_text(
        "wanted is 1250, and lies between 1150"
    )
    row.get_by_label("least").fill("1000")
    row.get_by_label("most").fill("1400")
    page.get_by_role("button", name="Begin with these").click()
    expect(page.get_by_role("row", name=re.compile("idle speed.*1150 rpm"))).to_be_visible(timeout=LONG)
    expect(page.get_by_text("8000 to 9200 rpm")).to_be_visible()


def test_a_map_that_lives_in_another_program_is_worked_on_as_well(signed_in: Page):
    page = signed_in
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    base = make_base_map()
    send(page, "POST", "jobs", {"vehicle": "hobcroft-trail-1000", "registration": "SRP 1", "owner": "Ada"})
    made = send(page, "GET", "jobs")[-1]["number"]
    send(page, "PUT", f"jobs/{made}/kit", {"devices": ["ardle-swap"]})
    ve = base.tables["ve"]
    head = "\t".join(["", *(f"{x:g}" for x in ve.x)])
    rows = ["\t".join([f"{y:g}", *(f"{v:.1f}" for v in row)]) for y, row in zip(ve.y, ve.values, strict=True)]
    text = "\n".join([head, *rows]) + "\n"
    to(page, f"jobs/{made}/base-map")
    view(page, "Another program's table")
    page.get_by_label("What it is called there").fill("Main fuel")
    pasted = page.get_by_label("The table, pasted")
    typo = text.replace(rows[4].split("\t")[6], "8o,1", 1)
    pasted.fill(typo)
    expect(page.get_by_text("is no figure")).to_be_visible(timeout=LONG)
    pasted.fill(text)
    expect(page.locator(".work")).to_contain_text("speed runs across")
    page.get_by_role("button", name="Take it into the sheet").click()
    expect(page.get_by_role("grid")).to_be_visible(timeout=LONG)
    log = "\n".join(as_csv(Dwell(base, CELLS, [0.06] * 4)))
    kept = send(page, "PUT", f"logs?name=drive.csv&job={made}", log)
    assert kept["id"], kept
    page.reload()
    view(page, "Sheet")
    page.get_by_role("button", name="Correct from the log").click(timeout=LONG)
    expect(page.locator(".cell.changed").first).to_be_visible()
    expect(page.locator(".print-card")).to_contain_text("Type by hand, cell by cell")
    page.get_by_role("button", name="Copy it back").click()
    expect(page.get_by_text("Copied, in the shape it came in")).to_be_visible()
    back = page.evaluate("navigator.clipboard.readText()")
    assert back.split("\n")[0] == head
    assert back != text
    assert len(back.split("\n")) == len(text.split("\n"))
    for line, was in zip(back.split("\n")[1:], text.split("\n")[1:], strict=True):
        assert len(line.split("\t")) == len(was.split("\t"))
    page.get_by_label("Why it was changed").fill("round 1 from the drive")
    page.get_by_role("button", name=re.compile("^Keep as the next version")).click()
    expect(page.locator(".work")).to_contain_text("r0.1")
    accessible(page)


def test_a_glove_drags_the_range_by_its_two_handles(signed_in: Page):
    page = signed_in
    page.evaluate("localStorage.setItem('ventmap.gloves', '1')")
    to(page, "jobs/0005/base-map")
    view(page, "Sheet")
    page.locator("#cell-2-2").click(timeout=LONG)
    for handle, cell_at, cells in ((".handle.end", "#cell-4-5", 12), (".handle.start", "#cell-1-1", 20)):
        grip = page.locator(handle).bounding_box()
        aim = page.locator(cell_at).bounding_box()
        page.mouse.move(grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2)
        page.mouse.down()
        page.mouse.move(aim["x"] + aim["width"] / 2, aim["y"] + aim["height"] / 2, steps=6)
        page.mouse.up()
        expect(page.locator(".in-range")).to_have_count(cells)
    page.evaluate("localStorage.removeItem('ventmap.gloves')")
