"""What a report says: every line from a row of what was done, read, judged or set aside."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.utils import timezone

from ventmap.core.basics import Computer, Device, SensorPiggyback, VentMapError, how_many
from ventmap.core.forms import FORMS, diff
from ventmap.core.runsheet import Step, Undone, fitted, law, lights_of, way_back, what_to_feed

from ..dyno import judging as dyno
from ..jobs import views
from ..jobs.assemble import linked, run_sheet
from ..jobs.models import Job, LedgerEntry, StepDone
from ..jobs.rows import devices, new_injectors, vehicle_of
from ..logs.cold_starts import WANTED
from ..maps.loaded import in_computer
from ..maps.models import Load, MapVersion, SavedImage, Statement, TunerRound
from ..maps.parts import MapPart, parts
from ..maps.services import calibration_of
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.access import full_name
from ..shop.models import House

BY_HAND = "Nothing was written from here: what was set by hand stands under what was done."
NOT_FITTED = "planned; no step of fitting it is on record"


def report_data(job: Job) -> dict[str, Any]:
    """Everything the report says, from this job's own rows."""
    house = House.current()
    steps = {step.key: step for step in run_sheet(job).steps}
    rows = {row.key: row for row in job.steps_done.select_related("by").order_by("at")}
    done = {key for key, row in rows.items() if not row.set_aside}
    inside = in_computer(job)
    gain, no_gain = _gain(job)
    standing = job.ledger.filter(kind="call", standing=True).select_related("by", "overruled_by")
    return {
        "house": house.name,
        "town": house.town,
        "made_at": timezone.localtime().strftime("%Y-%m-%d %H:%M"),
        "plate": views.plate(job),
        "parts": _parts(job, done),
        "settings": _settings(job),
        "gain": gain,
        "no_gain": no_gain,
        "inside": inside.sentence if linked(job) or inside.state != "untouched" else BY_HAND,
        "maps": [
            _map_line(version, inside.version) for version in job.maps.filter(part="").select_related("by")
        ],
        "rounds": [_round(one) for one in job.tuner_rounds.select_related("map", "taken")],
        "work": [_done(row, steps.get(key)) for key, row in rows.items() if not row.set_aside],
        "set_aside": [
            {"what": row.title, "result": row.set_aside, "who": full_name(row.by), "at": _at(row.at)}
            for row in rows.values()
            if row.set_aside
        ],
        "not_done": [step.title for step in steps.values() if step.key not in rows and _asked(step)],
        "calls": [_line(entry) for entry in standing],
        "overruled": [_line(entry) for entry in standing if entry.overruled_by],
        "feed": _feed(job, done, rows, inside.version),
        "back": way_back(_undone(job, done)),
        "lights": lights_of(vehicle_of(job).kind, done),
        "recheck": ["leaks after the first heat cycle", _cold(job), "one week: log and codes"],
        "law": law(job.changes, _rev_limits(job, inside.version)),
        "statements": [
            {"what": one.what, "name": one.name, "drawn": one.drawn, "at": _at(one.at)}
            for one in Statement.objects.filter(job=job)
        ],
        # Notes are the shop's own: they stay in the job.
        "record": [
            _line(entry)
            for entry in reversed(job.ledger.exclude(kind="note").select_related("by", "overruled_by"))
        ],
    }


def _round(row: TunerRound) -> dict[str, Any]:
    """A round with the tuner: what went out, what came of it."""
    sent = "packed, not sent" if row.state == "packed" else f"SHA-256 {row.sha256[:12]}"
    came = {
        "packed": "nothing yet",
        "waiting": "no answer yet",
        "answered": "a file came and is not taken yet",
        "set aside": "a file came and was left",
    }.get(row.state, "")
    if row.taken is not None:
        came = f"taken as map {row.taken.version}, SHA-256 {row.reply_sha256[:12]}"
    return {"number": row.number, "at": _at(row.made_at), "sent": sent, "came": came}


def _cold(job: Job) -> str:
    """What was logged of the cold starts, and what is still asked for."""
    kept = job.cold_starts.all()
    told = [f"{row.day:%Y-%m-%d} {row.verdict}" for row in kept]
    left = WANTED - len(told)
    words = {1: "one more cold start", 2: "two more cold starts"}.get(left, "three cold starts")
    if not told:
        return f"{words}, none logged yet"
    return f"cold starts logged: {', '.join(told)}" + (f"; {words}" if left else "")


def _asked(step: Step) -> bool:
    """Steps of the hand-over itself are under way while the report is made."""
    return step.stage != "hand-over"


def _at(moment: Any) -> str:
    return f"{timezone.localtime(moment):%Y-%m-%d %H:%M}"


def _parts(job: Job, done: set[str]) -> list[str]:
    parts = {
        "injectors": bool({"fit.rail", "fit.seals", "fit.sizing"} & done),
        "pump": "fit.pump" in done,
    }
    told = [(item.name, there) for item, there in _on_it(job, done)]
    if job.injectors:
        told.append((job.injectors.name, parts["injectors"] or not new_injectors(job)))
    if job.pump:
        told.append((job.pump.name, parts["pump"]))
    return [name if there else f"{name} ({NOT_FITTED})" for name, there in told]


def _on_it(job: Job, done: set[str]) -> list[tuple[ShelfItem, bool]]:
    """Each device of the kit, and whether it is on the vehicle."""
    kit = devices(job)
    return list(zip(kit, fitted([record_of(item, Device).kind for item in kit], done), strict=True))


def _done(row: StepDone, step: Step | None) -> dict[str, str]:
    """A step as it was done: its reading, what was answered or read back; else that it was done."""
    result = row.words or "done"
    if row.reading is not None and step is not None and step.reading is not None:
        low, high = step.reading.low, step.reading.high
        limit = "–".join(f"{value:g}" for value in (low, high) if value is not None)
        result = f"{row.reading:.4g} {step.reading.unit}" + (f" (limits {limit})" if limit else "")
    elif row.answer and step is not None:
        result = next((answer.label for answer in step.answers if answer.key == row.answer), row.answer)
    if row.reading is not None and (on := views.on_what(row.state)):
        result = f"{result}, on {on}"
    return {"what": row.title or row.key, "result": result, "who": full_name(row.by), "at": _at(row.at)}


def _gain(job: Job) -> tuple[dict[str, Any] | None, str]:
    """The comparison, and whether it is claimed: a hold that stands and a claim cannot both be said.

    That runs were not quite alike can be answered for by a person; a gain that the scatter hides, or a loss,
    is made no gain by anybody's word.
    """
    try:
        found = dyno.comparison_out(job)
    except VentMapError as error:
        return None, error.sentence
    aside = set(
        job.ledger.filter(stage="prove", standing=True)
        .exclude(overruled_by=None)
        .values_list("rule", flat=True)
    )
    entered = job.ledger.filter(stage="prove", standing=True, rule__in=("dyno.gain", "prove.baseline"))
    weighed = ("dyno.gain", "dyno.alike", "dyno.correction", "prove.loaded")
    held = [
        c
        for c in found["calls"]
        if c["rule"] in weighed
        and c["verdict"] != "go"
        and (c["rule"] == "dyno.gain" or c["rule"] not in aside)
    ]
    held_rows = [entry for entry in entered if entry.verdict != "go" and not entry.overruled_by]
    claimed = not held and not held_rows and entered.count() == 2
    why = [call["title"] for call in held] or [entry.title for entry in held_rows]
    gain = {
        "claimed": claimed,
        "mean_kw": found["mean_gain_kw"],
        "scatter_kw": found["mean_limit_kw"],
        "before_kw": round(found["peak_before"][0], 1),
        "before_rpm": found["peak_before"][1],
        "after_kw": round(found["peak_after"][0], 1),
        "after_rpm": found["peak_after"][1],
        "standard": found["standard"] if found["factor_valid"] else "none: as measured",
        "confidence": found["confidence"],
        "crank": found["crank_kw"],
        "calls": found["calls"],
    }
    no_gain = "" if claimed else "; ".join(why) or "the comparison was not entered in Prove"
    return gain, no_gain


def _map_line(version: MapVersion, inside: MapVersion | None) -> dict[str, Any]:
    return {
        "version": version.version,
        "note": version.note,
        "crc32": version.crc32,
        "by": full_name(version.by),
        "at": _at(version.made_at),
        "loaded": version == inside,
    }


def _feed(job: Job, done: set[str], rows: dict[str, StepDone], inside: MapVersion | None) -> list[str]:
    """By the map that is in, or the level that was set; what neither states is not made up."""
    stated = calibration_of(inside).conditions.ron if inside else None
    kit = [record_of(item, Device) for item in devices(job)]
    level = rows.get("fit.level")
    if level is not None and "fit.level" in done:
        levels = {
            f"level_{n}": ron
            for box in kit
            if isinstance(box, SensorPiggyback)
            for n, ron in box.levels or ()
        }
        stated = levels.get(level.answer, stated)
    follows = any(box.ethanol_sensor for box in kit) and "fit.feed_line" in done
    read_back = [part for part in parts(job) if f"load.read_back{part.tail}" in done]
    asked = [ron for part in read_back if (ron := _octane_of(job, part)) is not None]
    stated = max(asked, default=stated)
    # What was chosen or written down in Base map is not in it yet.
    is_set = any(key.startswith(("load.read_back", "load.write", "fit.level")) for key in done)
    return what_to_feed(vehicle_of(job).injection, job.ron, job.ethanol, stated, follows, is_set)


def _octane_of(job: Job, part: MapPart) -> float | None:
    """Octane that the map of a device asks for, or the level that is set in it."""
    version = job.maps.filter(part=part.key).last()
    if version is None:
        return None
    made = calibration_of(version)
    levels = {row["number"]: row["ron"] for row in made.lists.get("levels", ())}
    ron = levels.get(made.scalars.get("level", 0.0), made.conditions.ron)
    return None if ron is None else float(ron)


def _undone(job: Job, done: set[str]) -> Undone:
    """What the way back rests on."""
    kit = [(item.name, record_of(item, Device)) for item, there in _on_it(job, done) if there]
    saved = SavedImage.objects.filter(job=job).order_by("id").first()
    first = Load.objects.filter(job=job).order_by("id").first()
    return Undone(
        fitted=tuple((name, box.kind) for name, box in kit),
        kept_by_hand=job.steps_done.filter(
            key__startswith="load.stock_kept", answer="kept", set_aside=""
        ).exists(),
        done=frozenset(done),
        injectors=new_injectors(job) and bool({"fit.rail", "fit.seals", "fit.sizing"} & done),
        pump="fit.pump" in done,
        saved=f"{saved.label}, SHA-256 {saved.sha256[:16]}" if saved else "",
        saved_first=bool(saved and (first is None or saved.at <= first.started_at)),
        will_not_control=tuple(
            dict.fromkeys(
                what for _, box in kit if isinstance(box, Computer) for what in box.will_not_control or ()
            )
        ),
    )


def _rev_limits(job: Job, inside: MapVersion | None) -> tuple[float, float] | None:
    """The vehicle's own and that of the map that is in."""
    if inside is None:
        return None
    own = vehicle_of(job).rev_limit
    return None if own is None else (own, calibration_of(inside).scalars["rev_limit"])


def _line(entry: LedgerEntry) -> dict[str, str]:
    text = entry.text
    if entry.overruled_by:
        text = f"Overruled by {full_name(entry.overruled_by)}: {entry.overruled_reason}"
    figures = "; ".join(_figure(item) for item in entry.evidence)
    return {
        "at": f"{timezone.localtime(entry.at):%Y-%m-%d %H:%M}",
        "who": full_name(entry.by),
        "title": entry.title,
        "text": text,
        "verdict": entry.verdict,
        "figures": figures,
    }


def _figure(item: dict[str, Any]) -> str:
    limit = f" of {item['limit']}" if item["limit"] is not None else ""
    return f"{item['label']} {item['value']}{limit} {item['unit']}".strip()


def _called(item: str) -> str:
    """What a scalar is called, by the form that has it."""
    found = (form.scalars[item].text for form in FORMS.values() if item in form.scalars)
    return next(found, item)


def _settings(job: Job) -> list[dict[str, str]]:
    """What differs between the map that was taken first and the one that is in."""
    versions, inside = list(job.maps.filter(part="")), in_computer(job).version
    if len(versions) < 2 or inside is None:
        return []
    changes = diff(calibration_of(versions[0]), calibration_of(inside))
    why = f"{versions[0].version} → {inside.version}"
    found = [
        {
            "name": _called(change.item),
            "old": f"{change.old:g} {change.unit}",
            "new": f"{change.new:g} {change.unit}",
            "why": why,
        }
        for change in changes
        if change.row is None and change.old is not None and change.new is not None
    ]
    for table, label in (("ve", "volumetric efficiency"), ("dead_time", "dead time")):
        cells = [c for c in changes if c.item == table and c.row is not None and c.old and c.new]
        if cells:
            by = [100 * (float(cell.new or 0) / float(cell.old or 1) - 1) for cell in cells]
            found.append(
                {
                    "name": f"{label}: {how_many(len(cells), 'cell')}",
                    "old": "",
                    "new": f"{min(by):+.1f} to {max(by):+.1f} %",
                    "why": why,
                }
            )
    return found


def sentences(data: dict[str, Any]) -> Iterable[str]:
    """Every sentence that the report makes of its own, for the proof that each has a record."""
    yield from data["parts"]
    yield from data["feed"]
    yield from data["back"]
    yield from data["lights"]
    yield data["inside"]
