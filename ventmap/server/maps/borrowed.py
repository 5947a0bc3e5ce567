"""Tables that live in another program: pasted, worked on here, copied back in the shape they came in."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Table2D, one_figure
from ventmap.core.forms import (
    FORMS,
    HOLDS,
    MOST_OWN,
    OWN,
    OWN_LIST,
    Calibration,
    Identity,
    Lineage,
    Row,
    TableKind,
    as_ours,
    own_kind,
    place,
    read_table,
    table_cells,
    turned,
    typed_row,
    with_shape,
    write_table,
)

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.models import Job
from ..jobs.rows import vehicle_of
from .drafts import as_it_is, draft_of, put
from .judged import settle
from .models import MapVersion
from .parts import MapPart, versions_of, written_for
from .services import calibration_of, keep

BORROWED = FORMS["borrowed"]
#: Lists of such a map that pasting makes: nobody types them.
PASTED_LISTS = ("shapes", OWN_LIST)
#: Largest text that is read [letters].
MOST_TEXT = 200_000
FACTORS = ("value", "column", "row")


def kinds_out() -> list[dict[str, Any]]:
    """What a pasted table may be; one that no form knows stands first, where it is found."""
    names = sorted(BORROWED.tables, key=lambda name: name != OWN)
    return [about_table(name, BORROWED.tables[name]) for name in names]


def about_table(name: str, kind: TableKind) -> dict[str, Any]:
    """What a table is, with its axes and units, for a screen that asks for one."""
    columns = BORROWED.lists[OWN_LIST].columns if name == OWN else {}
    return {
        "asks": [
            {**vars(column), "key": key, "choices": list(column.choices)}
            for key, column in columns.items()
            if key not in ("number", "name")
        ],
        "name": name,
        "text": kind.text,
        "unit": kind.unit,
        "x_text": kind.columns.text,
        "x_unit": kind.columns.unit,
        "y_text": kind.rows.text if kind.rows else "",
        "y_unit": kind.rows.unit if kind.rows else "",
    }


def _kind(name: str, about: dict[str, str] | None = None) -> TableKind:
    kind = BORROWED.tables.get(name)
    if kind is None:
        raise BadInput("Say what this table is: choose one of the list.", "kind")
    return own_kind(_about(about or {}, 1)) if name == OWN else kind


def _about(typed: dict[str, str], number: int) -> Row:
    """What somebody says of a table that no form knows."""
    kind = BORROWED.lists[OWN_LIST]
    row = typed_row(OWN_LIST, kind, {**typed, "number": str(number)})
    lacks = next((column for key, column in kind.columns.items() if column.needed and key not in row), None)
    if lacks is not None:
        raise BadInput(f"Say of this table: {lacks.text}.", "about")
    if row["holds"] not in HOLDS:
        raise BadInput(f"It holds one of: {', '.join(HOLDS)}.", "about")
    if float(row.get("low", -1e9)) > float(row.get("high", 1e9)):
        raise BadInput("Its least figure lies above its most.", "about")
    return row


def _factors(typed: dict[str, str]) -> dict[str, float]:
    found = {}
    for name in FACTORS:
        text = str(typed.get(name) or "").strip()
        if not text:
            continue
        value = one_figure(text)
        if value is None or value <= 0:
            raise BadInput(f"Its {name} for one of ours: “{text[:20]}” is no figure above zero.", name)
        found[name] = value
    return found


def read(
    text: str, name: str, turn: bool | None, factors: dict[str, str], about: dict[str, str] | None = None
) -> dict[str, Any]:
    """What a pasted text is read as, before anything is kept."""
    if len(text) > MOST_TEXT:
        raise BadInput("This is more text than any table of the trade has. Paste one table.", "text")
    kind, pasted = _kind(name, about), read_table(text)
    down = turned(pasted, kind) if turn is None else turn
    table, shape = as_ours(pasted, kind, turn=down, factors=_factors(factors))
    return {
        "turned": down,
        "x": table.x.tolist(),
        "y": table.y.tolist(),
        "values": table.values.tolist(),
        "decimal": shape["decimal"],
        "between": shape["between"],
        "digits": int(shape["digits"]),
    }


@changes_job
def bring(job: Job, part: MapPart, body: dict[str, Any], by: User) -> None:
    """Take a pasted table into this device's map: the first makes it, the next are edits of its sheet."""
    name, text = str(body["kind"]), str(body["text"])
    called = " ".join(str(body.get("name") or "").split())[:80]
    about = {**(body.get("about") or {}), **({"name": called} if called and name == OWN else {})}
    read(text, name, body.get("turned"), body.get("factors") or {}, about)
    kind, pasted = _kind(name, about), read_table(text)
    down = turned(pasted, kind) if body.get("turned") is None else bool(body["turned"])
    table, shape = as_ours(pasted, kind, turn=down, factors=_factors(body.get("factors") or {}))
    if called:
        shape["name"] = called
    versions = versions_of(job, part.key)
    if versions and calibration_of(versions[-1]).form == BORROWED.key:
        draft = draft_of(job, part)
        now = as_it_is(draft)
        if name == OWN:
            name, row, old_row = _own(now, about)
            put(draft, f"list:{OWN_LIST}", "what it is", [[str(row["number"]), "", old_row, row]], called, by)
        put(draft, name, "pasted whole", table_cells(now.tables.get(name), table), called, by)
        old = next((row for row in now.lists.get("shapes", ()) if row["table"] == name), None)
        put(draft, "list:shapes", "its shape", [[name, "", old, {"table": name, **shape}]], called, by)
        return
    if versions:
        raise BadInput(
            f"{part.item.name} runs a map that was chosen here; a table of another program would be a second"
            " truth. Edit the sheet instead.",
            "part",
        )
    first = f"{OWN}.1" if name == OWN else name
    vehicle = vehicle_of(job)
    made = Calibration(
        called or f"{kind.text}, from {part.item.name}",
        Identity(vehicle.engine, written_for(part, vehicle), "", vin=job.vin),
        {},
        {first: table},
        lineage=Lineage("r0", note="pasted from its own program", author=by.username),
        form=BORROWED.key,
        lists={
            "shapes": with_shape((), first, shape),
            **({OWN_LIST: (_about(about, 1),)} if name == OWN else {}),
        },
    )
    version = keep(job, made, by, None, "pasted from its own program", part.key)
    ledger.write(
        job,
        "base-map",
        "map",
        f"Table of another program: {kind.text}",
        by,
        f"{part.item.name}, {version.version}",
    )
    settle(job, part, by)


def _own(now: Calibration, typed: dict[str, str]) -> tuple[str, dict[str, Any], dict[str, Any] | None]:
    """Which table of its own name this is: the one that is called so, else the next; its row, and the one
    that stood.
    """
    rows = now.lists.get(OWN_LIST, ())
    old = next((dict(row) for row in rows if row["name"] == typed.get("name")), None)
    number = float(old["number"]) if old else max((float(row["number"]) for row in rows), default=0.0) + 1
    if number > MOST_OWN:
        raise BadInput(f"At most {MOST_OWN} tables of their own names are kept.", "about")
    return f"{OWN}.{number:g}", dict(_about(typed, int(number))), old


def _shape(calibration: Calibration, name: str) -> Row:
    shape = next((row for row in calibration.lists.get("shapes", ()) if row["table"] == name), None)
    if shape is None or name not in calibration.tables:
        raise BadInput("No table of that kind was pasted here.", "table")
    return shape


def text_out(job: Job, part: MapPart, name: str) -> dict[str, Any]:
    """The table as it is now, as text in the shape in which it came."""
    now = as_it_is(draft_of(job, part))
    return {"text": write_table(_table(now, name), _shape(now, name))}


def _table(now: Calibration, name: str) -> Table2D:
    if name not in now.tables:
        raise BadInput("This map has no such table.", "table")
    return now.tables[name]


def card_out(job: Job, part: MapPart, name: str) -> list[dict[str, Any]]:
    """Cell by cell what to type where copying is impossible: where, old and new, in its own units."""
    now = as_it_is(draft_of(job, part))
    here, shape = _table(now, name), _shape(now, name)
    first = next(
        (
            calibration_of(version)
            for version in MapVersion.objects.filter(job=job, part=part.key)
            if name in calibration_of(version).tables
        ),
        now,
    )
    table, was = here, first.tables.get(name, here)
    if was.values.shape != table.values.shape:
        was = table
    factor, digits = float(shape["factor"]), int(float(shape["digits"]))
    found = []
    for row, column, old, new in table_cells(was, table):
        if row == "":
            continue
        told = (f"{value * factor:.{digits}f}" for value in (old, new))
        before, after = (text.replace(".", ",") if shape["decimal"] == "," else text for text in told)
        if before != after:
            found.append({"where": place(now, name, table, row, column), "old": before, "new": after})
    return found
