"""A map begun from nothing, for a device on a vehicle that no shelf knows: then all that a known one has."""

from __future__ import annotations

import pytest

from tests.conftest import Api
from tests.server.test_unknown import opened
from tests.shopwork import answer_all, by_hand, intake, standing, steps
from ventmap.core.basics import BadInput
from ventmap.core.forms import FORMS, AxesTyped, Identity, MapConditions, as_begun, begin, rows_of_text

CAR = {
    "kind": "car",
    "name": "Wrenfield Saloon 1.8",
    "cylinders": 4,
    "stroke": 4,
    "injection": "port",
    "induction": "turbo",
    "owner": "Ada",
}
DIESEL = {**CAR, "kind": "pickup", "name": "Otterby Hauler 2.2", "injection": "diesel"}
BIKE = {**CAR, "kind": "motorcycle", "name": "Kestrel 690", "cylinders": 1, "induction": "none"}

OPTIONS = "what it is;stock;wanted;least;most;unit;why\nidle speed;750;800;600;1100;rpm;it shakes at 750\n"
OPTIONS += "rev limit;6500;;5000;6800;rpm;"
ENTRIES = "setting number;what it sets;coded as;stock;least;most\n7;tyre size;whole then tenths;63.4;50;80\n"
ENTRIES += "12;stop-start;whole;1;;"
#: Kind of device → vehicle, lists as pasted, tables, scalars.
KINDS = {
    "handheld or phone flasher": (CAR, {"options": OPTIONS}, {}, {}),
    "body-network module": (CAR, {"entries": ENTRIES}, {}, {}),
    "sensor piggyback": (
        CAR,
        {"levels": "1;95\n2;98"},
        {"added_boost": {"x": "1500 3000 6000"}},
        {"warm_up_s": "30 s", "level": "1"},
    ),
    "injector piggyback": (
        CAR,
        {"presets": "1;even"},
        {"pulse_factor": {"x": "0 25 50 85"}, "start_addition": {"x": "-20 20 80"}},
        {"preset": "1"},
    ),
    "inline fuel and ignition controller": (
        BIKE,
        {"positions": "position;what it is for;set by its maker\n0;stock;yes\n1;road;no\n2;race can;no"},
        {"fuel_trim": {"x": "2000 5000 9000", "y": "5 40 100"}}
        | {"spark_trim": {"x": "2000 9000", "y": "0 100"}},
        {},
    ),
    "injector driver module": (
        DIESEL,
        {},
        {"pulse_us": {"whole": "\t1000\t2500\t4000\n10\t300\t280\t250\n100\t1200\t1100\t900"}},
        {"injector_flow": "900 cm³/min", "window_deg": "40", "rev_limit": "4500 rpm"},
    ),
}


@pytest.fixture
def lead(shop) -> Api:
    return Api()


def path_of(lead: Api, job: str) -> str:
    part = next(one for one in lead.get(f"{job}/map-parts") if one["begins"])
    return f"{job}/map-parts/{part['part']}"


@pytest.mark.parametrize("kind", KINDS)
def test_every_form_is_begun_empty_and_goes_on_as_a_known_one(lead, kind):
    vehicle, lists, tables, scalars = KINDS[kind]
    job = opened(lead, vehicle, kind)
    if vehicle["injection"] != "diesel":
        intake(lead, job)
    answer_all(lead, job)
    path = path_of(lead, job)
    blank = lead.get(f"{path}/blank")
    assert [table["name"] for table in blank["tables"]] == list(FORMS[blank["form"]].tables)
    rows = {}
    for name, text in lists.items():
        rows[name] = lead.post(f"{path}/blank/read", {"list": name, "text": text})["rows"]
        assert lead.status == 200
    made = lead.post(f"{path}/begun", {"lists": rows, "tables": tables, "scalars": scalars})
    assert lead.status == 200, made
    assert made["version"] == "r0"
    assert lead.get(job)["ledger"]
    assert any(rule.startswith("map.") for rule in standing(lead, job)), "it is checked"
    lead.get(f"{path}/blank")
    assert lead.status == 422, "there is one now"
    screens = next((one for one in lead.get(f"{job}/entering")), None)
    assert screens is None or screens["screens"]
    if kind in ("handheld or phone flasher", "body-network module", "sensor piggyback"):
        assert screens is not None
        by_hand(lead, job, "intake", "plan", "make-safe", "fit", "base-map", "load")
        assert steps(lead, job)["load.read_back"]["done"]
        assert "read again after the power was off" in steps(lead, job)["load.read_back"]["words"]


WHOLE = ("standalone on an adapted harness", "plug-in ECU")


@pytest.mark.parametrize("kind", WHOLE)
def test_a_whole_map_of_another_program_is_told_by_figures_and_tables_of_any_name(lead, kind):
    """Begun by its figures, then tables that no form knows: each said what it is, checked, copied back."""
    job = opened(lead, CAR, kind)
    intake(lead, job)
    answer_all(lead, job)
    path = path_of(lead, job)
    part = path.rpartition("/")[2]
    blank = lead.get(f"{path}/blank")
    assert blank["form"] == "borrowed"
    assert blank["tables"] == []
    told = lead.post(f"{path}/begun", {})
    assert lead.status == 422
    assert "one figure at least" in told["sentence"]
    rows = lead.post(f"{path}/blank/read", {"list": "options", "text": OPTIONS})["rows"]
    figures = {"injector_flow": "40 lb/h", "displacement_cc": "1500", "overall_trim": "6"}
    lead.post(f"{path}/begun", {"lists": {"options": rows}, "scalars": figures})
    assert lead.status == 200
    held = standing(lead, job)
    trim = next(rule for rule in held if rule.startswith("map.overall_trim"))
    assert held[trim]["verdict"] == "hold"

    pasted = {"kind": "own", "text": "\t1000\t3000\t6000\n20\t5\t9\t12\n90\t15\t30\t25", "name": "Intake cam"}
    told = lead.post(f"{job}/borrowed/{part}", pasted)
    assert lead.status == 422
    assert "what it holds" in told["sentence"]
    pasted["about"] = {"holds": "cam timing", "x_text": "engine speed", "x_unit": "rpm"}
    pasted["about"] |= {"y_text": "load", "y_unit": "%", "low": "0", "high": "40"}
    wide = {**pasted, "text": pasted["text"].replace("\t30\t", "\t300\t")}
    told = lead.post(f"{job}/borrowed/{part}", wide)
    assert lead.status == 422
    assert "between 0 and 40" in told["sentence"]
    sheet = lead.post(f"{job}/borrowed/{part}", pasted)
    assert lead.status == 200, sheet
    cam = next(one for one in sheet["tables"] if one["name"] == "own.1")
    assert (cam["title"], cam["unit"], cam["y_unit"]) == ("Intake cam", "°", "%")
    limits = {"holds": "rev limit", "x_text": "gear"}
    lead.post(
        f"{job}/borrowed/{part}",
        {"kind": "own", "name": "Limit by gear", "text": "1\t2\t3\n6000\t6200\t9900", "about": limits},
    )
    assert lead.status == 200
    again = {**pasted, "text": pasted["text"].replace("12", "14")}
    sheet = lead.post(f"{job}/borrowed/{part}", again)
    assert [one["name"] for one in sheet["tables"]] == ["own.1", "own.2"], "of one name there is one"
    assert lead.get(f"{job}/borrowed/{part}/text?table=own.1")["text"].split() == again["text"].split()
    sheet = lead.post(
        f"{job}/sheets/{part}/edits",
        {"revision": sheet["revision"], "target": "own.1", "operation": "set", "amount": "41"},
    )
    assert lead.status == 422
    assert "Intake cam" in sheet["sentence"]
    lead.post(f"{job}/sheets/{part}/kept", {"note": "cam and limits brought in"})
    assert lead.status == 200
    held = standing(lead, job)
    limit = next(
        call for rule, call in held.items() if rule.startswith("map.rev_limit.") or "by gear" in str(call)
    )
    assert limit["verdict"] in ("hold", "stop"), "9 900 rpm of a limit that nobody knows, or beyond it"


def test_rows_are_added_and_taken_off_where_they_are_typed(lead):
    job = opened(lead, CAR, "handheld or phone flasher")
    intake(lead, job)
    path = path_of(lead, job)
    part = path.rpartition("/")[2]
    rows = lead.post(f"{path}/blank/read", {"list": "options", "text": OPTIONS})["rows"]
    lead.post(f"{path}/begun", {"lists": {"options": rows}})
    sheet = lead.get(f"{job}/sheets/{part}")
    have = [row["key"] for row in sheet["lists"][0]["rows"]]
    assert "idle" in have, "what it is called says what it governs"
    edit = {"target": "list:options", "operation": "add", "revision": sheet["revision"]}
    fan = {"name": "Fan comes on", "stock": "96", "low": "80", "high": "105", "unit": "°C"}
    more = lead.post(f"{job}/sheets/{part}/edits", {**edit, "row": fan})
    assert [row["key"] for row in more["lists"][0]["rows"]] == [*have, "fan_on"]
    for bad, word in ((fan, "stands there already"), ({"name": "x"}, "stock is missing"), ({}, "missing")):
        told = lead.post(f"{job}/sheets/{part}/edits", {**edit, "revision": more["revision"], "row": bad})
        assert lead.status == 422
        assert word in told["sentence"], told
    off = {**edit, "operation": "take off", "key": "fan_on", "revision": more["revision"]}
    less = lead.post(f"{job}/sheets/{part}/edits", off)
    assert [row["key"] for row in less["lists"][0]["rows"]] == have
    back = lead.post(f"{job}/sheets/{part}/undo", {})
    assert "fan_on" in [row["key"] for row in back["lists"][0]["rows"]]


def test_what_is_wrong_is_named_and_nothing_is_kept(lead):
    job = opened(lead, CAR, "handheld or phone flasher")
    intake(lead, job)
    path = path_of(lead, job)
    good = {"name": "idle speed", "stock": "750", "low": "600", "high": "1100"}
    for rows, field, word in (
        ([], "lists.options", "one row at least"),
        ([good | {"stock": "75o"}], "lists.options.1.stock", "is no figure"),
        ([good, good], "lists.options", "twice"),
        ([good | {"wanted": "1400"}], "lists.options", "lies between 600 and 1100"),
        ([good | {"closed_course": "perhaps"}], "lists.options.1.closed_course", "yes or no"),
        ([{"name": "idle speed"}], "lists.options", "stock is missing"),
        ([{"name": "idle speed", "stock": "750", "wanted": "800"}], "lists.options", "750"),
    ):
        told = lead.post(f"{path}/begun", {"lists": {"options": rows}})
        assert (lead.status, told["field"]) == (422, field), told
        assert word in told["sentence"], told
    assert lead.get(f"{path}/blank")["lists"][0]["rows"] == []


def test_what_is_taken_over_is_the_list_and_no_wish_of_another_owner(lead):
    job = opened(lead, CAR, "handheld or phone flasher")
    intake(lead, job)
    path = path_of(lead, job)
    alike = lead.get(f"{path}/blank")["alike"]
    assert alike
    for one in alike:
        rows = lead.get(f"{path}/blank?like={one['key']}")["lists"][0]["rows"]
        assert rows
        assert all(row["wanted"] == row["stock"] and "reason" not in row for row in rows), one


@pytest.mark.parametrize("form", [form for form in FORMS.values() if form.lists and form.key != "borrowed"])
def test_a_list_is_read_back_as_it_was_pasted(form):
    """Tab or semicolon, headings in any order or none: the same rows."""
    for kind in form.lists.values():
        columns = [key for key in kind.columns if key != "key"]
        cells = [f"{n + 1}" for n in range(len(columns))]
        want = [dict(zip(columns, cells, strict=True))]
        assert rows_of_text(kind, "\t".join(cells)) == want
        heads = [kind.columns[key].text for key in reversed(columns)]
        text = ";".join(heads) + "\n" + ";".join(reversed(cells))
        assert rows_of_text(kind, text) == want
        with pytest.raises(BadInput, match="cells"):
            rows_of_text(kind, "\t".join([*cells, "1"]))


def test_a_begun_map_taken_over_is_the_same_again():
    form = FORMS["trim"]
    typed = {"positions": [{"number": "1", "name": "road", "fixed": "no"}]}
    axes = {name: AxesTyped("2000 9000", "0 100") for name in ("fuel_trim", "spark_trim")}
    told = {"name": "x", "identity": Identity("e", "c", ""), "author": "a", "conditions": MapConditions()}
    first = begin(form, lists=typed, tables=axes, scalars={}, **told)
    lists, tables = as_begun(first)
    assert begin(form, lists=lists, tables=tables, scalars={}, **told).sha256 == first.sha256
    assert not first.tables["fuel_trim.1"].values.any()


def test_what_is_kept_for_the_next_one_is_no_wish_either(lead):
    job = opened(lead, CAR, "handheld or phone flasher")
    intake(lead, job)
    path = path_of(lead, job)
    row = {
        "name": "idle speed",
        "stock": "750",
        "wanted": "800",
        "low": "600",
        "high": "1100",
        "reason": "shakes",
    }
    made = lead.post(f"{path}/begun", {"lists": {"options": [row]}})
    number = job.split("/")[1]
    lead.post(f"jobs/{number}/maps/{made['id']}/shelved", {"name": "Pocket flasher, saloon"})
    assert lead.status == 200
    kept = next(item for item in lead.get("shelf-items?kind=map") if item["name"] == "Pocket flasher, saloon")
    assert kept["body"]["lists"]["options"][0]["wanted"] == 750
    assert "reason" not in kept["body"]["lists"]["options"][0]


class TestToCopy:
    """Figures of the injectors in the axes and units of another program."""

    PATH = "jobs/0001/figures-to-copy"

    def test_flow_here_by_volume_and_mass(self, lead):
        lead.put("jobs/0001/plan", {"injectors": "fenwright-330"})
        item = next(i for i in lead.get("shelf-items?kind=injector") if i["key"] == "fenwright-330")
        told, sheet = lead.get(self.PATH), item["body"]
        # By mass, the other way round: ṁ ∝ √(Δp · ρ) of the sheet's own mass flow.
        density = {"petrol": 0.745, "n-heptane": 0.684}[sheet.get("test_fluid", "petrol")]
        rated = sheet["flow"] * density / 60
        here = rated * (told["across_kpa"] / sheet["rated_kpa"] * told["density"] / density) ** 0.5
        assert told["mass_g_s"] == pytest.approx(here)
        assert told["flow"] == pytest.approx(here * 60 / told["density"])

    @pytest.mark.parametrize("unit", ["ms", "µs"])
    @pytest.mark.parametrize("rows", ["volts", "pressure"])
    @pytest.mark.parametrize("decimal", [".", ","])
    def test_the_same_dead_times_however_they_are_asked(self, lead, unit, rows, decimal):
        lead.put("jobs/0001/plan", {"injectors": "fenwright-330"})
        plain = lead.get(self.PATH)["text"].splitlines()
        told = lead.get(f"{self.PATH}?unit={unit}&rows={rows}&decimal={decimal}")["text"]
        cells = [line.split("\t") for line in told.replace(",", ".").splitlines()]
        if rows == "pressure":
            cells = [list(column) for column in zip(*cells, strict=True)]
        want = [line.split("\t") for line in plain]
        assert [row[0] for row in cells] == [row[0] for row in want]
        scale = 1000.0 if unit == "µs" else 1.0
        for row, sheet_row in zip(cells[1:], want[1:], strict=True):
            given = [float(cell) / scale for cell in row[1:]]
            assert given == pytest.approx([float(cell) for cell in sheet_row[1:]], abs=6e-4)

    def test_absolute_is_the_barometer_more_and_what_lies_beyond_is_counted(self, lead):
        lead.put("jobs/0001/plan", {"injectors": "fenwright-330"})
        across = lead.get(f"{self.PATH}?volts=12&pressures=300")
        barometer = lead.get("jobs/0001")["plate"]["barometer_kpa"]
        absolute = lead.get(f"{self.PATH}?volts=12&pressures={300 + barometer}&pressure=absolute")
        assert across["text"].split("\t")[-1] == absolute["text"].split("\t")[-1]
        assert (across["beyond"], across["cells"]) == (0, 1)
        assert lead.get(f"{self.PATH}?volts=3%2012")["beyond"] > 0
        lead.get(f"{self.PATH}?volts=twelve")
        assert lead.status == 422
