"""The server as it is really served: streams of progress, a body that is too large, names that rest, headers,
one line to a vehicle.
"""

from __future__ import annotations

import json
import re
import select
import socket
import urllib.error
import urllib.request
from collections.abc import Iterator
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import served
from tests.browser.remote import Remote
from tests.browser.steps import LONG, go, slat
from tests.shopwork import BOARD, J, to_map, until, write
from ventmap.link.wire import FLASH_SIZE


def events(api: Remote, path: str) -> Iterator[dict]:
    """Server-sent events of an address, to its end."""
    with api.opener.open(urllib.request.Request(f"{api.base}/api/{path}"), timeout=120) as answer:
        assert answer.headers["Content-Type"].startswith("text/event-stream")
        for line in answer:
            if line.startswith(b"data: "):
                yield json.loads(line[6:])


@pytest.fixture(scope="module")
def lead(address) -> Remote:
    return Remote(address)


class TestProgress:
    def test_a_write_tells_its_phases_in_order_and_ends(self, lead):
        to_map(lead)
        lead.post(f"{J}/saved-images")
        lead.put(f"{J}/load-board", {"answers": BOARD})
        load = lead.post(f"{J}/loads")
        busy = lead.post(f"{J}/saved-images")
        assert lead.status == 409, "one line to a vehicle"
        assert "in use: a write" in busy["sentence"], "one line to a vehicle"
        told = list(events(lead, f"loads/{load['id']}/events"))
        order = ["erase", "write", "read back", "check", "done"]
        phases = [event["phase"] for event in told if event["phase"]]
        assert [order.index(phase) for phase in phases] == sorted(order.index(phase) for phase in phases)
        assert "write" in phases
        assert told[-1]["state"] == "verified"
        assert all(event["state"] == "writing" for event in told[:-1])
        written = [event["done"] for event in told if event["phase"] == "write"]
        assert written == sorted(written)
        assert told[-1]["total"] == FLASH_SIZE

    def test_a_capture_tells_time_rows_and_values_and_ends_with_its_log(self, lead):
        write(lead)
        lead.post(f"{J}/captures", {"watched": True})
        told = []
        for event in events(lead, f"{J}/captures/current/events"):
            told.append(event)
            if event["at_s"] > 4 and event["state"] == "running":
                lead.call("DELETE", f"{J}/captures/current", None)
        assert [e["rows"] for e in told] == sorted(e["rows"] for e in told)
        assert told[-1]["state"] == "done"
        live = next(e for e in told if len(e["values"]) > 8)
        assert {"rpm", "map", "lambda", "battery"} <= set(live["values"])
        assert live["doing"]
        log = lead.get(f"logs/{told[-1]['log_id']}")
        assert log["source"] == "captured"
        assert log["rows"] == told[-1]["rows"]
        assert 4 <= log["duration_s"] < 20

    def test_a_second_capture_waits_for_the_first(self, lead):
        lead.post(f"{J}/captures", {"watched": True})
        assert "Stop it first" in lead.post(f"{J}/captures", {"watched": True})["sentence"]
        lead.call("DELETE", f"{J}/captures/current", None)
        ended = until(lambda: lead.get(f"{J}/captures/current"), lambda c: c["state"] != "running")
        short = ended["at_s"] < 2
        assert (ended["state"], ended["log_id"] is None) == (("failed", True) if short else ("done", False))
        assert ("nothing was kept" in ended["sentence"]) is short


def told_to(base: str, head: str, chunks: int = 0, chunk: bytes = b"x" * 65_536) -> tuple[int, str, int]:
    """Status, sentence and how many chunks went in, of a request that is sent as the wire has it."""
    place = urlsplit(base)
    with socket.create_connection((place.hostname, place.port), timeout=30) as line:
        line.sendall(head.encode())
        went = 0
        try:
            for _ in range(chunks):
                line.sendall(b"%x\r\n%s\r\n" % (len(chunk), chunk))
                went += 1
                if select.select([line], [], [], 0)[0]:
                    break
        except OSError:
            pass
        answer = b""
        while b"}" not in answer and (part := line.recv(4096)):
            answer += part
    return int(answer.split()[1]), json.loads(answer[answer.index(b"{") :])["sentence"], went


def test_a_forged_address_goes_round_nothing(address):
    """Wrong phrases rest a name at the address where they come from, whatever their sender says it is."""
    stranger = Remote(address, "nobody")
    for n in range(8):
        stranger.opener.addheaders = [("X-Forwarded-For", f"10.0.0.{n}")]
        stranger.post("sessions", {"name": "somebody", "phrase": "a wrong phrase"})
    assert stranger.status == 429


class TestTheDoor:
    """Who may bring how much is asked before a byte is stored."""

    def test_two_gigabytes_are_refused_before_they_are_sent(self, lead):
        status, sentence, _ = told_to(
            lead.base,
            "PUT /api/logs?name=road.csv HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 2147483648\r\n\r\n",
        )
        assert status == 413
        assert "larger than 2000 MB, the most that is taken here. Split the log" in sentence

    @pytest.mark.parametrize(
        "who, path, status",
        [
            ("", "/api/logs?name=road.csv", 401),
            ("", "/api/jobs/0001/photos?name=a.jpg", 401),
            ("", "/api/sessions", 413),
            ("viewer", "/api/jobs/0001/photos?name=a.jpg", 403),
            ("viewer", "/api/logs?name=road.csv&job=0001", 403),
            ("lead", "/api/jobs/0001/intake", 413),
            ("lead", "/api/jobs/0001/maps/files", 413),
        ],
    )
    def test_what_comes_without_a_length_is_counted_and_its_sender_asked(self, address, who, path, status):
        api = Remote(address, who or "nobody")
        method = "POST" if path.endswith(("sessions", "files")) else "PUT"
        cookie = "; ".join(f"{c.name}={c.value}" for c in api.jar)
        head = (
            f"{method} {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {cookie}\r\n"
            "Content-Type: application/json\r\nTransfer-Encoding: chunked\r\n\r\n"
        )
        got, sentence, went = told_to(address, head, chunks=2_000)
        assert got == status
        assert sentence.endswith(".")
        assert went < 400, f"{went} chunks of 64 kB went in before it was refused"

    @pytest.mark.parametrize(
        "path, host, status",
        [
            ("/static/assets/nothing.js", "evil.example", 400),
            ("/api/jobs", "evil.example", 400),
            ("/api/jobs/%00", "127.0.0.1", 400),
            ("/api/jobs/%ff%fe", "127.0.0.1", 400),
            ("/api/jobs?x=" + "y" * 9_000, "127.0.0.1", 400),
            ("/api/nowhere", "127.0.0.1", 404),
        ],
    )
    def test_addresses_that_are_none_are_answered(self, address, path, host, status):
        got, sentence, _ = told_to(address, f"GET {path} HTTP/1.1\r\nHost: {host}\r\n\r\n")
        assert got == status
        assert sentence.endswith(".")

    def test_static_files_have_the_headers_too(self, lead):
        with urllib.request.urlopen(f"{lead.base}/sign-in") as page:
            script = re.search(r'src="(/static/assets/[^"]+\.js)"', page.read().decode())[1]
        with urllib.request.urlopen(f"{lead.base}{script}") as answer:
            assert answer.headers["X-Content-Type-Options"] == "nosniff"
            assert answer.headers["X-Frame-Options"] == "DENY"
            assert "frame-ancestors 'none'" in answer.headers["Content-Security-Policy"]

    def test_a_name_rests_after_wrong_tries_and_says_how_long(self, address):
        stranger = Remote(address, "nobody")
        for _ in range(8):
            stranger.post("sessions", {"name": "installer", "phrase": "guess guess guess"})
            assert stranger.status in (401, 403, 429)
        told = stranger.post("sessions", {"name": "installer", "phrase": "sorrel pass 1450"})
        assert stranger.status == 429, told
        assert "rests here for another" in told["sentence"], told
        assert Remote(address, "viewer").get("sessions/current")["signed_in"], "the others still come in"

    def test_nothing_foreign_is_allowed_and_a_wrong_host_is_refused(self, lead):
        with urllib.request.urlopen(f"{lead.base}/sign-in") as page:
            policy, text = page.headers["Content-Security-Policy"], page.read().decode()
            assert page.headers["X-Frame-Options"] == "DENY"
        assert "default-src 'self'" in policy
        assert "http" not in policy
        assert not re.search(r"""(src|href)=["']https?://""", text)
        request = urllib.request.Request(f"{lead.base}/api/jobs", headers={"Host": "shop.example"})
        with pytest.raises(urllib.error.HTTPError) as wrong:
            urllib.request.urlopen(request)
        assert wrong.value.code == 400

    def test_screens_are_kept_by_the_browser_and_the_page_is_not(self, lead):
        with urllib.request.urlopen(f"{lead.base}/sign-in") as page:
            script = re.search(r'src="(/static/assets/[^"]+\.js)"', page.read().decode())[1]
        with urllib.request.urlopen(f"{lead.base}{script}") as answer:
            assert "immutable" in answer.headers["Cache-Control"]
            assert "javascript" in answer.headers["Content-Type"]


def test_runs_of_another_drum_prove_or_do_not(signed_in: Page, address: str):
    """A vehicle without an engine at this bench: its runs come as files, before and after, by the screens."""
    page = signed_in

    def run(scale: float, number: int, bare: bool = False) -> dict:
        rows = "\n".join(
            f"{rpm},{scale * (20 + rpm * 0.012) + 0.3 * number:.2f}" for rpm in range(2000, 6501, 100)
        )
        return {
            "name": f"run {number}.csv",
            "mimeType": "text/csv",
            "buffer": f"rpm,wheel kW\n{rows}\n".encode() if not bare else b"rpm,wheel kW\n",
        }

    def bring(when: str, scale: float, number: int, shown: int, intake: str) -> None:
        page.get_by_label("Intake air").fill(intake)
        page.get_by_label(f"Run file {when}").set_input_files(run(scale, number))
        expect(page.get_by_role("heading", name=f"Drum runs {when}: {shown} of 3")).to_be_visible()

    page.goto(f"{address}/jobs/0003/baseline")
    page.get_by_role("button", name="Bring a run, CSV").click()
    page.get_by_label("Run file before").set_input_files(run(1, 1))
    expect(page.locator("#work").get_by_role("alert")).to_contain_text("Enter the gear")
    page.get_by_label("Gear", exact=True).fill("4")
    page.get_by_label("Drum", exact=True).fill("Lower Bay drum")
    page.get_by_label("Intake air").fill("20")
    page.get_by_label("Run file before").set_input_files(run(1, 1, bare=True))
    expect(page.locator("#work").get_by_role("alert")).to_contain_text("The file: A run needs a header")
    expect(page.get_by_label("Gear", exact=True)).to_have_value("4")
    for number in (1, 2, 3):
        bring("before", 1.0, number, number, "68 °F")
    expect(page.get_by_label("go: Runs made alike")).to_be_visible()
    go(page, "Prove")
    page.get_by_role("button", name="Bring a run, CSV").click()
    for number in (1, 2, 3):
        bring("after", 1.001, number, number, "21")
    page.get_by_role("button", name="Enter this result").click()
    expect(page.get_by_label(re.compile("^hold: ")).first).to_be_visible(timeout=LONG)
    slat(page, "Prove", "held")
    counting = page.get_by_role("button", name="Leave out")
    for left in (2, 1, 0):
        counting.first.click()
        expect(counting).to_have_count(left)
    page.get_by_role("button", name="Bring a run, CSV").click()
    for number in (4, 5, 6):
        bring("after", 1.1, number, number - 3, "34 °C")
    page.get_by_role("button", name="Enter this result").click()
    expect(page.get_by_label("go: The gain is real")).to_be_visible(timeout=LONG)
    expect(page.locator("#work").get_by_label("hold: Runs were not made alike")).to_contain_text(
        "intake air apart"
    )
    expect(page.get_by_text(re.compile("at the crank the peak after lies somewhere between"))).to_be_visible()


def test_the_shelf_takes_a_new_thing_and_lets_go_of_one_nobody_uses(signed_in: Page, address: str):
    page = signed_in
    page.goto(f"{address}/shelf/pump")
    page.get_by_role("button", name="Add", exact=True).click()
    editor = page.get_by_label("Add a pump")
    editor.get_by_label("name", exact=True).fill("Pelvane 340 pump")
    editor.get_by_label("key", exact=True).fill("Pelvane 340")
    editor.get_by_role("button", name="Save").click()
    expect(editor.get_by_role("alert")).to_contain_text("pump “Pelvane 340”")
    editor.locator("summary").click()
    editor.get_by_label("curve: gauge kPa, l/h").fill("[[300, 340], [400, 300]]")
    editor.get_by_label("curve at").fill("13.5")
    editor.get_by_label("current", exact=True).fill("fifteen")
    editor.get_by_role("button", name="Save").click()
    expect(editor.get_by_role("alert").first).to_contain_text("“fifteen” is not a number")
    editor.get_by_label("curve at").fill("13500 mV")
    expect(editor.get_by_text("= 13.5 V")).to_be_visible()
    editor.get_by_label("current", exact=True).fill("15")
    editor.get_by_label("key", exact=True).fill("pelvane-340")
    editor.get_by_role("button", name="Save").click()
    expect(page.get_by_role("row", name=re.compile("Pelvane 340 pump"))).to_contain_text("15")
    kept = next(item for item in Remote(address).get("shelf-items?kind=pump") if item["key"] == "pelvane-340")
    assert kept["body"] == {"curve": [[300, 340], [400, 300]], "volts": 13.5, "current_a": 15.0}
    page.get_by_label("Find on the shelf").fill("255")
    expect(page.get_by_role("row", name=re.compile("Pelvane 340 pump"))).to_have_count(0)
    page.get_by_role("row", name=re.compile("Kelmar 255")).get_by_role("button", name="Edit").click()
    page.get_by_role("button", name="Take off the shelf").click()
    expect(page.locator("#work").get_by_text(re.compile("is used by .*: it stays"))).to_be_visible()
    page.get_by_label("Find on the shelf").fill("Pelvane 340")
    page.get_by_role("row", name=re.compile("Pelvane 340")).get_by_role("button", name="Edit").click()
    page.get_by_role("button", name="Take off the shelf").click()
    expect(page.get_by_text("Nothing fits. Try fewer letters.")).to_be_visible()


def test_a_new_hand_signs_in_and_takes_a_phrase_of_their_own(signed_in: Page, address: str, browser):
    page = signed_in
    page.goto(f"{address}/shop/people")
    page.get_by_role("button", name="Add a person").click()
    for label, text in (
        ("First name", "Una"),
        ("Last name", "Bray"),
        ("Signs in as", "una"),
        ("First pass phrase, 12 characters or more", "short"),
    ):
        page.get_by_label(label).fill(text)
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.locator("#work").get_by_text("at least 12 characters")).to_be_visible()
    page.get_by_label("First pass phrase, 12 characters or more").fill("kettle on the pass")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("row", name=re.compile("Una Bray"))).to_be_visible()
    other = browser.new_context().new_page()
    other.goto(f"{address}/sums/feed-line?outer=16&gaps=[cut")
    other.get_by_label("Name").fill("una")
    other.get_by_label("Pass phrase").fill("kettle on the pass")
    other.get_by_role("button", name="Sign in").click()
    # led to where one wanted to go, figures and all; of a link that was cut the whole part stands
    expect(other.get_by_label("Hose, outer diameter")).to_have_value("16")
    expect(other.get_by_role("alert")).to_contain_text("give a list of rows")
    other.goto(f"{address}/shop/me")
    other.get_by_label("Old pass phrase").fill("kettle on the pass")
    other.get_by_label("New pass phrase, 12 characters or more").fill("four words of my own")
    other.get_by_role("button", name="Change it").click()
    expect(other.get_by_text("Your pass phrase is changed.")).to_be_visible()
    other.get_by_role("button", name="Sign out").click()
    expect(other).to_have_url(re.compile("sign-in"))
    other.context.close()
    page.get_by_label("Una Bray may sign in").click()
    expect(page.get_by_label("Una Bray may sign in")).not_to_be_checked()
    assert not Remote(address, "una").get("sessions/current")["signed_in"]


def test_an_own_shop_is_opened_by_its_first_hand(page: Page, tmp_path):
    """Started on an empty folder: no pass phrase is public, nobody is locked out, and empty screens say what
    to do first.
    """
    with served(tmp_path, sample=False) as base:
        page.goto(f"{base}/floor")
        expect(page.get_by_text("A new shop: nobody is here yet.")).to_be_visible()
        for label, text in (
            ("Name of the shop", "Kettle Works"),
            ("Town", "Low Kettle"),
            ("Altitude", "1 200 ft"),
            ("Money", "marks"),
            ("Your first name", "Una"),
            ("Your last name", "Bray"),
            ("You sign in as", "una"),
            ("Your pass phrase", "short"),
        ):
            page.get_by_label(label).fill(text)
        page.get_by_role("button", name="Open the shop with the starter shelf").click()
        expect(page.get_by_role("alert")).to_contain_text("at least 12 characters")
        page.get_by_label("Your pass phrase").fill("kettle on the pass")
        page.get_by_role("button", name="Open the shop with the starter shelf").click()
        expect(page.get_by_text("Kettle Works, Low Kettle")).to_be_visible()
        expect(page.get_by_role("button", name="Open the first job")).to_be_visible()
        page.get_by_role("button", name="Open a job").click()
        expect(page.get_by_label("What is it called?")).to_be_visible()
        second = Remote(base, "una")
        told = second.post(
            "shops",
            {
                "house": {"name": "Mine", "altitude": "0"},
                "lead": {
                    "username": "eve",
                    "first": "",
                    "last": "",
                    "role": "lead",
                    "phrase": "mine mine mine",
                },
            },
        )
        assert second.status == 403
        assert "has people already" in told["sentence"]


def test_a_revision_grows_with_what_others_did_and_is_told_to_nobody_else(lead, address):
    other, stranger = Remote(address, "viewer"), Remote(address, "nobody")
    for _ in range(3):
        before = other.get(f"{J}/revision")
        lead.post(f"{J}/notes", {"text": "seen on the other tablet", "stage": "fit"})
        assert other.get(f"{J}/revision") > before
        assert other.get(f"{J}/revision") == other.get(J)["plate"]["revision"]
    stranger.get(f"{J}/revision")
    assert stranger.status == 401
    other.get("jobs/9999/revision")
    assert other.status == 404
    assert other.get("jobs/9999/revision")["sentence"]


def test_a_look_reads_once_and_an_act_sees_its_own_change():
    from types import SimpleNamespace

    from ventmap.server.shop.looking import looking, once_a_look

    row = SimpleNamespace(pk=1, value=1)
    value = once_a_look(lambda row: row.value)
    with looking():
        assert value(row) == 1
        row.value = 2
        with looking():
            assert value(row) == 1
        assert value(SimpleNamespace(pk=2, value=5)) == 5
    assert value(row) == 2
