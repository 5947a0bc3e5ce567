"""What a finding says: which sensor cannot be right and why, where a trim points to, what was awake, how long
to wait.
"""

from __future__ import annotations

import numpy as np
import pytest

from tests.core import test_thresholds as limits
from tests.core.drives import drive
from ventmap.core.basics import Verdict
from ventmap.core.findings import ReviewContext, review


def found(log, induction="turbo", **context):
    return {f.kind: f for f in review(log, ReviewContext(induction=induction, **context)).findings}


def told(finding):
    return {e.label: e.value for e in finding.evidence}


class TestSensors:
    def spoiled(self, name, values, where):
        log, mask = drive()
        channel = log.channels[name].astype(float)
        channel[where(log, mask)] = values if np.isscalar(values) else values(log, mask)
        log.channels[name] = channel
        return log

    @pytest.mark.parametrize(
        ("name", "value", "says"),
        [
            ("coolant", -40.0, "at its rail"),
            ("iat", -40.0, "at its rail"),
            ("coolant", 260.0, "reads"),
            ("lambda", 9.0, "reads"),
            ("battery", 40.0, "reads"),
        ],
    )
    def test_open_short_and_beyond_what_there_is(self, name, value, says):
        log = self.spoiled(name, value, lambda log, mask: np.flatnonzero(mask["cruise"])[:200])
        finding = found(log)["sensor_implausible"]
        assert says in finding.evidence[0].label
        assert finding.verdict is Verdict.hold
        assert log.time_s[limits.rows(drive()[1], "cruise", 0)[0]] - 0.1 <= finding.from_s <= finding.to_s

    def test_a_jump_faster_than_physics(self):
        log = self.spoiled("coolant", 60.0, lambda log, mask: np.flatnonzero(mask["cruise"])[100:104])
        finding = found(log)["sensor_implausible"]
        assert "jumps by" in finding.evidence[0].label
        assert finding.evidence[0].value == pytest.approx(28, abs=1)

    def test_a_dead_signal_and_one_that_is_only_quiet(self):
        dead = self.spoiled("map", 97.3, lambda log, mask: slice(0, 1800))
        assert any("does not move" in e.label for e in found(dead)["sensor_implausible"].evidence)
        quiet = self.spoiled("battery", 14.1, lambda log, mask: np.flatnonzero(mask["idle"]))
        assert "sensor_implausible" not in found(quiet), "at a steady idle nothing has to move"

    @pytest.mark.parametrize(("off", "wrong"), [(4.0, False), (6.5, True), (-6.5, True)])
    def test_key_on_manifold_against_the_barometer(self, off, wrong):
        log, mask = drive()
        log.channels["map"][mask["key_on"]] += off
        finding = found(log).get("sensor_implausible")
        assert bool(finding) == wrong
        if finding:
            assert told(finding)["key-on manifold − barometer"] == pytest.approx(abs(off), abs=0.5)

    def test_several_are_told_together(self):
        log = self.spoiled("coolant", -40.0, lambda log, mask: np.flatnonzero(mask["cruise"])[:100])
        log.channels["iat"] = np.where(log.time_s > 60, 210.0, log.channels["iat"])
        finding = found(log)["sensor_implausible"]
        assert "and 1 more" in finding.title
        assert len(finding.evidence) == 2


class TestTrimsPointSomewhere:
    @pytest.mark.parametrize(
        ("zones", "title", "cause"),
        [
            (("idle", "idle2"), "at idle", "air leak"),
            (("idle", "idle2", "cruise", "cruise2", "pull", "pull2"), "everywhere", "injector flow figure"),
            (("pull", "pull2"), "under load", "fuel supply"),
            (("cruise", "cruise2"), "under cruise", "fuel supply"),
        ],
    )
    def test_by_where_they_are_off(self, zones, title, cause):
        log, mask = drive()
        rows = np.any([mask[zone] for zone in zones], axis=0)
        for bank in (1, 2):
            log.channels[f"ltft_{bank}"] = log.channels[f"ltft_{bank}"] + np.where(rows, 12.0, 0.0)
        finding = found(log)["trim_offset"]
        assert title in finding.title
        assert finding.causes[0] == cause

    @pytest.mark.parametrize(("bank", "leans"), [(1, 1), (2, 2)])
    def test_the_leaner_bank_is_named(self, bank, leans):
        log, _ = drive()
        log.channels[f"ltft_{bank}"] = log.channels[f"ltft_{bank}"] + 9.0
        assert f"bank {leans}" in found(log)["bank_imbalance"].next

    def test_hunting_without_a_wakener_blames_the_delay(self):
        log, mask = drive()
        rows = mask["idle"]
        for bank in (1, 2):
            log.channels[f"stft_{bank}"] = log.channels[f"stft_{bank}"] + np.where(
                rows, 7 * np.sin(2 * np.pi * log.time_s / 3), 0
            )
        finding = found(log)["trim_hunting"]
        assert "woke at that moment" not in told(finding)
        assert "delay" in finding.causes[0]
        assert told(finding)["period"] == pytest.approx(3, abs=0.3)


class TestBoostAndFuel:
    def test_a_falling_target_is_a_wish_and_no_fault(self):
        log, mask = drive()
        limits.slip(log, mask, 20.0)
        assert "boost_falls_with_rpm" in found(log)
        log, mask = drive()
        limits.slip(log, mask, 20.0)
        for name in ("pull", "pull2"):
            rows = limits.rows(mask, name)
            log.channels["map_target"][rows] -= np.linspace(0, 20.0, len(rows))
        assert "boost_falls_with_rpm" not in found(log)

    def test_a_blower_that_slips_stops_and_a_turbo_holds(self):
        log, mask = drive()
        limits.slip(log, mask, 20.0)
        del log.channels["map_target"]
        blower, turbo = (
            found(log, "blower")["boost_falls_with_rpm"],
            found(log, "turbo")["boost_falls_with_rpm"],
        )
        assert (blower.verdict, turbo.verdict) == (Verdict.stop, Verdict.hold)
        assert "drive slip" in blower.causes[0]
        assert "wastegate" in turbo.causes[0]
        untold = found(log, "unknown")["boost_falls_with_rpm"]
        assert untold.verdict is Verdict.hold
        assert "blower" in untold.causes[0]
        assert "turbo" in untold.causes[1]

    def test_without_a_target_the_baseline_judges_the_level(self):
        log, _ = drive(boost=40.0)
        del log.channels["map_target"]
        assert "boost_plateau_low" not in found(log)
        assert told(found(log, baseline_boost_kpa=158.0)["boost_plateau_low"])["short by"] == pytest.approx(
            20, abs=2
        )

    @pytest.mark.parametrize(
        "boost, induction, told_of",
        [
            (4.0, "turbo", True),
            (16.0, "turbo", False),
            (4.0, "blower", True),
            (4.0, "none", False),
            (4.0, "unknown", False),
        ],
    )
    def test_a_charged_engine_that_makes_no_boost_is_held_without_target_or_baseline(
        self, boost, induction, told_of
    ):
        log, _ = drive(boost=boost)
        log.channels.pop("map_target")
        kinds = found(log, induction)
        assert ("boost_plateau_low" in kinds) is told_of
        if told_of:
            none = kinds["boost_plateau_low"]
            assert none.verdict is Verdict.hold
            assert told(none)["highest in a pull"] < told(none)["barometer"] + 10

    def test_direct_injection_is_held_against_its_own_pull(self):
        log, mask = drive()
        rail = np.where(mask["pull"] | mask["pull2"], 12_000.0, 5_000.0)
        log.channels["rail"] = rail
        assert "fuel_pressure_drop" not in found(log)
        rows = limits.rows(mask, "pull", 0.6)
        sagging = rail.copy()
        sagging[rows] *= np.linspace(1, 0.7, len(rows))
        log, _ = drive()
        log.channels["rail"] = sagging
        finding = found(log)["fuel_pressure_drop"]
        assert finding.verdict is Verdict.stop
        assert told(finding)["below expected"] > 20

    def test_duty_is_taken_from_the_pulse_where_it_is_not_logged(self):
        log, mask = drive()
        del log.channels["duty"]
        assert "injector_limit" not in found(log)
        log, mask = drive()
        del log.channels["duty"]
        log.channels["pulse"][mask["pull2"]] = 17.2
        assert told(found(log)["injector_limit"])["highest duty"] == pytest.approx(
            17.2 * 6400 / 1200, rel=0.03
        )

    def test_wheel_speeds_tell_a_traction_cut(self):
        log, mask = drive()
        limits.cut(log, mask, 0.4)
        log.channels["front_speed"] = log.channels["speed"].copy()
        log.channels["rear_speed"] = log.channels["speed"] + np.where(mask["pull"], 14.0, 0.0)
        assert told(found(log)["torque_cut"])["wheel speeds differ"] == pytest.approx(14, abs=0.5)


def test_heat_soak_gives_the_minutes_to_wait():
    log, mask = drive()
    last = np.flatnonzero(mask["pull2"])[-1]
    since = log.time_s - log.time_s[last]
    log.channels["iat"] = log.channels["iat"] + np.where(
        since > 0, 30 * np.exp(-since / 60), 30 * np.clip(1 + since / 6, 0, 1)
    )
    finding = found(log)["heat_soak"]
    # from 30 K above to 3 K above at a minute's time constant: 60·ln 10 s
    assert told(finding)["wait after the last pull"] == pytest.approx(np.log(10), abs=0.35)
    assert "Wait 3 min" in finding.next, "rounded up: two would be too short"


def test_water_in_the_fuel_and_a_refuel_seen_by_the_sensor():
    log, _ = drive()
    log.channels["ethanol"] = np.where(log.time_s > 90, 130.0, 10.0)
    finding = found(log)["ethanol_jump"]
    assert told(finding)["highest"] > 100
    assert "water" in finding.causes[0]


def test_a_misfire_is_counted_from_its_growth_and_not_from_its_level():
    log, _ = drive()
    log.channels["misfire"] = np.full(len(log), 40.0)
    assert "misfire" not in found(log), "old counts are history"
    log, _ = drive()
    log.channels["misfire"] = np.where(log.time_s > 80, 52.0, 40.0)
    assert found(log)["misfire"].verdict is Verdict.hold
