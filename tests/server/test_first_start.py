"""The first start over the API, on the stand-in: outputs, base timing, an engine too lean to live."""

from __future__ import annotations

import pytest

from tests.shopwork import J, by_hand, log, standing, steps, to_map, write

OUTPUTS, TIMING = "first-start.outputs", "first-start.base_timing"


@pytest.fixture
def loaded(lead):
    """The estate with its map in, its sensors read and its pedal learned."""
    lead.at("pedal learned", lambda: learned(lead))
    return lead


def learned(lead) -> None:
    to_map(lead)
    write(lead)
    lead.post(f"{J}/key-on")
    lead.post(f"{J}/pedal")


def grid(api, key: str) -> dict:
    return api.get(f"{J}/steps/{key}/grid")


def confirm(api, *interlocks: str) -> None:
    now = grid(api, OUTPUTS)
    api.put(
        f"{J}/steps/{OUTPUTS}/grid",
        {"data": {"rows": [], **now["data"], "interlocks": interlocks}, "revision": now["revision"]},
    )
    assert api.status == 200


class TestOutputs:
    def test_nothing_is_driven_before_what_makes_it_safe_is_confirmed(self, loaded):
        told = loaded.post(f"{J}/outputs/injector_1/run")
        assert loaded.status == 422
        assert "First confirm" in told["sentence"]
        assert told["field"] == "interlocks"
        confirm(loaded, "still")
        assert "rail without pressure" in loaded.post(f"{J}/outputs/injector_1/run")["sentence"]
        assert grid(loaded, OUTPUTS)["data"]["rows"] == []
        confirm(loaded, "still", "no_pressure")
        tried = loaded.post(f"{J}/outputs/injector_1/run")
        assert tried["seen"] == "At the pretend vehicle: injector 1 clicks, then it is still."
        assert tried["grid"]["data"]["rows"][0]["amps"] == pytest.approx(0.95)
        assert "no output" in loaded.post(f"{J}/outputs/injector_9/run")["sentence"]
        assert not steps(loaded, J)[OUTPUTS]["done"]

    def test_a_coil_that_answers_at_another_cylinder_is_a_stop(self, loaded, settings):
        settings.FAULTS = "crossed_coils=1"
        confirm(loaded, "still", "no_pressure", "no_vapour")
        tried = loaded.post(f"{J}/outputs/coil_1/run")
        assert "coil 2 ticks" in tried["seen"]
        rows = [{**tried["grid"]["data"]["rows"][0], "seen": "other"}]
        loaded.put(
            f"{J}/steps/{OUTPUTS}/grid",
            {"data": {**tried["grid"]["data"], "rows": rows}, "revision": tried["grid"]["revision"]},
        )
        stop = standing(loaded, J)[f"step.{OUTPUTS}"]
        assert stop["verdict"] == "stop"
        assert "Do not start" in stop["text"]
        told = loaded.post(f"ledger/{stop['id']}/overrule", {"reason": "it is fine"})
        assert loaded.status == 403
        assert "protects engine" in told["sentence"]

    def test_a_pump_that_does_not_stop_is_told(self, loaded, settings):
        settings.FAULTS = "stuck_pump=1"
        confirm(loaded, "still", "closed")
        assert "goes on after its time" in loaded.post(f"{J}/outputs/pump/run")["seen"]


class TestTooLean:
    def test_global_trim_keeps_it_alive_and_the_next_map_takes_its_place(self, loaded, settings):
        settings.FAULTS = "flow_error=-0.09,dead_time_error_ms=0.25"
        by_hand(loaded, J, "first-start", before="first-start.start")
        held = {call["rule"]: call for call in loaded.post(f"{J}/start")["calls"]}
        assert held["start.mixture"]["verdict"] == "hold"
        assert "5 % steps" in held["start.mixture"]["do_next"]
        for percent in (5.0, 10.0, 15.0):
            assert loaded.post(f"{J}/global-trim", {"steps": 1})["percent"] == percent
        with_trim = {call["rule"]: call for call in loaded.post(f"{J}/start")["calls"]}
        # The fuel that is missing is still missing in the map, and the trim is no answer.
        assert with_trim["start.mixture"]["verdict"] == with_trim["start.global_trim"]["verdict"] == "hold"
        made = log(loaded)
        assert "global_trim" in {column["name"] for column in made["columns"]}
        found = loaded.get(f"{J}/proposal")
        # Flow, dead time and filling are all wrong: which of them no log can tell, and the cells carry it.
        assert found["scalars"] == []
        told = loaded.post(f"{J}/rounds", {"log_id": made["id"], "take_scalars": True})
        assert loaded.status == 200, told
        write(loaded)
        assert loaded.get(f"{J}/global-trim")["percent"] == 0.0
        assert "start.global_trim" not in standing(loaded, J)


def test_beyond_what_a_trim_is_for_it_is_refused(loaded):
    loaded.post(f"{J}/global-trim", {"steps": 5})
    assert loaded.status == 200
    assert "look at fuel pressure" in loaded.post(f"{J}/global-trim", {"steps": 1})["sentence"]
    assert loaded.post(f"{J}/global-trim", {"steps": 0})["percent"] == 0.0


def test_temperatures_are_judged_by_the_hours_it_stood(loaded, settings):
    def soak(hours: float) -> dict:
        calls = loaded.post(f"{J}/key-on?stood_h={hours}")["calls"]
        return next(call for call in calls if call["rule"] == "sensor.cold_soak")

    # The stand-in cools by a law of its own; a warm coolant is no fault where it is the engine's heat.
    assert [soak(hours)["verdict"] for hours in (3, 6, 14)] == ["go", "go", "go"]
    assert soak(0.5)["verdict"] == "hold"
    assert "less than 2 h" in soak(0.5)["do_next"]
    assert "0 or more" in loaded.post(f"{J}/key-on?stood_h=-1")["sentence"]


def test_both_tracks_of_pedal_and_of_throttle_are_learned(loaded, settings):
    learned = loaded.post(f"{J}/pedal")["calls"]
    assert [call["title"] for call in learned] == [
        "Pedal range",
        "Pedal tracks",
        "Throttle range",
        "Throttle tracks",
    ]
    assert {call["verdict"] for call in learned} == {"go"}
    settings.FAULTS = "throttle_track=0.2"
    found = {call["title"]: call["verdict"] for call in loaded.post(f"{J}/pedal")["calls"]}
    assert found["Throttle tracks"] == "stop"
    assert found["Pedal tracks"] == "go"
    assert not steps(loaded, J)["first-start.pedal"]["done"]


class TestNotRun:
    def test_no_engine_is_run_while_its_first_start_says_that_it_must_not(self, loaded, settings):
        settings.FAULTS = "coolant_open"
        told = loaded.post(f"{J}/key-on")
        assert "stop" in {call["verdict"] for call in told["calls"]}
        for path, body in (
            (f"{J}/start", None),
            (f"{J}/timing/read", {"speed": "idle"}),
            (f"{J}/captures", {"watched": False}),
            (f"{J}/runs", {"when": "after"}),
        ):
            refused = loaded.post(path, body)
            assert loaded.status == 422, path
            if "timing" not in path:
                assert "is a stop" in refused["sentence"], refused
                assert "plug and wiring" in refused["sentence"], refused
        # Put right and read again, it runs.
        settings.FAULTS = ""
        loaded.post(f"{J}/key-on")
        loaded.post(f"{J}/start")
        assert loaded.status == 200
