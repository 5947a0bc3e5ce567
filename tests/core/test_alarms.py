"""What sounds while a log is captured: as soon as the log would be stopped, and on no sound drive."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.drives import drive
from tests.truth.detectors import CONTEXT, FAULTS
from ventmap.core.basics import BadInput, Verdict
from ventmap.core.findings import ALARMED, Limit, alarms, cannot_hear, review, unheard
from ventmap.core.logs import Log, OnPulls, in_its_unit

#: So often a capture is listened to [s], and so late after a finding's first moment it may sound [s].
STEP_S, LATE_S = 1.0, 3.0
SUDDEN = [fault for fault in FAULTS if fault.kind in ALARMED]


def heard(log: Log, context, limits: tuple[Limit, ...] = ()) -> dict[str, list[tuple[float, Verdict]]]:
    found: dict[str, list[tuple[float, Verdict]]] = {}
    for at in np.arange(STEP_S, float(log.time_s[-1]) + STEP_S, STEP_S):
        so_far = log.slice(0, int(np.searchsorted(log.time_s, at)))
        for one in alarms(so_far, context, limits):
            found.setdefault(one.kind, []).append((float(at), one.verdict))
    return found


@pytest.mark.parametrize("fault", SUDDEN, ids=[f"{n} {one.kind}" for n, one in enumerate(SUDDEN)])
def test_what_the_log_would_be_stopped_for_has_sounded_while_it_was_driven(fault):
    log, mask = drive(20.0, seed=5)
    fault.put(log, mask, 2 * fault.size)
    finding = next(one for one in review(log, fault.context).findings if one.kind == fault.kind)
    sounded = heard(log, fault.context)[fault.kind]
    assert any(verdict == finding.verdict for _, verdict in sounded)
    assert min(at for at, _ in sounded) <= finding.from_s + LATE_S


def test_every_kind_that_sounds_is_proved():
    assert {one.kind for one in SUDDEN} == set(ALARMED)


@pytest.mark.parametrize("hz", [10.0, 20.0, 50.0])
def test_a_sound_drive_is_silent(hz):
    assert heard(drive(hz, seed=4)[0], CONTEXT) == {}


def test_a_limit_of_ones_own_sounds_beyond_it_and_not_at_a_spike():
    log, mask = drive(20.0, seed=4)
    assert heard(log, CONTEXT, (Limit("rpm", True, 6_000.0),)).keys() == {"limit.rpm.above"}
    spiked = log.slice(0, len(log))
    spiked.channels["iat"] = spiked.channels["iat"].copy()
    spiked.channels["iat"][len(log) // 2] = 140.0
    assert heard(spiked, CONTEXT, (Limit("iat", True, 100.0),)) == {}
    lifted = heard(log, CONTEXT, (Limit("battery", False, 14.9, lifts=True),))["limit.battery.below"]
    assert {verdict for _, verdict in lifted} == {Verdict.stop}
    with pytest.raises(BadInput, match="no channel"):
        Limit("boots", True, 3.0)
    assert in_its_unit("coolant", "221 °F") == pytest.approx(105.0)
    with pytest.raises(BadInput):
        in_its_unit("coolant", "12 V")
    with pytest.raises(BadInput, match="number"):
        in_its_unit("misfire", "many")


def test_what_the_channels_cannot_sound_for_is_said():
    assert set(unheard(["rpm", "pedal"], CONTEXT)) >= {"knock", "lean under load", "oil pressure low"}
    assert "knock" not in unheard(["rpm", "pedal", "knock"], CONTEXT)


def test_a_channel_that_dies_on_the_way_is_said_while_it_is_driven():
    log, mask = drive(20.0, seed=4)
    assert not {told.partition(":")[0] for told in cannot_hear(log, CONTEXT)} & {"lean under load", "knock"}
    dead = log.slice(0, len(log))
    dead.channels["lambda"] = np.where(mask["pull"] | mask["pull2"], np.nan, log.channels["lambda"])
    told = [one for one in cannot_hear(dead, CONTEXT) if one.startswith("lean under load")]
    assert told
    assert "blank under load" in told[0]
    assert any(one.startswith("oil pressure low: no oil pressure") for one in cannot_hear(log, CONTEXT))
    # Before anything was driven hard there was nothing to hear.
    idle = log.slice(0, int(30 * 20))
    assert not any("none was driven" in one for one in cannot_hear(idle, CONTEXT))


def test_a_log_that_starts_by_itself_holds_the_pulls_and_what_led_to_them_once_each():
    log, mask = drive(20.0, seed=4)
    rows = [
        (float(at), {"rpm": float(rpm), "pedal": float(pedal)})
        for at, rpm, pedal in zip(log.time_s, log.channels["rpm"], log.channels["pedal"], strict=True)
    ]
    ring = OnPulls()
    kept = [one for row in rows for one in ring.keep(row)]
    times = np.array([at for at, _ in kept])
    assert (np.diff(times) > 0).all()
    pulls = log.time_s[mask["pull"] | mask["pull2"]]
    assert set(np.round(pulls, 3)) <= set(np.round(times, 3))
    first = float(log.time_s[mask["pull"]][0])
    assert first - 3.0 == pytest.approx(times[0], abs=0.1)
    assert len(kept) < len(rows) / 3
    assert ring.waits
