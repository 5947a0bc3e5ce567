"""A person's work over the API: steps done with the evidence that each asks for."""

from __future__ import annotations

import functools
import io
import threading
import time
from datetime import timedelta
from time import monotonic
from typing import Any

from PIL import Image

READINGS = {
    "make-safe.coolant": "31",
    "make-safe.relieved": "5 kPa",
    "intake.battery": "12.6 V",
    "fit.can": "60",
}


INTAKE = (
    "revision",
    "registration",
    "vin",
    "owner",
    "odometer_km",
    "goal",
    "power_goal_kw",
    "ron",
    "ethanol",
    "altitude_m",
    "complaint",
    "changes",
)


def played(work):
    """Work that a test may begin with: played once a run from the point where the shop stands then."""

    @functools.wraps(work)
    def play(api, *given, **named):
        name = f"{work.__name__} {given} {named}"
        reach = functools.partial(work, api, *given, **named)
        return api.played(name, reach) if hasattr(api, "played") else reach()

    return play


@played
def intake(api, job: str, **changes):
    """Save Intake as it stands on the plate, with changes."""
    plate = api.get(job)["plate"]
    if plate["petrol"] and plate["ron"] is None:
        plate["ron"] = 95.0  # what a person reads off the pump
    return api.put(f"{job}/intake", {**{name: plate[name] for name in INTAKE}, **changes})


def picture(kind: str = "JPEG", size: tuple[int, int] = (640, 480)) -> bytes:
    """A small real picture."""
    out = io.BytesIO()
    Image.linear_gradient("L").resize(size).convert("RGB").save(out, kind)
    return out.getvalue()


def sound(about: dict[str, Any], name: str) -> dict[str, Any]:
    """What a careful person enters into a grid when all is well."""
    if name == "compression":
        middle = (about["low"] + about["high"]) / 2
        return {"kpa": [f"{middle:g}"] * about["cylinders"]}
    if name == "injector_set":
        return {"revisions": ["F33 A"] * about["count"]}
    if name == "grounds":
        read = {"cranking": "0.1 V"} if about.get("cranking") else {"static": "20 mV"}
        return {"rows": [{"name": ground, **read} for ground in about["grounds"]]}
    if name == "access":
        return {"rows": [{"name": item["name"], "off": True} for item in about["items"]]}
    if name == "checks":
        return {"answers": {row["key"]: row["good"][0] for row in about["rows"]}}
    if name == "plugs":
        plugs = about["begin"] or [{"name": "main plug", "like": ""}]
        return {
            "rows": [
                {"name": p["name"], "like": p["like"], "labelled": True, "state": "tugged"} for p in plugs
            ]
        }
    if name == "refit":
        rows = []
        for item in about["items"]:
            row = {"name": item["name"], "back": True, "renewed": True}
            if item["nm"] is not None:
                wrench = next(
                    w for w in about["wrenches"] if 0.2 * w["high_nm"] <= item["nm"] <= w["high_nm"]
                )
                row |= {"applied": str(item["nm"]), "wrench": str(wrench["high_nm"])}
            rows.append(row)
        return {"rows": rows, "left": "0"}
    if name == "torque":
        fits = about["wrenches"]
        rows = []
        for line in about["fasteners"]:
            wrench = next(w for w in fits if 0.2 * w["high_nm"] <= line["nm"] <= w["high_nm"])
            rows.append({"name": line["name"], "applied": str(line["nm"]), "wrench": str(wrench["high_nm"])})
        return {"rows": rows}
    if name == "common_side":
        first, *others = about["plugs"]
        beeps = [{"a": [first, "B"], "b": [plug, "B"], "beeps": True} for plug in others]
        silent = [{"a": [plug, "A"], "b": [others[0], "B"], "beeps": False} for plug in about["plugs"]]
        return {"readings": beeps + silent}
    if name == "pin_plan":
        return {
            "rows": [
                {"connector": "A", "number": str(n), "function": need, "action": "keep"}
                for n, need in enumerate(about["needs"])
            ]
        }
    if name == "outputs":
        rows = [{"key": o["key"], "seen": "works", "confirmed": o["interlocks"]} for o in about["outputs"]]
        return {"rows": rows, "interlocks": ["still", "closed"]}
    if name == "board":
        return {"answers": {row["key"]: next(iter(row["answers"])) for row in about["rows"]}}
    if name == "base_timing":
        return {"read": "10", "high": "10.5"}
    raise AssertionError(name)


def _screens_seen(api, job: str, step: str) -> bool:
    """Screen by screen, each as it must show; false where the device has none here."""
    told = next((one for one in api.get(f"{job}/entering") if one["step"] == step), None)
    while told is not None and told["next"]:
        shows = next(screen["shows"] for screen in told["screens"] if screen["key"] == told["next"])
        told = api.post(f"{job}/entering/{told['part']}", {"key": told["next"], "shown": shows})
        assert api.status == 200, told
    return told is not None


def _waited(api, job: str, step: dict[str, Any]) -> None:
    """A wait that nobody ends early, begun as long ago as it lasts."""
    from ventmap.server.jobs.models import Timer

    api.post(f"{job}/steps/{step['key']}/done", {})
    if hasattr(api, "backdate"):
        api.backdate(step["key"], step["seconds"])
        return
    running = Timer.objects.filter(job__number=job.split("/")[1], step=step["key"], ended_at=None)
    for timer in running:
        timer.started_at -= timedelta(seconds=timer.seconds)
        timer.save()


def do(api, job: str, step: dict[str, Any]) -> None:
    """One step, by whatever evidence it wants."""
    key = step["key"]
    if key.startswith("load.read_back") and _screens_seen(api, job, key):
        return
    if step["evidence"] == "grid":
        grid = api.get(f"{job}/steps/{key}/grid")
        if grid["name"] == "seal_timers":
            for cylinder in range(1, grid["about"]["cylinders"] + 1):
                for act in ("sized", "seated"):
                    api.post(f"{job}/steps/{key}/seals/{cylinder}", {"act": act})
            return
        api.put(
            f"{job}/steps/{key}/grid",
            {"data": sound(grid["about"], grid["name"]), "revision": grid["revision"]},
        )
    else:
        if step["firm"]:
            _waited(api, job, step)
        if step["evidence"] == "photo":
            api.client.put(
                f"/api/{job}/photos?step={key}&name=seen.jpg",
                picture(),
                content_type="application/octet-stream",
            )
        answer = step["answers"][0]["key"] if step["answers"] else None
        wanted = step["reading"] or {}
        middle = (
            f"{(wanted['low'] + wanted['high']) / 2:g}"
            if wanted.get("low") is not None and wanted.get("high") is not None
            else None
        )
        api.post(
            f"{job}/steps/{key}/done",
            {
                "reading": READINGS.get(key, middle),
                "anyway": step["evidence"] == "timer" and not step["firm"],
                "answer": answer,
                "words": "As its maker's sheet has it: 2, was 0." if step["evidence"] == "words" else None,
            },
        )
    assert api.status == 200, key


@played
def by_hand(api, job: str, *stages: str, before: str = "") -> None:
    """Every open step of stages that a person does by hand, in order; up to a step where one is named."""
    for step in api.get(job)["steps"]:
        if before and step["key"] == before:
            return
        if step["stage"] in stages and step["evidence"] != "auto" and not step["done"]:
            # What waits for work on its own screen, as leaks do for an engine that runs, is not done by hand.
            if step["waits_for"] and steps(api, job)[step["key"]]["waits_for"]:
                continue
            do(api, job, step)


BOARD = {
    "measure": True,
    "loads_off": True,
    "kept_awake": True,
    "in_park": True,
    "laptop": "mains",
    "cable_seated": True,
}
J = "jobs/0001"


#: Names of the server's own threads begin so.
AT_WORK = ("capture-", "load-")


def until(ask, good, seconds=90):
    """Wait for a condition; a load on a busy machine takes its time. What runs in this process is waited for
    by itself: asking meanwhile would only slow it down.
    """
    end = time.monotonic() + seconds
    while not good(answer := ask()):
        left = end - time.monotonic()
        assert left > 0, answer
        at_work = [thread for thread in threading.enumerate() if thread.name.startswith(AT_WORK)]
        if at_work:
            at_work[0].join(left)
        else:
            time.sleep(0.25)
    return answer


def rest_briefly() -> None:
    """Every device of the sample shelf restarts after a second off, so that no test waits out a maker's
    minute.
    """
    from ventmap.server.shelf.models import ShelfItem

    for item in ShelfItem.objects.filter(kind="device"):
        item.body["off_s"] = 1.0
        item.save()


@played
def to_map(api) -> dict[str, Any]:
    """Job 0001 from Intake to a base map with its injector figures set."""
    intake(api, J)
    api.put(
        f"{J}/vehicle",
        {"vehicle": "corvane-estate-20", "answers": {"computer plug": "94 pins", "oil cap": "black"}},
    )
    by_hand(api, J, "intake")
    api.put(f"{J}/plan", {"injectors": "fenwright-330"})
    by_hand(api, J, "plan", "make-safe", "fit")
    best = api.get(f"{J}/base-map")
    api.post(f"{J}/maps", {"key": best["candidates"][0]["key"]})
    sheet = best["sheet"]
    return api.put(
        f"{J}/figures",
        {
            "flow": str(sheet["flow"]),
            "rated": "300 kPa",
            "pressure": "3 bar",
            "dead_time": sheet["dead_time"],
        },
    )


@played
def write(api, job: str = J) -> dict[str, Any]:
    """Save, answer the board, write, cycle the ignition, clear codes."""
    api.post(f"{job}/saved-images")
    assert api.put(f"{job}/load-board", {"answers": BOARD})["verdict"] == "go"
    api.post(f"{job}/loads")
    board = until(lambda: api.get(f"{job}/load-board"), lambda b: b["load"]["state"] != "writing")
    assert board["load"]["state"] == "verified", board["load"]
    off = monotonic()
    api.post(f"{job}/ignition", {"on": False})
    told = api.post(f"{job}/ignition", {"on": True})
    if not told.get("cycled"):
        assert "Wait" in told.get("sentence", ""), told
        until(lambda: api.post(f"{job}/ignition", {"on": True}), lambda b: b.get("cycled"))
    # Never before the wait is over; on a busy machine it may be over at the first try.
    assert monotonic() - off >= board["off_s"] - 0.3, told
    return api.post(f"{job}/codes/clear")


@played
def log(api, job: str = J) -> dict[str, Any]:
    """An unwatched capture of the whole drive on the map that is loaded, whatever sounds meanwhile."""
    api.post(f"{job}/captures", {"watched": False, "lift": False})
    done = until(lambda: api.get(f"{job}/captures/current"), lambda c: c["state"] != "running")
    assert done["state"] == "done", done
    return api.get(f"logs/{done['log_id']}")


def steps(api, job: str) -> dict[str, dict]:
    """Steps of the run sheet by key."""
    return {step["key"]: step for step in api.get(job)["steps"]}


def overrule(api, job: str, rule: str, reason: str) -> None:
    """The lead answers a hold that stands."""
    api.post(f"ledger/{standing(api, job)[rule]['id']}/overrule", {"reason": reason})
    assert api.status == 200, rule


def standing(api, job: str) -> dict[str, dict]:
    """What stands in the ledger, by rule."""
    return {entry["rule"]: entry for entry in api.get(job)["ledger"] if entry["standing"]}


def send(api, path: str, data: bytes, **more):
    """Put a file as it is."""
    answer = api.client.put(f"/api/{path}", data, content_type="application/octet-stream", **more)
    api.status = answer.status_code
    return answer.json()


#: What a person types or taps where a step asks for something nobody knew yet.
ANSWERS: dict[str, Any] = {
    "hybrid": "no",
    "airbag_near": "no",
    "two_batteries": "no",
    "power_kw": "70 kW",
    "compression_kpa": ["900 kPa", "1500 kPa"],
    "gearbox_kind": "manual",
    "body_network": "two-wire",
    "fuel_pressure_kpa": "3 bar",
    "rev_limit": "7200",
    "injection_window_deg": "270",
    "referenced_regulator": "yes",
    "boost_kpa": "60 kPa",
    "fuel_wait_s": "10 min",
    "feed_kpa": "4 bar",
    "sleep_s": "10 min",
    "rail_bolt_nm": "10",
    "banks": "1",
    "idle_rpm": "850",
    "fits": "yes",
    "trim_bounds": ["-25 %", "40 %"],
    "shows_on": "lamp",
    "hose": "yes",
    "ethanol_sensor": "no",
    "changes_engine": "yes",
    "ethanol_max": "85 %",
    "temperature_probe": "yes",
    "shift_sensor": "no",
    "map_before_power": "yes",
    "locks": "slide",
    "off_s": "10 s",
    "added_boost_kpa": "30 kPa",
    "warm_up_s": "30 s",
    "ohms": "12",
    "functions": [{"text": "injector 1"}],
    "grounds": [{"text": "box to battery"}],
    "torque": [{"name": "bracket", "nm": "9", "count": "2"}],
    "levels": [{"number": "1", "ron": "95"}, {"number": "2", "ron": "98"}],
    "look_alikes": [
        {"name": "boost sensor", "other": "manifold sensor", "tell": "it sits before the throttle"}
    ],
    "curve": [{"kpa": "300", "lph": "180"}, {"kpa": "500", "lph": "120"}],
    "volts": "13.5",
    "current_a": "9",
}


def answer(api, job: str, step: str, field: str, *, given=None, source="maker's sheet", anyway=False):
    """Answer what a step asks, now or again; what stands in no table here is *none of them*."""
    about = steps(api, job)[step]
    ask = next(a for a in [*about["asks"], *(k["ask"] for k in about["known"])] if a["field"] == field)
    body = {"of": ask["of"], "key": ask["key"], "field": field, "source": source, "anyway": anyway}
    body["given"] = ANSWERS.get(field, []) if given is None else given
    return api.put(f"{job}/steps/{step}/answers", body)


@played
def answer_all(api, job: str) -> int:
    """Answer all that every step asks, until none asks; how many answers that took."""
    for count in range(80):
        asks = [(key, ask) for key, step in steps(api, job).items() for ask in step["asks"]]
        asks = [(key, ask) for key, ask in asks if ask["field"] != "dead_time"]
        if not asks:
            return count
        key, ask = asks[0]
        answer(api, job, key, ask["field"])
        assert api.status == 200, (key, ask["field"])
    raise AssertionError("it asks without end")


#: A data sheet's table, as a person pastes it [ms].
DEAD = {
    "voltages": [8.0, 10.0, 12.0, 14.0, 16.0],
    "pressures_kpa": [250.0, 300.0, 350.0, 400.0],
    "ms": [
        [1.42, 1.47, 1.53, 1.58],
        [1.01, 1.05, 1.09, 1.13],
        [0.76, 0.79, 0.82, 0.85],
        [0.6, 0.62, 0.64, 0.67],
        [0.49, 0.5, 0.52, 0.54],
    ],
}
