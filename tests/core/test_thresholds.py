"""Each rule at its own limit: a fault well below is silence, well above is found; other drives, other noise,
other engines.
"""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.drives import drive
from ventmap.core.basics import Verdict
from ventmap.core.findings import ReviewContext, review


def runs_away(log, mask, share):
    """A clutch that gives way in the second half of each pull: the engine climbs, the road does not."""
    for name in ("pull", "pull2"):
        rows = np.flatnonzero(mask[name])
        climb = np.linspace(0.0, share, len(rows) - len(rows) // 2)
        log.channels["speed"][rows[len(rows) // 2 :]] /= 1.0 + climb


def held_shut(log, mask, percent):
    """The computer holds the throttle back for most of a pull."""
    rows = np.flatnonzero(mask["pull"])
    late = rows[len(rows) // 3 :]
    log.channels["throttle"][late] = log.channels["throttle"][late] - percent


def found(log, induction="turbo"):
    return {f.kind: f for f in review(log, ReviewContext(induction=induction, idle_target=850.0)).findings}


def rows(mask, name, start=0.3, stop=1.0):
    """A stretch of a phase, by share of its length."""
    where = np.flatnonzero(mask[name])
    return where[int(start * len(where)) : int(stop * len(where))]


def lean(log, mask, size):
    log.channels["lambda"][rows(mask, "pull")] += size * log.channels["lambda_target"][rows(mask, "pull")]


def lean_for(log, mask, seconds):
    start = rows(mask, "pull")[0]
    log.channels["lambda"][start : start + round(seconds * 20)] += 0.12


def rich(log, mask, size):
    log.channels["lambda"][rows(mask, "pull")] -= size * log.channels["lambda_target"][rows(mask, "pull")]


def slip(log, mask, kpa):
    for name in ("pull", "pull2"):
        log.channels["map"][rows(mask, name)] -= np.linspace(0, kpa, len(rows(mask, name)))


def short(log, mask, kpa):
    for name in ("pull", "pull2"):
        log.channels["map_target"][mask[name]] += kpa


def cut(log, mask, depth):
    where = rows(mask, "pull", 0.5, 0.6)
    dip = 1 - depth * np.sin(np.linspace(0, np.pi, len(where)))
    log.channels["throttle"][where] *= dip
    log.channels["map"][where] *= dip


def hunt(log, mask, swing):
    where = rows(mask, "idle")
    for bank in (1, 2):
        log.channels[f"stft_{bank}"][where] += swing / 2 * np.sin(2 * np.pi * log.time_s[where] / 4)


def offset(log, mask, percent):
    for bank in (1, 2):
        log.channels[f"ltft_{bank}"] += percent


def bank(log, mask, percent):
    log.channels["ltft_2"] -= percent


def knock(log, mask, degrees):
    where = rows(mask, "pull", 0.5)
    log.channels["knock"][where[:10]] = degrees


def knock_once(log, mask, samples):
    log.channels["knock"][rows(mask, "pull", 0.5)[:samples]] = 4.0


def duty(log, mask, percent):
    log.channels["duty"][rows(mask, "pull2", 0.7)] = percent


def rail(log, mask, share):
    log.channels["rail"][rows(mask, "pull")] *= 1 - share


def soak(log, mask, kelvin):
    log.channels["iat"][log.time_s > log.time_s[rows(mask, "cruise2")[0]]] += kelvin


def soak_within(log, mask, kelvin):
    where = np.flatnonzero(mask["pull"])
    log.channels["iat"][where] += np.linspace(0, kelvin, len(where))
    after = np.arange(where[-1] + 1, len(log))
    log.channels["iat"][after] += kelvin * np.exp(-(log.time_s[after] - log.time_s[where[-1]]) / 4)


def battery(log, mask, volts):
    log.channels["battery"][~mask["key_on"]] += volts - 14.1


def battery_falls(log, mask, volts):
    log.channels["battery"][rows(mask, "pull", 0.2)] -= volts


def coolant(log, mask, celsius):
    where = rows(mask, "cruise2", 0.0)
    log.channels["coolant"][where[0] :] = np.minimum(
        celsius, 88 + 2.5 * (log.time_s[where[0] :] - log.time_s[where[0]])
    )


def cold(log, mask, celsius):
    log.channels["coolant"][:] = celsius


def idle_rough(log, mask, sigma):
    for name in ("idle", "idle2"):
        log.channels["rpm"][mask[name]] += sigma * np.sqrt(2) * np.sin(log.time_s[mask[name]] * 2.3)


def ethanol(log, mask, points):
    log.channels["ethanol"][log.time_s > log.time_s[rows(mask, "pull2")[0]]] += points


#: name → (kind, fault, a size below the rule's limit, a size above it); limits are those of the default house
#: rules.
RULES = {
    "lean by share": ("lean_under_load", lean, 0.025, 0.055),
    "lean for a moment": ("lean_under_load", lean_for, 0.1, 0.6),
    "rich by share": ("rich_under_load", rich, 0.02, 0.085),
    "boost falls": ("boost_falls_with_rpm", slip, 3.0, 14.0),
    "boost below target": ("boost_plateau_low", short, 4.0, 12.0),
    "cut": ("torque_cut", cut, 0.06, 0.3),
    "hunting": ("trim_hunting", hunt, 4.0, 12.0),
    "trim offset": ("trim_offset", offset, 5.5, 10.0),
    "banks": ("bank_imbalance", bank, 4.0, 8.0),
    "knock": ("knock", knock, 2.0, 4.0),
    "knock on one sample": ("knock", knock_once, 1, 4),
    "duty": ("injector_limit", duty, 82.0, 88.0),
    "rail": ("fuel_pressure_drop", rail, 0.05, 0.15),
    "heat between pulls": ("heat_soak", soak, 4.0, 9.0),
    "heat within a pull": ("heat_soak", soak_within, 10.0, 20.0),
    "charging": ("voltage_low", battery, 13.3, 12.6),
    "battery in a pull": ("voltage_low", battery_falls, 0.4, 1.3),
    "hot": ("coolant_high", coolant, 103.0, 112.0),
    "cold": ("not_warm", cold, 79.0, 70.0),
    "rough": ("idle_unstable", idle_rough, 35.0, 85.0),
    "ethanol": ("ethanol_jump", ethanol, 6.0, 15.0),
}


@pytest.mark.parametrize("seed", [3, 11, 29])
@pytest.mark.parametrize("rule", RULES)
def test_below_the_limit_is_silence_and_above_is_found(rule, seed):
    kind, fault, below, above = RULES[rule]
    log, mask = drive(seed=seed)
    fault(log, mask, below)
    assert kind not in found(log), f"{below} lies within the rule"
    log, mask = drive(seed=seed)
    fault(log, mask, above)
    finding = found(log)[kind]
    assert finding.evidence
    assert finding.causes
    assert finding.check
    assert finding.next
    assert log.time_s[0] <= finding.from_s < finding.to_s <= log.time_s[-1] + 0.1


@pytest.mark.parametrize(
    ("rule", "size", "verdict"),
    [
        ("lean by share", 0.055, Verdict.hold),
        ("lean by share", 0.12, Verdict.stop),
        ("knock", 4.0, Verdict.hold),
        ("knock", 7.0, Verdict.stop),
        ("duty", 88.0, Verdict.hold),
        ("duty", 97.0, Verdict.stop),
        ("hot", 112.0, Verdict.hold),
        ("hot", 118.0, Verdict.stop),
    ],
)
def test_how_heavy_a_finding_weighs(rule, size, verdict):
    kind, fault, *_ = RULES[rule]
    log, mask = drive()
    fault(log, mask, size)
    assert found(log)[kind].verdict is verdict


@pytest.mark.parametrize("seed", range(40, 52))
@pytest.mark.parametrize(
    ("induction", "boost"),
    [("turbo", 60.0), ("turbo", 120.0), ("blower", 45.0), ("none", 0.0), ("unknown", 0.0), ("unknown", 60.0)],
)
def test_sound_engines_of_every_induction_are_silent(seed, induction, boost):
    log, _ = drive(hz=[10.0, 20.0, 40.0][seed % 3], boost=boost, seed=seed)
    if boost == 0.0:
        del log.channels["map_target"]
    assert found(log, induction) == {}


@pytest.mark.parametrize("scale", [0.5, 2.0, 3.0])
def test_more_noise_is_not_a_fault(scale):
    """The spread of cheaper sensors, on every channel that has some."""
    random = np.random.default_rng(5)
    log, mask = drive(seed=8)
    for name, sigma in (
        ("map", 0.4),
        ("iat", 0.3),
        ("coolant", 0.3),
        ("battery", 0.05),
        ("stft_1", 0.4),
        ("stft_2", 0.4),
        ("rail", 3.0),
        ("lambda", 0.003),
    ):
        log.channels[name] = log.channels[name] + random.normal(0, sigma * scale, len(log)).astype(
            log.channels[name].dtype
        )
    assert found(log) == {}


def test_two_faults_are_both_found_and_do_not_hide_each_other():
    log, mask = drive(seed=4)
    knock(log, mask, 5.0)
    battery(log, mask, 12.5)
    hunt(log, mask, 14.0)
    assert {"knock", "voltage_low", "trim_hunting"} == set(found(log))


def test_a_cut_takes_its_stretch_out_of_the_judgement_of_boost():
    log, mask = drive(seed=6)
    cut(log, mask, 0.45)
    assert set(found(log)) == {"torque_cut"}, "boost falls in a cut, and that is no slipping drive"


def test_gaps_and_empty_channels_break_nothing():
    log, mask = drive(seed=7)
    for name in log.channels:
        log.channels[name] = log.channels[name].astype(float)
        log.channels[name][100:140] = np.nan
    log.channels["knock"][:] = np.nan
    told = review(log, ReviewContext(induction="turbo", idle_target=850.0))
    assert not told.findings
    assert "knock" in {n.kind for n in told.not_checkable}
