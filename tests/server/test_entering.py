"""Set at the device, screen by screen: over the API, by each kind of device that no link of ours writes."""

from __future__ import annotations

import pytest

from tests.shopwork import answer_all, by_hand, do, intake, standing, steps

#: Job → the step that its first device ends, and the screens of its first pass.
JOBS = {
    "0003": ("load.read_back", "Kelmar pressure shifter"),
    "0005": ("load.read_back", "Brandrel Line 3"),
    "0007": ("load.read_back", "Brandrel Pocket"),
    "0008": ("load.read_back", "Ardle second computer"),
    "0009": ("load.read_back", "Harrow body gateway"),
}


def device_of(lead, job, name):
    return next(one for one in lead.get(f"{job}/entering") if one["device"] == name)


def aired(lead, job):
    """A hull is aired before any switch is touched."""
    if bilge := steps(lead, job).get("make-safe.bilge"):
        do(lead, job, bilge)


def ready(lead, number):
    job = f"jobs/{number}"
    if lead.get(job)["plate"]["petrol"]:
        intake(lead, job)
    answer_all(lead, job)
    aired(lead, job)
    by_hand(lead, job, "load", before="load.read_back")
    return job


@pytest.mark.parametrize("number", JOBS)
def test_every_screen_right_does_the_step_with_what_is_in(lead, number):
    job = ready(lead, number)
    key, name = JOBS[number]
    told = device_of(lead, job, name)
    assert told["screens"], told["first"]
    assert not told["first"], told["first"]
    seen = 0
    while told["next"]:
        now = next(screen for screen in told["screens"] if screen["key"] == told["next"])
        told = lead.post(f"{job}/entering/{told['part']}", {"key": now["key"], "shown": now["shows"]})
        assert lead.status == 200, told
        seen += 1
    assert told["complete"]
    assert seen == len(told["screens"])
    step = steps(lead, job)[key]
    assert step["done"]
    assert "read again after the power was off" in step["words"]
    assert all(screen["shows"] in step["words"] for screen in told["screens"] if screen["again"])


def test_a_figure_that_reads_back_wrong_is_passed_by_no_word_and_no_other_way(lead):
    job = ready(lead, "0009")
    told = device_of(lead, job, "Harrow body gateway")
    path, (first, second) = f"{job}/entering/{told['part']}", told["screens"][:2]
    lead.post(path, {"key": second["key"], "shown": second["shows"]})
    assert lead.status == 422, "not reached yet"
    lead.post(path, {"key": first["key"], "shown": ""})
    assert lead.status == 422
    lead.post(path, {"key": first["key"], "shown": first["shows"]})
    lead.post(path, {"key": second["key"], "shown": "27"})
    rule = f"load.entry#{second['key']}"
    assert standing(lead, job)[rule]["verdict"] == "hold"
    said = lead.post(f"{job}/steps/load.read_back/done", {"words": "All is in, honestly."})
    assert lead.status == 422
    assert "Read back wrong" in said["sentence"]
    lead.post(path, {"key": second["key"], "shown": "27"})
    assert standing(lead, job)[rule]["verdict"] == "stop"
    lead.post(f"ledger/{standing(lead, job)[rule]['id']}/overrule", {"reason": "It is near enough."})
    assert lead.status == 403
    told = lead.post(path, {"key": second["key"], "shown": second["shows"]})
    assert rule not in standing(lead, job)
    assert told["next"] == told["screens"][2]["key"]
    assert not steps(lead, job)["load.read_back"]["done"]


def test_another_map_is_entered_from_the_start(lead):
    job = ready(lead, "0005")
    told = device_of(lead, job, "Brandrel Line 3")
    lead.post(f"{job}/entering/{told['part']}", {"key": told["next"], "shown": told["screens"][0]["shows"]})
    assert device_of(lead, job, "Brandrel Line 3")["next"] != told["next"]
    answer = lead.post(f"{job}/map-parts/{told['part']}/maps", {"key": "q660-race"})
    assert lead.status == 200, answer
    fresh = device_of(lead, job, "Brandrel Line 3")
    assert fresh["next"] == fresh["screens"][0]["key"]
    assert {s["state"] for s in fresh["screens"]} == {"open"}


def test_nothing_is_set_before_what_protects_it(lead):
    job = "jobs/0007"
    intake(lead, job)
    aired(lead, job)
    told = device_of(lead, job, "Brandrel Pocket")
    assert told["first"].startswith("First: Save the stock image")
    lead.post(f"{job}/entering/{told['part']}", {"key": told["next"], "shown": told["screens"][0]["shows"]})
    assert lead.status == 422


def test_what_is_taken_back_is_read_again_screen_by_screen(lead):
    job = ready(lead, "0009")
    key, name = JOBS["0009"]
    do(lead, job, steps(lead, job)[key])
    assert device_of(lead, job, name)["complete"]
    lead.post(f"{job}/steps/{key}/undo")
    told = device_of(lead, job, name)
    assert not told["complete"]
    assert told["next"] == told["screens"][0]["key"], "there is a way on"
    do(lead, job, steps(lead, job)[key])
    assert steps(lead, job)[key]["done"]


def test_what_a_device_showed_that_is_off_again_bars_nothing_until_it_is_back(lead):
    job = ready(lead, "0009")
    told = device_of(lead, job, "Harrow body gateway")
    path, (first, second) = f"{job}/entering/{told['part']}", told["screens"][:2]
    lead.post(path, {"key": first["key"], "shown": first["shows"]})
    for _ in range(2):
        lead.post(path, {"key": second["key"], "shown": "27"})
    rule = f"load.entry#{second['key']}"
    assert standing(lead, job)[rule]["verdict"] == "stop"
    kit = [device["key"] for device in lead.get(f"{job}/kit")["devices"] if device["chosen"]]
    lead.put(f"{job}/kit", {"devices": ["brandrel-phone"]})
    assert lead.status == 200
    assert rule not in standing(lead, job)
    lead.put(f"{job}/kit", {"devices": kit})
    assert standing(lead, job)[rule]["verdict"] == "stop"
    lead.put(f"{job}/kit", {"devices": ["brandrel-phone", *kit]})
    assert lead.status == 200
    moved = {entry for entry in standing(lead, job) if entry.startswith("load.entry")}
    assert moved == {f"load.entry-2#{second['key']}"}, "it goes with its device, whichever place that has"
    assert standing(lead, job)[f"load.entry-2#{second['key']}"]["verdict"] == "stop"
