"""A shop at work, whatever comes next: people do, undo, set aside and change things in any order.

After every act what stands is held against everything judged anew from nothing; no word has lifted a stop
that protects; nothing is shown as done against what its own call says; and no fault was ours.
"""

from __future__ import annotations

import json
import random
from datetime import timedelta
from typing import Any
from urllib.parse import urlencode
from uuid import uuid4

from django.utils import timezone

from tests.conftest import ROOT, Api
from tests.server.against import from_nothing, standing
from tests.shopwork import (
    BOARD,
    INTAKE,
    answer,
    answer_all,
    by_hand,
    log,
    picture,
    rest_briefly,
    send,
    sound,
    steps,
    to_map,
    write,
)
from ventmap.core.runsheet import EARLIER, Act, alters
from ventmap.server.jobs import gate
from ventmap.server.jobs.assemble import run_sheet
from ventmap.server.jobs.judging import rule_of
from ventmap.server.jobs.models import Job, LedgerEntry, StepDone, Timer
from ventmap.server.jobs.rows import devices
from ventmap.server.maps.parts import parts, versions_of

#: Jobs of the sample that between them have every kind of device.
KINDS = ("0001", "0003", "0004", "0005", "0006", "0007", "0008", "0009", "0010")
#: What somebody says or takes back; it lifts nothing.
WORDS = frozenset({"undo", "aside", "overrule", "note", "words"})
FIGURES: dict[str, tuple[Any, ...]] = {
    "ethanol": (0.0, 0.05, 0.4, 0.83),
    "ron": (91.0, 95.0, 98.0, 100.0),
    "altitude_m": (0.0, 1450.0, 2600.0),
    "power_goal_kw": (None, 90.0, 165.0, 260.0),
    "goal": ("street", "tow", "peak", "learner"),
    "changes": ([], ["exhaust"], ["cams", "filter"]),
    "vin": ("", "CVE2TWA06GS104417", "CVE2TWA06GS104418"),
    "odometer_km": (1000, 84210),
}
LOGS = (
    "demo/day/logs/estate-round-0.csv",
    "demo/day/logs/estate-round-1.csv",
    "demo/day/logs/triple-trimmed.csv",
)
RUNS = ("estate-before-1", "estate-before-2", "merrin-before-1", "merrin-before-2", "triple-after-1")
MADE = {
    "drum": "the shop's",
    "gear": 4,
    "intake": "21",
    "barometer": "85",
    "humidity": "40",
    "tyres": "2.4 bar",
}
#: Routes that touch a vehicle and answer at once: how, where, with what.
TOUCHING: tuple[tuple[Act, str, str, Any], ...] = (
    (Act.as_it_came, "post", "baseline", None),
    (Act.power_on, "put", "load-board", {"answers": BOARD}),
    (Act.power_on, "post", "key-on", None),
    (Act.power_on, "post", "pedal", None),
    (Act.start, "post", "start", None),
    (Act.power_on, "post", "ignition", {"on": True}),
    (Act.power_on, "post", "codes/clear", None),
    (Act.power_on, "post", "saved-images", None),
    (Act.claim, "post", "comparison", None),
)


class Work:
    """One job of the sample, and whoever works at it; every choice is drawn."""

    draw: random.Random

    def __init__(self, number: str, lead: Api, installer: Api) -> None:
        self.number, self.path = number, f"jobs/{number}"
        self.people = (lead, lead, lead, installer)
        self.api = lead
        self.told: list[str] = []
        #: Steps that altered the vehicle, as they were done.
        self.begun: set[str] = set()

    @property
    def job(self) -> Job:
        return Job.objects.get(number=self.number)

    def act(self, draw: random.Random) -> None:
        """Do one thing, drawn."""
        self.draw = draw
        self.api = self.draw.choice(self.people)
        name = self.draw.choices(list(ACTS), [weight for _, weight in ACTS.values()])[0]
        guards = self.guards()
        self.told.append(name)
        ACTS[name][0](self)
        assert self.api.status < 500, self.told[-5:]
        if name in WORDS:
            lifted = guards - self.guards()
            assert not lifted, (self.told[-5:], lifted)

    def say(self, *words: object) -> None:
        self.told[-1] += " " + " ".join(map(str, words))

    def guards(self) -> set[tuple[str, str]]:
        """Stops that protect people or the computer, and stand."""
        found = self.job.ledger.filter(standing=True, kind="call", verdict="stop", overruled_by=None)
        return set(found.exclude(protects="").values_list("stage", "rule"))

    def check(self) -> None:
        """What stands is what it gives; what is done agrees with its own call."""
        stands, anew = standing(self.number), from_nothing(self.number)
        differ = {key: (stands.get(key), anew.get(key)) for key in stands.keys() | anew.keys()}
        differ = {key: pair for key, pair in differ.items() if pair[0] != pair[1]}
        assert not differ, (self.told[-8:], differ)
        rows = StepDone.objects.filter(job__number=self.number, set_aside="")
        against = LedgerEntry.objects.filter(
            job__number=self.number, standing=True, overruled_by=None, verdict__in=("hold", "stop")
        )
        sheet = {step.key for step in run_sheet(self.job).steps}
        lost = [rule for rule in against.values_list("rule", flat=True) if rule.startswith("step.")]
        lost = [rule for rule in lost if rule.removeprefix("step.").split("#")[0] not in sheet]
        assert not lost, (self.told[-8:], "nobody can answer", lost)
        self.check_begun()
        mapped = {part.tail for part in parts(self.job) if versions_of(self.job, part.key)} | {""}
        judged = self.job.ledger.filter(stage="base-map", standing=True, rule__startswith="map.")
        numbers = {rule.rpartition("-")[2] for rule in judged.values_list("rule", flat=True)}
        gone = {f"-{number}" for number in numbers if number.isdigit()} - mapped
        assert not gone, (self.told[-8:], "judged of a map that no device has", gone)
        wrong = set(against.values_list("rule", flat=True)) & {rule_of(row.key) for row in rows}
        assert not wrong, (self.told[-8:], wrong)

    def check_begun(self) -> None:
        """What hands began and no sheet asks any more is asked in one step, and bars power until then."""
        job = self.job
        sheet = {step.key: step for step in run_sheet(job).steps}
        done = set(StepDone.objects.filter(job=job, set_aside="").values_list("key", flat=True))
        self.begun |= {key for key in done if key in sheet and alters(sheet[key])}
        gone = self.begun - set(sheet)
        if not gone:
            return
        asked = {row.key for row in sheet[EARLIER].about.rows}  # type: ignore[union-attr]
        assert gone <= asked, (self.told[-8:], gone - asked)
        rules = {call.rule for call in gate.in_the_way(job, Act.power_on)}
        assert EARLIER in done or "gate.begun_before" in rules, (self.told[-8:], gone)

    # What people do.

    def step(self) -> dict[str, Any]:
        """Mostly what comes next, as a person would; now and then any."""
        every = [step for step in self.api.get(self.path)["steps"] if step["evidence"] != "auto"]
        ready = [step for step in every if not step["done"] and not step["waits_for"]]
        found = self.draw.choice(ready[:4] if ready and self.draw.random() < 0.7 else every)
        self.say(found["key"])
        return found

    def does(self) -> None:
        step = self.step()
        path = f"{self.path}/steps/{step['key']}"
        if step["evidence"] == "grid":
            self.fills(path, 0.3)
            return
        if step["evidence"] == "photo":
            send(self.api, f"{self.path}/photos?step={step['key']}&name=seen.jpg", picture())
        self.api.post(f"{path}/done", self.given(step))
        running = Timer.objects.filter(job__number=self.number, step=step["key"], ended_at=None)
        for timer in running:
            timer.started_at -= timedelta(seconds=timer.seconds)
            timer.save()
            self.api.post(f"{path}/done", {})

    def given(self, step: dict[str, Any]) -> dict[str, Any]:
        given: dict[str, Any] = {"anyway": self.draw.random() < 0.2}
        if step["reading"]:
            low, high = step["reading"].get("low"), step["reading"].get("high")
            low, high = (0.0 if high is None else high / 2) if low is None else low, high
            high = low * 2 + 1 if high is None else high
            given["reading"] = (
                f"{low + self.draw.choice((0.5, 0.5, 0.5, 0.0, 1.0, -0.5, 3.0)) * (high - low):g}"
            )
        if step["answers"]:
            keys = [one["key"] for one in step["answers"]]
            given["answer"] = self.draw.choice([keys[0], *keys])
        if step["evidence"] == "words":
            given["words"] = "As its maker's sheet has it."
        self.say(given)
        return given

    def fills(self, path: str, wrongly: float) -> None:
        grid = self.api.get(f"{path}/grid")
        if self.api.status != 200:
            return
        if grid["name"] == "seal_timers":
            for cylinder in range(1, grid["about"]["cylinders"] + 1):
                for act in ("sized", "seated"):
                    self.api.post(f"{path}/seals/{cylinder}", {"act": act})
            return
        try:
            data = sound(grid["about"], grid["name"])
        except (AssertionError, StopIteration, TypeError, KeyError):
            return  # it hangs on what nobody said yet
        if self.draw.random() < wrongly:
            data = spoiled(data, self.draw)
        self.say(json.dumps(data)[:200])
        self.api.put(f"{path}/grid", {"data": data, "revision": grid["revision"]})

    def undoes(self) -> None:
        self.api.post(f"{self.path}/steps/{self.any_step()}/undo")

    def any_step(self) -> str:
        done = list(StepDone.objects.filter(job__number=self.number).values_list("key", flat=True))
        stood = self.job.ledger.filter(standing=True, rule__startswith="step.").values_list("rule", flat=True)
        every = sorted({*done, *(rule.removeprefix("step.").split("#")[0] for rule in stood)})
        key = self.draw.choice(every) if every else "intake.identity"
        self.say(key)
        return key

    def sets_aside(self) -> None:
        key = self.any_step() if self.draw.random() < 0.5 else self.step()["key"]
        self.api.post(f"{self.path}/steps/{key}/set-aside", {"because": "It does not apply here."})

    def overrules(self) -> None:
        entries = list(
            self.job.ledger.filter(standing=True, kind="call", overruled_by=None).exclude(verdict="go")
        )
        if entries:
            entry = self.draw.choice(entries)
            self.say(entry.rule)
            self.api.post(f"ledger/{entry.pk}/overrule", {"reason": "Seen, and known to be so."})

    def notes(self) -> None:
        self.api.post(f"{self.path}/notes", {"stage": "fit", "text": "All in order."})

    def changes_intake(self) -> None:
        plate = self.api.get(self.path)["plate"]
        name = self.draw.choice(list(FIGURES))
        change = {name: self.draw.choice(FIGURES[name])}
        self.say(change)
        given = {key: plate[key] for key in INTAKE} | change
        if given["ron"] is None and plate["petrol"]:
            given["ron"] = 95.0
        self.api.put(f"{self.path}/intake", given)

    def changes_kit(self) -> None:
        now = [device.key for device in devices(self.job)]
        every = [item["key"] for item in self.api.get("shelf-items?kind=device")]
        drawn = self.draw.choice((now[:1], now[::-1], [*now[:1], self.draw.choice(every)], now))
        pump = self.draw.choice(["", *(item["key"] for item in self.api.get("shelf-items?kind=pump"))])
        self.say(drawn, pump)
        self.api.put(f"{self.path}/kit", {"devices": list(dict.fromkeys(drawn)), "pump": pump})

    def begins_and_changes(self) -> None:
        """Something is opened or fitted, and the kit is another the next moment."""
        sheet = [step for step in run_sheet(self.job).steps if alters(step)]
        if sheet:
            key = self.draw.choice(sheet).key
            self.say(key)
            if key.startswith("fit."):
                send(self.api, f"{self.path}/photos?step={key}&name=seen.jpg", picture())
            self.api.post(f"{self.path}/steps/{key}/done", {})
            self.check_begun()
        self.changes_kit()

    def changes_injectors(self) -> None:
        every = [item["key"] for item in self.api.get("shelf-items?kind=injector")]
        drawn = self.draw.choice(["", *every])
        self.say(drawn)
        self.api.put(f"{self.path}/plan", {"injectors": drawn})

    def changes_variant(self) -> None:
        every = [item["key"] for item in self.api.get("shelf-items?kind=vehicle")]
        drawn = self.draw.choice([self.job.vehicle.key, self.draw.choice(every)])
        self.say(drawn)
        self.api.put(f"{self.path}/vehicle", {"vehicle": drawn, "answers": {}})

    def changes_shelf(self) -> None:
        job = self.job
        item = self.draw.choice([one for one in (job.vehicle, job.injectors, *devices(job)) if one])
        body = dict(item.body)
        fields = [key for key, value in body.items() if isinstance(value, int | float)]
        if not fields:
            return
        field = self.draw.choice(fields)
        value = body[field]
        body[field] = (
            not value if isinstance(value, bool) else type(value)(value * self.draw.choice((0.5, 1.2, 2)))
        )
        self.say(item.key, field, body[field])
        kept = {"kind": item.kind, "key": item.key, "name": item.name, "body": body}
        self.api.put("shelf-items", kept)

    def changes_rule(self) -> None:
        every = [rule for rule in self.api.get("house-rules") if isinstance(rule["default"], int | float)]
        rule = self.draw.choice(every)
        value = self.draw.choice((rule["value"], rule["default"], rule["default"] * 1.1))
        self.say(rule["key"], value)
        self.api.put(f"house-rules/{rule['key']}", {"value": f"{value:g}", "reason": "As drawn."})
        self.api.post(f"{self.path}/house-rules")

    def answers(self) -> None:
        every = steps(self.api, self.path)
        asks = [(key, ask) for key, step in every.items() for ask in step["asks"]]
        known = [(key, one["ask"]) for key, step in every.items() for one in step["known"]]
        if not asks and not known:
            return
        key, ask = self.draw.choice(asks or known)
        self.say(key, ask["field"])
        answer(
            self.api,
            self.path,
            key,
            ask["field"],
            anyway=True,
            source=self.draw.choice(("seen here", "guessed")),
        )

    def brings_log(self) -> None:
        logs = list(self.job.logs.values_list("id", flat=True))
        if logs and self.draw.random() < 0.5:
            self.api.call("delete", f"logs/{self.draw.choice(logs)}")
            return
        name = self.draw.choice(LOGS)
        self.say(name)
        asked = {
            "name": name.rsplit("/", 1)[1],
            "job": self.number,
            "baseline": "true" if self.draw.random() < 0.3 else "false",
        }
        send(self.api, f"logs?{urlencode(asked)}", (ROOT / name).read_bytes())

    def brings_run(self) -> None:
        runs = list(self.job.runs.values_list("id", "counts"))
        if runs and self.draw.random() < 0.4:
            run, counts = self.draw.choice(runs)
            self.api.put(f"{self.path}/runs/{run}", {"counts": not counts})
            return
        name = self.draw.choice(RUNS)
        asked = MADE | {"when": self.draw.choice(("before", "after")), "name": f"{name}.csv"}
        asked |= {
            "fuel": "95 RON",
            "ramp": "8 s",
            "measured": "wheel",
            "drum": self.draw.choice(("the shop's", "another")),
        }
        self.say(name, asked["when"])
        send(
            self.api,
            f"{self.path}/run-files?{urlencode(asked)}",
            (ROOT / f"demo/day/runs/{name}.csv").read_bytes(),
        )

    def chooses_map(self) -> None:
        told = self.api.get(f"{self.path}/base-map")
        if self.api.status != 200 or not told.get("candidates"):
            return
        key = self.draw.choice(told["candidates"])["key"]
        self.say(key)
        self.api.post(f"{self.path}/maps", {"key": key})

    def edits_map(self) -> None:
        """A figure or a cell of a map, and now and then kept as the next version."""
        parts = [part["part"] for part in self.api.get(f"{self.path}/map-parts") if part["version"]]
        if not parts:
            return
        path = f"{self.path}/sheets/{self.draw.choice(parts)}"
        sheet = self.api.get(path)
        if self.api.status != 200:
            return
        change: dict[str, Any] = {"revision": sheet["revision"], "why": "As drawn."}
        if sheet["tables"] and self.draw.random() < 0.6:
            table = self.draw.choice(sheet["tables"])
            value = f"{table['values'][0][0] * self.draw.choice((0.9, 1.02, 1.4)):.3f}"
            change |= {"target": table["name"], "amount": value}
        elif sheet["scalars"]:
            scalar = self.draw.choice([one for one in sheet["scalars"] if one["value"] is not None])
            value = scalar["value"] * self.draw.choice((0.5, 1.0, 1.03))
            change |= {"target": "scalars", "name": scalar["name"], "value": value}
        else:
            return
        self.say(change)
        self.api.post(f"{path}/edits", change)
        if self.draw.random() < 0.6:
            self.api.post(f"{path}/kept", {"note": "as drawn"})

    def fits_besides(self) -> None:
        fitted = {"tyre_size": self.draw.choice(("225/45R17", "265/60R18", "")), "tyre_rating": "H"}
        fitted["tyre_mm"] = self.draw.choice(("", "640", "780"))
        fitted["thermostat"] = self.draw.choice(("", "71", "82"))
        self.say(fitted)
        self.api.put(f"{self.path}/fitted", fitted)

    def keeps_file(self) -> None:
        told = self.api.get(f"{self.path}/files")
        if self.api.status != 200 or not told["parts"]:
            return
        part, data = self.draw.choice(told["parts"])["part"], self.draw.choice((b"one", b"two")) * 40
        if self.draw.random() < 0.5:
            asked = {"name": "a.bin", "role": "tune", "part": part, "round": self.draw.choice((0, 1))}
            send(self.api, f"{self.path}/files?{urlencode(asked)}", data)
        else:
            asked = {"name": "a.bin", "part": part, "read_back": self.draw.choice(("true", "false"))}
            send(self.api, f"{self.path}/held-files?{urlencode(asked)}", data)
        self.say(asked)

    def keeps_sum(self) -> None:
        every = self.api.get(f"{self.path}/sums")
        if self.api.status != 200 or not every:
            return
        one = self.draw.choice(every)
        typed = one["typed"] if self.draw.random() < 0.6 else spoiled(one["typed"], self.draw)
        self.say(one["key"], typed)
        self.api.put(f"{self.path}/sums/{one['key']}", {"typed": typed})

    def arrives_late(self) -> None:
        """What a tablet kept an hour ago."""
        step = self.step()
        if step["evidence"] == "grid":
            return
        guards = self.guards()
        self.api.client.post(
            f"/api/{self.path}/steps/{step['key']}/done",
            self.given(step),
            content_type="application/json",
            headers={"X-Entered-Ago": "3600", "X-Entry": uuid4().hex},
        )
        # Only what nobody read since may be answered by it.
        lifted = guards - self.guards()
        newer = self.job.ledger.filter(rule__in=[rule for _, rule in lifted], verdict="stop")
        assert not newer.filter(at__gt=timezone.now() - timedelta(minutes=50)).exists(), self.told[-5:]

    def judges(self) -> None:
        self.api.post(f"{self.path}/{self.draw.choice(('mixture', 'comparison'))}")

    def touches(self) -> None:
        act, method, where, body = self.draw.choice(TOUCHING)
        barred = gate.in_the_way(self.job, act)
        self.say(where, [call.rule for call in barred])
        self.api.call(method, f"{self.path}/{where}", body)
        assert not (barred and self.api.status == 200), (self.told[-5:], barred)


def spoiled(data: Any, draw: random.Random) -> Any:
    """The same entries, one figure of them far off, one yes for no, one left out."""
    if isinstance(data, dict):
        key = draw.choice(list(data)) if data else None
        return {name: spoiled(value, draw) if name == key else value for name, value in data.items()}
    if isinstance(data, list) and data:
        place = draw.randrange(len(data))
        return [spoiled(value, draw) if n == place else value for n, value in enumerate(data)]
    if isinstance(data, bool):
        return not data
    if isinstance(data, str):
        return draw.choice(("", "0", "1", "9999", f"{data}0"))
    return data


#: What may come next, and how often.
ACTS = {
    "does": (Work.does, 40),
    "answers": (Work.answers, 12),
    "undo": (Work.undoes, 8),
    "aside": (Work.sets_aside, 6),
    "overrule": (Work.overrules, 8),
    "note": (Work.notes, 1),
    "intake": (Work.changes_intake, 8),
    "kit": (Work.changes_kit, 2),
    "begin": (Work.begins_and_changes, 3),
    "injectors": (Work.changes_injectors, 3),
    "variant": (Work.changes_variant, 2),
    "shelf": (Work.changes_shelf, 6),
    "rule": (Work.changes_rule, 3),
    "log": (Work.brings_log, 2),
    "run": (Work.brings_run, 3),
    "map": (Work.chooses_map, 4),
    "judge": (Work.judges, 3),
    "edit": (Work.edits_map, 5),
    "fitted": (Work.fits_besides, 2),
    "file": (Work.keeps_file, 2),
    "sum": (Work.keeps_sum, 2),
    "late": (Work.arrives_late, 4),
    "touch": (Work.touches, 8),
}


def logged(api: Api) -> None:
    """The car with its map in it, and a log of it."""
    rest_briefly()
    to_map(api)
    write(api)
    log(api)


def reached(api: Api, number: str) -> None:
    """A job as it stands when Fit is done, so that most acts have something to change."""
    rest_briefly()
    path = f"jobs/{number}"
    plate = api.get(path)["plate"]
    if plate["petrol"] and plate["ron"] is None:
        api.put(f"{path}/intake", {**{name: plate[name] for name in INTAKE}, "ron": 95.0})
    answer_all(api, path)
    by_hand(api, path, "intake", "plan", "baseline", "make-safe", "fit")
