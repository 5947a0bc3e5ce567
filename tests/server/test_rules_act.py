"""House rules that are read where rows become calls: each changed, and what it changes seen."""

from __future__ import annotations

import pytest

from tests.shopwork import J, send, to_map, write
from ventmap.core.basics import DeviceKind, HouseRules
from ventmap.core.runsheet import Kit, SheetVehicle, build
from ventmap.server.jobs.judging import reading_call
from ventmap.server.jobs.models import Job


@pytest.fixture
def written(lead):
    """The estate with its map in."""
    to_map(lead)
    write(lead)
    return lead


def by(rule: str, value: float, number: str = "0001") -> None:
    job = Job.objects.get(number=number)
    job.rules = {**job.rules, rule: str(value)}
    job.save()


def verdict(told, rule: str) -> str:
    return next(call["verdict"] for call in told["calls"] if call["rule"] == rule)


@pytest.mark.parametrize(("rule", "value", "found"), [
    ("key_on.hold_kpa", 4.0, "go"), ("key_on.hold_kpa", 2.0, "hold"), ("key_on.stop_kpa", 2.5, "stop"),
])  # fmt: skip
def test_key_on_pressure_three_kilopascals_off_the_barometer(rule, value, found):
    house = HouseRules({rule: value})
    sheet = build(SheetVehicle(4), [Kit(DeviceKind.sensor_piggyback)], "street", house)
    step = next(step for step in sheet.steps if step.key == "first-start.map_key_on")
    assert reading_call(step, SheetVehicle(4).barometer_kpa + 3.0, house).verdict == found


@pytest.mark.parametrize(("value", "found"), [(5.0, "go"), (1.0, "hold")])
def test_temperatures_after_a_cold_soak(written, settings, value, found):
    """Twelve hours leave 0.7 K of a warm engine; its sensors differ by their own bias."""
    by("key_on.soak_k", value)
    told = written.post(f"{J}/key-on?stood_h=5")
    call = next(call for call in told["calls"] if call["rule"] == "sensor.cold_soak")
    spread = next(item for item in call["because"] if item["label"] == "spread")
    assert call["verdict"] == ("go" if spread["value"] <= spread["limit"] else "hold")
    assert spread["limit"] == pytest.approx(value + 10.2, abs=0.2), "70 K · e^(−5/2.6) are left"


@pytest.mark.parametrize(("rule", "value", "found"), [
    ("start.pedal_low", 0.3, "go"), ("start.pedal_low", 0.9, "stop"),
    ("start.pedal_high", 4.7, "go"), ("start.pedal_high", 4.0, "stop"),
    ("start.pedal_span", 2.0, "go"), ("start.pedal_span", 4.4, "stop"),
])  # fmt: skip
def test_the_pedals_track(written, rule, value, found):
    by(rule, value)
    assert verdict(written.post(f"{J}/pedal"), "pedal.range") == found


@pytest.mark.parametrize(("value", "found"), [(5.0, "go"), (1.0, "stop")])
def test_twin_tracks_agree(written, settings, value, found):
    settings.FAULTS = "pedal_track=0.03"
    by("start.pedal_agree", value)
    assert verdict(written.post(f"{J}/pedal"), "pedal.tracks") == found


RUN = "rpm,wheel power (kW)\n" + "".join(f"{rpm},{{}}\n" for rpm in range(3000, 6000, 100))
MADE = "gear=3&intake=21%20%C2%B0C&drum=bay%20drum&ramp=inertia"


BIKE = "jobs/0005"


@pytest.fixture
def measured(lead):
    """Three runs before, three after, 3 kW apart with a scatter of 1 kW."""
    for name, middle in (("before", 60.0), ("after", 63.0)):
        for noise in (-1.0, 0.0, 1.0):
            data = RUN.format(*[middle + noise] * 30).encode()
            send(lead, f"{BIKE}/run-files?when={name}&name=run.csv&{MADE}", data)
            assert lead.status == 200
    return lead


@pytest.mark.parametrize(("rule", "value", "title"), [
    ("dyno.confidence", 90.0, "The gain is real"), ("dyno.confidence", 99.5, "Within scatter"),
    ("dyno.repeats", 4, "Too few runs to claim"),
])  # fmt: skip
def test_when_a_gain_counts(measured, rule, value, title):
    """Pooled deviation 1 kW over six runs, 4 degrees: 90 % asks 1.74 kW, 99.5 % asks 4.57."""
    by(rule, value, "0005")
    told = measured.get(f"{BIKE}/comparison")
    assert title in [call["title"] for call in told["calls"]]


@pytest.mark.parametrize(("rule", "at"), [("dyno.loss_low", 0), ("dyno.loss_high", 1)])
def test_the_range_at_the_crank(measured, rule, at):
    value = {"dyno.loss_low": 10.0, "dyno.loss_high": 25.0}[rule]
    by(rule, value, "0005")
    told = measured.get(f"{BIKE}/comparison")
    assert told["crank_kw"][at] == round(63.0 / (1 - value / 100))
