"""What a shop has in files: brought with a dry run, and out again the same way."""

from __future__ import annotations

import io
import json
from urllib.parse import urlencode

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ventmap.core.basics import BadInput
from ventmap.core.lists import (
    LISTS,
    Mapped,
    Row,
    dry_run,
    guess_columns,
    list_by,
    read_sheet,
    write_csv,
    write_workbook,
)

CUSTOMERS = "Kunde;Telefon;Farbe\nMara Lind;+44 20 7946 0000;blau\nOle Brandt;;rot\n".encode("cp1252")
VEHICLES = (
    "Plate,Chassis,Model,Owner,Mileage (mi)\n"
    "SP 12,,Corvane Estate 2.0,Mara Lind,1000\n"
    "SP 13,WVW000,Something rare,Ole Brandt,2 000 km\n"
    "SP 14,WVW000,Another,Ole Brandt,3\n"
    ",,Nameless,,\n"
)


def sent(api, path: str, data: bytes, **query) -> dict:
    answer = api.client.put(f"/api/{path}?{urlencode(query)}", data, content_type="application/octet-stream")
    api.status = answer.status_code
    return answer.json()


def assigned(api, key: str, data: bytes, **changes) -> str:
    """Columns as the page shows them, with what a hand changes."""
    read = sent(api, f"lists/{key}/columns", data)
    columns = {c["heading"]: [c["field"], c["unit"]] for c in read["columns"]}
    return json.dumps(columns | changes)


def test_a_list_is_tried_then_kept_then_remembered_and_comes_out_again(lead):
    columns = assigned(lead, "customers", CUSTOMERS, Farbe=["note", ""])
    tried = sent(lead, "lists/customers/dry-run", CUSTOMERS, columns=columns)
    assert (tried["made"], tried["refused"]) == (2, 0)
    assert "Mara Lind" not in lead.get("lists/customers/file").decode(), "a dry run keeps nothing"
    sent(lead, "lists/customers/rows", CUSTOMERS, columns=columns)
    read = sent(lead, "lists/customers/columns", CUSTOMERS)
    assert read["remembered"]
    assert read["columns"][2]["field"] == "note"
    again = CUSTOMERS.replace(b"rot", b"gr\xfcn")
    told = sent(lead, "lists/customers/rows", again, columns=columns)
    assert (told["made"], told["changed"], told["same"]) == (0, 1, 1)
    assert "rot → grün" in told["lines"][0]["told"]
    for form in ("csv", "xlsx"):
        out = lead.get(f"lists/customers/file?form={form}")
        back = sent(lead, "lists/customers/dry-run", out, columns=assigned(lead, "customers", out))
        assert back["same"] >= 2
        assert not back["made"] + back["changed"] + back["refused"]


def test_vehicles_are_known_by_their_number_and_open_a_job(lead):
    data = VEHICLES.encode()
    columns = assigned(lead, "vehicles", data)
    told = sent(lead, "lists/vehicles/rows", data, columns=columns)
    refused = {line["line"]: line["told"] for line in told["lines"] if line["outcome"] == "refused"}
    assert told["made"] == 2
    assert set(refused) == {4, 5}
    assert "stands on line 3" in refused[4]
    assert "nobody can tell" in refused[5]
    rows = {row["registration"]: row for row in lead.get("owned-vehicles")}
    assert rows["SP 12"]["odometer_km"] == pytest.approx(1609.344)
    assert rows["SP 13"]["odometer_km"] == 2000
    assert rows["SP 12"]["shelf_key"] == "corvane-estate-20"
    assert "Ole Brandt" in lead.get("lists/customers/file").decode(), "owners are customers"
    other = data.replace(b"SP 13", b"SP 99")
    told = sent(lead, "lists/vehicles/dry-run", other, columns=columns)
    assert [c for c in told["lines"] if "contradicts SP 13" in c["told"]]


def test_what_cannot_be_is_told_and_nothing_is_kept(lead):
    book = openpyxl.Workbook()
    for row in (["Name", "Price"], ["Rag", 1.5], [None, 2]):
        book.active.append(row)
    book.active.merge_cells("A2:A3")
    merged = io.BytesIO()
    book.save(merged)
    told = sent(lead, "lists/parts/columns", merged.getvalue())
    assert lead.status == 422
    assert "merged cells (A2:A3)" in told["sentence"]
    flows = b"Name,Flow,Rated\nA,440 cc/min,3 bar\nB,42 lb/h,43.5 psi\nC,300,300 kPa\n"
    columns = assigned(lead, "injectors", flows)
    told = sent(lead, "lists/injectors/dry-run", flows, columns=columns)
    assert (told["made"], told["refused"]) == (2, 1)
    assert "mixes units" in told["lines"][-1]["told"]
    told = sent(lead, "lists/parts/dry-run", b"a,b\n1,2\n", columns='{"a":["",""],"b":["price","money"]}')
    assert lead.status == 422
    assert told["field"] == "columns"
    assert "Name" in told["sentence"]
    told = sent(lead, "lists/customers/rows", b"Name,E-mail\n,x@y\n", columns='{"Name":["name",""]}')
    assert lead.status == 422
    assert "nothing was kept" in told["sentence"]


CELLS = st.text(st.characters(exclude_categories=("C", "Z")), max_size=12)


@given(
    st.lists(
        st.tuples(CELLS.filter(bool), CELLS, CELLS),
        min_size=1,
        max_size=6,
        unique_by=lambda r: r[0].casefold(),
    )
)
@pytest.mark.parametrize("write", [write_csv, write_workbook])
def test_a_list_that_goes_out_comes_in_the_same(write, rows):
    sheet = read_sheet(write(("Name", "Telephone", "Note"), rows), "out")
    assert [list(row) for row in sheet.rows] == [list(row) for row in rows]


@pytest.mark.parametrize("kind", LISTS, ids=lambda kind: kind.key)
@given(data=st.binary(max_size=200))
def test_any_bytes_are_a_list_or_a_sentence(kind, data):
    try:
        sheet = read_sheet(data, "x")
        columns = guess_columns(kind, sheet)
        dry_run(kind, sheet, columns, [])
    except BadInput as error:
        assert error.sentence.endswith(".")
        assert error.field in ("file", "columns")


def test_a_figure_that_only_looks_other_is_the_same():
    kind = list_by("vehicles")
    sheet = read_sheet(b"Registration;Model;km\nA 1;Box;1 000\n", "x")
    had = [Row({"registration": "A1", "model": "Box", "odometer_km": 1000.0})]
    assert [c.outcome for c in dry_run(kind, sheet, guess_columns(kind, sheet), had)] == ["changed"]
    plain = {**guess_columns(kind, sheet), "Registration": Mapped("registration")}
    same = [Row({"registration": "A 1", "model": "Box", "odometer_km": 1000.0})]
    assert [c.outcome for c in dry_run(kind, sheet, plain, same)] == ["same"]


def everything() -> dict[str, int]:
    """How many rows every table holds, but for who looked in when."""
    from django.apps import apps

    passing = (
        "floorrow",
        "session",
        "signedin",
        "logentry",
        "contenttype",
        "permission",
        "wrongtry",
        "migration",
    )
    return {
        model._meta.label: model._base_manager.count()
        for model in apps.get_models()
        if not any(word in model._meta.model_name for word in passing)
    }


def test_the_sample_shop_beside_an_own_one_leaves_without_a_trace(transactional_db, settings, tmp_path):
    from django.test import Client

    from tests.conftest import Api
    from tests.shopwork import intake, picture

    settings.MEDIA_ROOT = tmp_path / "files"
    house = {"name": "Own", "altitude": "320 m", "currency": "EUR"}
    lead = {"username": "ann", "first": "Ann", "last": "Lee", "role": "lead", "phrase": "sorrel pass 1450"}
    Client(SERVER_NAME="localhost").post(
        "/api/shops", json.dumps({"house": house, "lead": lead}), content_type="application/json"
    )
    api = Api("ann")
    own = api.post(
        "jobs/unknown",
        {
            "name": "Own car",
            "kind": "car",
            "cylinders": 4,
            "stroke": 4,
            "injection": "port",
            "induction": "none",
        },
    )["number"]
    before = everything()
    assert "practice jobs" in api.put("practice-shop")["sentence"]
    rows = api.get("jobs")
    assert sum(row["practice"] for row in rows) >= 5
    assert not next(r for r in rows if r["number"] == own)["practice"]
    job = f"jobs/{next(row['number'] for row in rows if row['practice'])}"
    intake(api, job)
    api.post(f"{job}/kit/new-pump", {"name": "Practice pump"})
    sent(api, f"{job}/photos", picture(), step="fit.routing", name="seen.jpg")
    api.put(f"{job}/steps/intake.compression/grid", {"data": {"kpa": ["1200"]}})
    assert api.put("practice-shop")["field"] == "practice"
    api.call("delete", "practice-shop")
    assert everything() == before
    assert not [path for path in (tmp_path / "files").rglob("*") if path.is_file()]
    assert [row["number"] for row in api.get("jobs")] == [own]
