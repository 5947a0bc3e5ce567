"""What a kept map is judged by: the checks of its form, its set, and the step that it ends."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from django.contrib.auth.models import User

from ventmap.core.basics import Call, Verdict, how_many, worst
from ventmap.core.forms import Calibration, diff
from ventmap.core.maps import MapMatch, Member, map_calls, match_maps, set_calls

from ..jobs import ledger
from ..jobs.assemble import rules
from ..jobs.models import Job
from ..jobs.steps import finish, reopen
from .models import MapVersion, Statement
from .parts import MapPart, map_job, parts, versions_of, wanted_of
from .services import calibration_of

STAGE = "base-map"


def serves(job: Job, part: MapPart, calibration: Calibration) -> bool:
    """Whether a version of ours still serves; a table of another program was matched there, not here."""
    return calibration.form == "borrowed" or match_ours(job, part, calibration).possible


def match_ours(job: Job, part: MapPart, calibration: Calibration) -> MapMatch:
    """A version of ours against what the job is now; of its set, the set's own call judges."""
    want = replace(wanted_of(job, part), with_set=None)
    return match_maps(want, [replace(calibration, set=None)])[0]


def calls_of(job: Job, part: MapPart, calibration: Calibration, on_drum: bool = False) -> list[Call]:
    """The checks of a map for this device, each under a rule of its own."""
    found = map_calls(calibration, map_job(job, part, on_drum), rules(job))
    seen: Counter[str] = Counter()
    named = []
    for call in found:
        seen[call.rule] += 1
        number = f".{seen[call.rule]}" if seen[call.rule] > 1 else ""
        named.append(replace(call, rule=f"{call.rule}{number}{part.tail}"))
    return named


def settle(job: Job, part: MapPart, by: User) -> None:
    """Enter the checks of the newest map of a device, and its set; end its step where nothing stops it."""
    versions = versions_of(job, part.key)
    if not versions:
        return
    version = versions[-1]
    calibration = calibration_of(version)
    calls = calls_of(job, part, calibration)
    found = {"map.set", *(call.rule for call in calls)}
    for entry in ledger.standing_in(job, STAGE):
        of_it = entry.rule.startswith("map.") and _tail(entry.rule) == part.tail
        if of_it and entry.rule not in found:
            ledger.withdraw_one(job, STAGE, entry.rule)
    ledger.judge(job, STAGE, [call for call in calls if not _stands(job, call)], by)
    judge_set(job, by)
    if not part.key:
        return
    step = f"base-map.settings{part.tail}"
    if worst(calls) is Verdict.stop or not serves(job, part, calibration) or unsigned(job, part, calibration):
        reopen(job, step)
    else:
        finish(job, step, by, words=told(part, version, calibration, versions))


def without_map(job: Job, by: User) -> None:
    """What was judged of a map falls where the device in its place has none of this job: another came there,
    or none. Taken back, it is judged again by the map that it has.
    """
    mapped = {part.tail for part in parts(job) if versions_of(job, part.key)}
    if any(part.written and versions_of(job, part.key) for part in parts(job)):
        mapped.add("")  # its choice is judged without a number, whichever place it has
    for entry in ledger.standing_in(job, STAGE):
        of_a_map = entry.rule.startswith(("map.", "base-map.match")) and entry.rule != "map.set"
        if of_a_map and entry.kind == "call" and _tail(entry.rule.split("#")[0]) not in mapped:
            ledger.withdraw_one(job, entry.stage, entry.rule)
    judge_set(job, by)


def another_map(job: Job, part: MapPart) -> None:
    """Another map, or another version of it: what a device worked by hand read back is no longer this one."""
    if not part.key:
        return
    # Every call before a write is answered before *this* write.
    board = f"load.board{part.tail}"
    job.grids.filter(step=board).delete()
    ledger.withdraw_step(job, "load", board)
    for step in ("load.board", "load.battery", "load.read_back"):
        reopen(job, f"{step}{part.tail}")


def _tail(rule: str) -> str:
    head, _, number = rule.rpartition("-")
    return f"-{number}" if head and number.isdigit() else ""


def _stands(job: Job, call: Call) -> bool:
    """The same judgement stands already, perhaps overruled: it is not entered twice."""
    entry = next((entry for entry in ledger.standing_in(job, STAGE) if entry.rule == call.rule), None)
    if entry is None or entry.verdict != call.verdict.value:
        return False
    return [e["value"] for e in entry.evidence] == [e.value for e in call.because]


def judge_set(job: Job, by: User) -> None:
    """Whether the devices of the job run one whole set."""
    members, modules = [], {}
    for part in parts(job):
        versions = versions_of(job, part.key)
        if not versions:
            continue
        calibration = calibration_of(versions[-1])
        root = _root(versions, calibration)
        members.append(Member(part.item.name, calibration, root))
        if calibration.set:
            modules[calibration.set.role] = part.item.name
    calls = set_calls(members, modules)
    if calls and not _stands(job, calls[0]):
        ledger.judge(job, STAGE, calls, by)
    elif not calls:
        ledger.withdraw_one(job, STAGE, "map.set")


def _root(versions: list[MapVersion], newest: Calibration) -> str:
    """SHA-256 of the file that the newest line of versions began with: as its set names it, where it does."""
    first = [v for v in versions if calibration_of(v).lineage.version == "r0"] or versions[:1]
    began = calibration_of(first[-1])
    named = newest.set.members.values() if newest.set else ()
    return began.sha256 if began.sha256 in named else began.lineage.parent or began.sha256


def closed_course(calibration: Calibration) -> dict[str, str]:
    """Settings that are changed and lawful on closed courses only: key → what, old and new."""
    found = {}
    for name in ("options", "entries"):
        for row in calibration.lists.get(name, ()):
            if row.get("closed_course") and row["wanted"] != row["stock"]:
                key = str(row[calibration.kind.lists[name].key])
                told_unit = str(row.get("unit", ""))
                found[key] = f"{row['name']}: {row['stock']:g} → {row['wanted']:g} {told_unit}".strip()
    return found


def unsigned(job: Job, part: MapPart, calibration: Calibration) -> dict[str, str]:
    """Those of them without a signed statement for this very value."""
    signed = set(Statement.objects.filter(job=job, part=part.key).values_list("setting", "what"))
    return {key: what for key, what in closed_course(calibration).items() if (key, what) not in signed}


def told(part: MapPart, version: MapVersion, calibration: Calibration, versions: list[MapVersion]) -> str:
    """What is set, in words that somebody else could set it again from."""
    said = [f"{calibration.name}, {calibration.kind.title} {version.version}, SHA-256 {version.sha256[:12]}"]
    for name, value in calibration.scalars.items():
        kind = calibration.kind.scalars.get(name)
        said.append(f"{kind.text if kind else name} {value:g} {kind.unit if kind else ''}".strip())
    for listed in ("options", "entries"):
        for row in calibration.lists.get(listed, ()):
            if row["wanted"] != row["stock"]:
                unit = str(row.get("unit", ""))
                said.append(f"{row['name']} {row['stock']:g} → {row['wanted']:g} {unit}".strip())
    cells = [c for c in diff(calibration_of(versions[0]), calibration) if c.row is not None]
    if cells:
        said.append(f"{how_many(len(cells), 'cell')} changed since it was chosen")
    return "; ".join(said)[:480] + "."
