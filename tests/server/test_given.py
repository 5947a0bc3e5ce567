"""What is given at the doors: files that ask for more than they bring, words that are formulas, who may."""

from __future__ import annotations

import io
import threading
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import given
from hypothesis import strategies as st
from PIL import ImageFile

from tests.conftest import Api, make_base_map
from tests.shopwork import J, picture, send, to_map
from ventmap.core.basics import BadInput, LogError, VentMapError, as_text, as_was
from ventmap.core.electrics import PinRow, pin_plan_csv, read_pin_plan
from ventmap.core.forms import read_map_file, to_hex, to_json, to_workbook
from ventmap.core.lists import read_sheet, write_csv, write_workbook
from ventmap.server import backup
from ventmap.server.jobs.models import UnderWay
from ventmap.server.logs import captures
from ventmap.server.shop import apart


def zipped(names: dict[str, bytes], flag: int = 0) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, data in names.items():
            packed.writestr(name, data)
    data = bytearray(out.getvalue())
    if flag:  # the general-purpose bits of each entry of the directory
        at = data.find(b"PK\x01\x02")
        data[at + 8] |= flag
    return bytes(data)


BOMB = zipped({"xl/workbook.xml": b" " * 90_000_000})
FAR_HEX = b":020000040800F2\n:0100000001FE\n:02000004FFFFFC\n:01FFFF0001FF\n:00000001FF\n"
MAPS = {
    "a HEX file that reaches over gigabytes": FAR_HEX,
    "a HEX file that is no text": b":" + bytes(range(128, 200)),
    "a workbook that unpacks to much more": BOMB,
    "an encrypted workbook": zipped({"xl/workbook.xml": b"x"}, flag=1),
    "a zip that is cut": to_workbook(make_base_map())[:900],
    "brackets without end": b"[" * 200_000,
    "broken text": b'{"format": "\xff\xfe"}',
    "half a map": to_json(make_base_map()).encode()[:4_000],
}


@pytest.mark.parametrize("what", MAPS)
def test_a_map_that_asks_for_more_than_it_brings_is_refused_in_words(what):
    with pytest.raises(VentMapError):
        read_map_file(MAPS[what])


def test_a_map_is_read_apart_and_comes_in_whole(lead):
    to_map(lead)
    for name, data in (("far.hex", FAR_HEX), ("deep.json", b"[" * 200_000), ("bomb.xlsx", BOMB)):
        answer = lead.client.post(f"/api/{J}/maps/files", {"file": SimpleUploadedFile(name, data)})
        assert answer.status_code == 422, answer.content
        assert answer.json()["sentence"]
    hexed = SimpleUploadedFile("a.hex", to_hex(make_base_map()).encode())
    lead.client.post(f"/api/{J}/maps/files", {"file": hexed})
    for key in ("customers", "vehicles"):
        assert "unpacks to" in send(lead, f"lists/{key}/columns?name=a.xlsx", BOMB)["sentence"]


def test_a_reader_has_its_share_of_memory_time_and_turns(monkeypatch):
    assert apart.read_apart(list, range(3), size=10) == [0, 1, 2]
    with pytest.raises(LogError, match="more memory"):
        apart.read_apart(list, range(200_000_000), size=10)
    assert apart.time_limit(10_000) == pytest.approx(20, abs=0.1), "what is small takes no time"
    assert apart.time_limit(2_000_000_000) == 240
    # Two small files, or two of a viewer's, are never both readers: a log of work still finds one free.
    with apart._turn(10, False, lambda: False):
        with pytest.raises(LogError, match="stopped"), apart._turn(10, False, lambda: True):
            pass
        with apart._turn(5_000_000, False, lambda: True):
            pass
    with (
        apart._turn(5_000_000, True, lambda: False),
        pytest.raises(LogError, match="stopped"),
        apart._turn(5_000_000, True, lambda: True),
    ):
        pass


def test_a_thousand_customers_are_kept_without_comparing_each_with_each(lead):
    from ventmap.server.lists.models import Customer

    rows = [[f"Person {n}", f"55 {n}"] for n in range(1_000)]
    data = write_csv(["Name", "Phone"], rows)
    columns = '{"Name": ["name", ""], "Phone": ["phone", ""]}'
    told = send(lead, f"lists/customers/rows?name=a.csv&columns={columns}", data)
    assert told["made"] == 1_000
    again = write_csv(["Name", "Phone"], [[f"PERSON {n}", f"55 {n + 1}"] for n in range(1_000)])
    told = send(lead, f"lists/customers/rows?name=a.csv&columns={columns}", again)
    assert told["changed"] == 1_000
    assert Customer.objects.filter(name__istartswith="person").count() == 1_000


cells = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Z")), max_size=30)
formulas = st.builds("{}{}".format, st.sampled_from(["=", "+", "-", "@", "'=", "''+"]), cells)


class TestFormulas:
    @given(st.one_of(cells, formulas))
    def test_a_cell_comes_back_as_it_was_and_is_no_formula_between(self, cell):
        written = as_text(cell)
        assert as_was(written) == cell
        assert not written.startswith(("=", "@"))
        if written.startswith(("+", "-")):
            float(written.replace(",", "."))

    @given(st.lists(st.one_of(cells, formulas).filter(bool), min_size=2, max_size=4))
    def test_lists_and_pin_plans_come_back(self, row):
        heads = [f"h{n}" for n in range(len(row))]
        for data in (write_csv(heads, [row]), write_workbook(heads, [row])):
            assert list(read_sheet(data, "a").rows[0]) == row
        pin = PinRow(connector="A", number="1", function=row[0], colour=row[1], action="keep")
        assert read_pin_plan(pin_plan_csv([pin])) == [pin]

    def test_a_pin_plan_is_read_by_the_rules_of_csv(self):
        plan = 'connector,"number",function\r\nA,"1","12 V, switched"\r\n'
        assert read_pin_plan(plan)[0].function == "12 V, switched"
        assert read_pin_plan(plan.replace("\r\n", "\r"))[0].number == "1"
        with pytest.raises(BadInput, match="CSV"):
            read_pin_plan('connector,number\nA,"' + "x" * 140_000)


class TestWho:
    def test_a_phrase_that_is_made_of_the_persons_name_is_refused(self, lead):
        body = {"username": "rowanames", "first": "Rowan", "last": "Ames", "role": "installer"}
        told = lead.post("people", {**body, "phrase": "rowanames123"})
        assert lead.status == 422
        assert told["field"] == "phrase"
        lead.post("people", {**body, "phrase": "ten green vents 7"})
        assert lead.status == 200

    def test_keeping_a_jobs_log_is_for_those_who_work(self, lead):
        road = b"Time (s),Engine speed (rpm)\n" + b"".join(b"%.1f,900\n" % (n / 10) for n in range(100))
        log = send(lead, "logs?name=a.csv&job=0001", road)["id"]
        viewer = Api("viewer")
        viewer.put(f"logs/{log}/kept", {"kept": True})
        assert viewer.status == 403
        Api("installer").put(f"logs/{log}/kept", {"kept": True})

    def test_a_form_where_none_belongs_is_refused_in_words(self, lead):
        answer = lead.client.post(f"/api/{J}/notes", {"text": "by form"})
        assert answer.status_code == 415
        assert "JSON" in answer.json()["sentence"]


def test_half_a_picture_is_none_whatever_another_library_allows(lead, monkeypatch):
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)
    data = picture(size=(1600, 1200))
    told = send(lead, f"{J}/photos?name=cut.jpg", data[: len(data) // 100])
    assert lead.status == 422
    assert told["field"] == "photo"
    assert send(lead, f"{J}/photos?name=whole.jpg", data)["id"]


def test_a_dbc_file_is_as_long_as_its_record_takes_it(lead):
    dbc = 'VERSION ""\n' + 'BO_ 100 M: 8 X\n SG_ S : 0|8@1+ (1,0) [0|0] "" X\n' * 2_000
    body = {"headings": ["a", "b"], "columns": [], "dbc": dbc}
    lead.put("shelf-items", {"kind": "source", "key": "can-1", "name": "A bus", "body": body})
    assert lead.status == 200
    long = {**body, "headings": ["x" * 20_000]}
    told = lead.put("shelf-items", {"kind": "source", "key": "can-2", "name": "B", "body": long})
    assert lead.status in (400, 422)
    assert told["sentence"]


def test_a_restore_sees_a_server_that_runs(settings, tmp_path):
    settings.DATA = tmp_path
    (tmp_path / "a.zip").write_bytes(b"x")
    with backup.serving():
        held: list[str] = []

        def restore() -> None:
            try:
                backup.restore(tmp_path / "a.zip")
            except backup.BackupError as error:
                held.append(error.sentence)

        thread = threading.Thread(target=restore)
        thread.start()
        thread.join()
    assert "Stop it first" in held[0]
    (tmp_path / "backups").mkdir()
    (tmp_path / "backups" / "ventmap-1.part").write_bytes(b"half")
    (tmp_path / "restoring-x").mkdir()
    backup.sweep_halves()
    assert not (tmp_path / "restoring-x").exists()
    assert not list((tmp_path / "backups").iterdir())


def test_a_capture_that_is_refused_never_runs_on(lead, monkeypatch):
    from ventmap.server.jobs.models import Job

    def full(*given: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(captures, "begun", full)
    lead.client.raise_request_exception = False
    lead.post(f"{J}/captures", {"watched": False, "baseline": True})
    assert lead.status == 507
    found = captures.running(Job.objects.get(number="0001"))
    assert found is None or found.state != "running"
    monkeypatch.undo()
    lead.post(f"{J}/captures", {"watched": False, "baseline": True})
    assert lead.status == 200, "the line was given back"
    from tests.shopwork import until

    until(lambda: lead.get(f"{J}/captures/current"), lambda c: c["state"] != "running")
    assert not UnderWay.objects.exists()
