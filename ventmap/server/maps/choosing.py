"""Choosing a map for a device: from the shelf, from a file; and judging it again when Intake changes."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Verdict
from ventmap.core.forms import Calibration, Lineage, from_json, read_map_file
from ventmap.core.loading import Named, identity_match
from ventmap.core.maps import MapMatch, match_call, match_maps, tank_call, with_tank

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.assemble import fuel, run_sheet
from ..jobs.models import Job
from ..jobs.rows import NotFound
from ..jobs.steps import finish, reopen
from ..shelf.models import ShelfItem
from ..shop.apart import read_apart
from .judged import another_map, match_ours, settle, without_map
from .models import MapDraft, MapVersion, TunerRound
from .parts import MapPart, main_part, newest_of, part_by, parts, wanted_of
from .services import calibration_of, flash_bytes, keep, read_map


def shelf_maps() -> dict[str, Calibration]:
    """Maps on the shelf by their key."""
    return {item.key: read_map(json.dumps(item.body)) for item in ShelfItem.objects.filter(kind="map")}


def candidates(job: Job, part: MapPart) -> list[tuple[MapMatch, str]]:
    """Maps on the shelf, judged for a device, with their shelf key; those of another form are left out."""
    found = {key: made for key, made in shelf_maps().items() if made.form == part.form.key}
    keys = {made.sha256: key for key, made in found.items()}
    return [(match, keys[match.sha256]) for match in match_maps(wanted_of(job, part), list(found.values()))]


def judged(job: Job, part: MapPart) -> list[dict[str, object]]:
    """The candidates as screens show them."""
    return [
        {
            **vars(match),
            "key": key,
            "possible": match.possible,
            "asks_octane": match.lacks_octane_alone,
            "other_set": match.of_another_set_alone,
        }
        for match, key in candidates(job, part)
    ]


@changes_job
def choose_map(
    job: Job, key: str, by: User, part_key: str | None = None, ron: float | None = None
) -> MapVersion:
    """Take a map from the shelf as a device's base, for this VIN; `ron` where its maker was asked for its
    octane.
    """
    part = main_part(job) if part_key is None else part_by(job, part_key)
    item = ShelfItem.objects.filter(kind="map", key=key).first()
    if item is None:
        raise NotFound(f"There is no map “{key}” on the shelf.", "map")
    source = from_json(json.dumps(item.body))
    return take(job, part, source, by, ron)


def take(
    job: Job,
    part: MapPart,
    source: Calibration,
    by: User,
    ron: float | None = None,
    parent: MapVersion | None = None,
    with_its_set: bool = False,
) -> MapVersion:
    """Take a map, wherever it came from, as a device's base, if it serves; `with_its_set` where every other
    module takes its own member of the same set with it.
    """
    want = wanted_of(job, part)
    want = replace(want, with_set=None) if with_its_set else want
    match = match_maps(want, [_stated(source, ron)])[0]
    if not match.possible:
        raise BadInput(f"This map cannot serve: {match.conflicts[0]}.", "map")
    said = f", {ron:g} RON by its maker" if ron is not None and source.conditions.ron is None else ""
    calibration = replace(
        with_tank(_stated(source, ron), fuel(job)),
        identity=replace(source.identity, vin=job.vin),
        lineage=Lineage("r0", source.sha256, round=0, note=f"base map {source.name}", author=by.username),
    )
    version = keep(job, calibration, by, parent, f"base map: {source.name}{said}", part.key)
    MapDraft.objects.filter(job=job, part=part.key).delete()
    another_map(job, part)
    _judge_choice(job, part, match, calibration, by)
    settle(job, part, by)
    return version


@changes_job
def choose_set(job: Job, key: str, by: User) -> list[MapVersion]:
    """Take every member of a map's set, each for the device that runs it; all of them, or none.

    Raises
    ------
    BadInput
        Naming the member that is not on the shelf, or that no device of this job takes.
    """
    shelf = shelf_maps()
    source = shelf.get(key)
    if source is None or source.set is None:
        raise BadInput("This map is of no set. Choose it by itself.", "map")
    by_sum = {made.sha256: made for made in shelf.values()}
    found: list[tuple[MapPart, Calibration]] = []
    for role, sha256 in source.set.members.items():
        made = by_sum.get(sha256)
        if made is None:
            raise BadInput(
                f"The set {source.set.name} is not whole on the shelf: its {role} is missing.", "map"
            )
        part = next((one for one in parts(job) if _takes(job, one, made)), None)
        if part is None:
            raise BadInput(f"No device of this job takes {made.name}, the set's {role}.", "map")
        found.append((part, made))
    return [take(job, part, made, by, with_its_set=True) for part, made in found]


def _takes(job: Job, part: MapPart, made: Calibration) -> bool:
    want = replace(wanted_of(job, part), with_set=None)
    return part.form.key == made.form and match_maps(want, [made])[0].possible


def _stated(source: Calibration, ron: float | None) -> Calibration:
    """With the octane that its maker told, where the file does not say it."""
    if ron is None or source.conditions.ron is not None:
        return source
    return replace(source, conditions=source.conditions.model_copy(update={"ron": ron}))


def _judge_choice(job: Job, part: MapPart, match: MapMatch, calibration: Calibration, by: User) -> None:
    """A map was taken: what was said and set of the one before no longer stands."""
    call = match_call(match)
    if part.key:
        ledger.withdraw_one(job, "base-map", f"base-map.match{part.tail}")
        ledger.judge(job, "base-map", [replace(call, rule=f"base-map.match{part.tail}")], by)
        return
    for step in ("base-map.flow", "base-map.dead_time"):
        reopen(job, step)
    ledger.withdraw(job, "base-map", "")
    ledger.judge(job, "base-map", [call, tank_call(calibration, fuel(job))], by)
    if call.verdict is Verdict.stop:
        reopen(job, "base-map.choose")
    else:
        finish(job, "base-map.choose", by)


def judge_again(job: Job, by: User) -> None:
    """Intake changed: the map that was chosen is held against what the job is now."""
    without_map(job, by)
    for part in parts(job):
        version = newest_of(job, part.key)
        if version is None:
            continue
        if calibration_of(version).form == "borrowed":
            settle(job, part, by)
        elif part.key:
            match = match_ours(job, part, calibration_of(version))
            ledger.judge(job, "base-map", [replace(match_call(match), rule=f"base-map.match{part.tail}")], by)
            settle(job, part, by)
        else:
            _judge_written_again(job, part, version, by)


def _judge_written_again(job: Job, part: MapPart, version: MapVersion, by: User) -> None:
    calibration = calibration_of(version)
    match = match_ours(job, part, calibration)
    tank = tank_call(calibration, fuel(job))
    ledger.judge(job, "base-map", [match_call(match), tank], by)
    if not match.possible:
        reopen(job, "base-map.choose")
    if tank.verdict is not Verdict.go:
        reopen(job, "base-map.flow")
    settle(job, part, by)


#: Largest map file that is read [bytes]: text around an image that fits the device.
MOST_BYTES = 4_000_000


def upload_map(
    job: Job, data: bytes, by: User, part_key: str | None = None, ron: float | None = None
) -> MapVersion:
    """A map file from elsewhere, if it is whole, fits the device and serves this vehicle as one from the
    shelf would.
    """
    if len(data) > MOST_BYTES:
        raise BadInput(f"This file has {len(data)} bytes; no map is larger than {MOST_BYTES}.", "file")
    came = TunerRound.objects.filter(job=job, reply_sha256=hashlib.sha256(data).hexdigest())
    if (found := came.exclude(state="taken").first()) is not None:
        raise BadInput(
            f"This file came back in round {found.number} and was not taken: what was found on it stands in"
            " Correct. It does not come in by another door.",
            "file",
        )
    calibration = read_apart(read_map_file, data, size=len(data))
    return take_file(job, calibration, by, part_key, ron)


@changes_job
def take_file(
    job: Job, calibration: Calibration, by: User, part_key: str | None, ron: float | None = None
) -> MapVersion:
    """A map of a file that was read, as `upload_map`."""
    part = main_part(job) if part_key is None else part_by(job, part_key)
    calibration.image(flash_bytes(job) if part.written else None)
    want = wanted_of(job, part)
    answer, sentence = identity_match(
        file=Named(calibration.identity.vin, calibration.identity.computer),
        job=Named(job.vin, want.computer),
        answered=Named(job.vin, want.computer),
    )
    if answer == "differs":
        raise BadInput(f"This map is not for this vehicle. {sentence}", "file")
    stated = _stated(calibration, ron)
    match = match_maps(want, [stated])[0]
    if not (match.possible or match.lacks_octane_alone):
        raise BadInput(f"This map cannot serve: {match.conflicts[0]}.", "file")
    parent = MapVersion.objects.filter(job=job, part=part.key).last()
    version = keep(job, stated, by, parent, f"from a file: {calibration.name or 'unnamed'}", part.key)
    MapDraft.objects.filter(job=job, part=part.key).delete()
    another_map(job, part)
    ledger.write(
        job, "base-map", "map", f"Map from a file: {calibration.name}", by, f"CRC-32 {version.crc32}"
    )
    _judge_choice(job, part, match, stated, by)
    settle(job, part, by)
    return version


#: Steps that tell of one device by its place in the kit.
OF_A_DEVICE = ("base-map.settings", "load.read_back", "load.stock_kept", "load.battery")


def set_again(job: Job, by: User) -> None:
    """Another kit was taken: what was set on a device that is gone is no record of the one in its place."""
    titles = {step.key: step.title for step in run_sheet(job).steps}
    for done in job.steps_done.all():
        if done.key.startswith(OF_A_DEVICE) and titles.get(done.key) != done.title:
            reopen(job, done.key)
    without_map(job, by)
    for part in parts(job):
        settle(job, part, by)
