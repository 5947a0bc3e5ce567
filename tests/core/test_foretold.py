"""What one log foretells of the next map, by the physics of an injector; and rounds that limits force."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.conftest import make_base_map
from tests.core.test_corrections import Dwell
from ventmap.core.basics import Verdict
from ventmap.core.corrections import (
    CorrectionRules,
    SteadySamples,
    foretold,
    prediction_call,
    rounds_forced,
    rounds_in_words,
)

MAP = make_base_map()
RULES = CorrectionRules(barometer_kpa=85.0)
CELLS = [(2, 3), (3, 4), (4, 5), (5, 6)]
RPM, LOAD = np.linspace(900.0, 6000.0, 40), np.linspace(28.0, 95.0, 40)


def driven(running, air, flow: float, dead: float) -> SteadySamples:
    """What is missing where a map runs an engine of `air`, with injectors of so much flow and dead time."""
    pulse = running.tables["ve"].at(RPM, LOAD) * LOAD / running.scalars["injector_flow"] * 0.08
    open_for = pulse + float(np.ravel(running.tables["dead_time"].at(300.0, 14.0))[0]) - dead
    zero = np.zeros(len(RPM))
    return SteadySamples(
        RPM,
        LOAD,
        error=air * LOAD * 0.08 / (flow * open_for) - 1.0,
        effective_pulse_ms=pulse,
        weight=zero + 1.0,
        place=zero.astype(int),
        time=np.arange(len(RPM)) / 10.0,
        unrest=zero,
        delay_s=0.2,
    )


def test_what_is_foretold_is_what_the_injector_does():
    """Another filling, flow and dead time at once; the newer dead time is the true one."""
    kpa, table = MAP.scalars["fuel_pressure_kpa"], MAP.tables["dead_time"]
    shifted = table.with_values(table.values + 0.11)
    ve = MAP.tables["ve"]
    new = (
        MAP.with_scalars(injector_flow=0.93 * MAP.scalars["injector_flow"])
        .with_table("dead_time", shifted)
        .with_table(
            "ve", ve.with_values(ve.values * np.linspace(0.9, 1.15, ve.values.size).reshape(ve.values.shape))
        )
    )
    true_dead = float(np.ravel(shifted.at(kpa, 14.0))[0])
    old_dead = float(np.ravel(table.at(kpa, 14.0))[0])
    air, flow = 71.0, 401.0
    before = driven(MAP, air, flow, true_dead + (float(np.ravel(table.at(300.0, 14.0))[0]) - old_dead))
    after = driven(new, air, flow, true_dead + (float(np.ravel(shifted.at(300.0, 14.0))[0]) - true_dead))
    assert foretold(before, MAP, new).error == pytest.approx(after.error, abs=1e-9)
    assert foretold(before, MAP, MAP).error == pytest.approx(before.error)


#: Of a full map, known to give a warm, running engine no fuel; by the trade, not by the code.
STILL = {"rev_limit", "idle_target", "fan_on", "fan_off", "speed_limit", "tyre_mm", "overrun_off_rpm"}
STILL |= {"overrun_on_rpm", "after_start_s", "pedal_response", "lambda_target", "spark", "boost_target"}
STILL |= {"wastegate_duty", "idle_air", "cranking_fuel", "after_start", "warm_up"}
RECKONED = {"injector_flow", "ve", "dead_time"}


@pytest.mark.parametrize("name", [*MAP.kind.scalars, *MAP.kind.tables])
def test_whatever_else_gives_fuel_foretells_nothing_where_it_was_changed(name):
    if name in MAP.kind.scalars:
        other = MAP.with_scalars(**{name: 1.04 * MAP.scalars.get(name, 1.0)})
    else:
        table = MAP.tables.get(name, MAP.tables["ve"])
        other = MAP.with_table(name, table.with_values(1.04 * table.values))
    logs = [Dwell(MAP, CELLS, [off] * 4).log() for off in (0.0, 0.2)]
    told = prediction_call(logs[0], MAP, logs[1], other, RULES)
    assert (told is not None) == (name in STILL | RECKONED)


def test_a_table_that_no_form_knows_is_taken_to_give_fuel():
    other = MAP.with_table("own-1", MAP.tables["spark"])
    logs = [Dwell(MAP, CELLS, [off] * 4).log() for off in (0.0, 0.2)]
    assert prediction_call(logs[0], MAP, logs[1], other, RULES) is None


@pytest.mark.parametrize(("errors", "words"), [
    ((0.08, 0.08, 0.08, 0.08), "everywhere alike"),
    ((0.15, -0.12, 0.0, 0.0), "what two logs agree on"),
])  # fmt: skip
def test_a_log_that_came_otherwise_says_in_which_way(errors, words):
    was, now = Dwell(MAP, CELLS, [0.0] * 4).log(), Dwell(MAP, CELLS, list(errors)).log()
    call = prediction_call(was, MAP, now, MAP, RULES)
    assert call.verdict is Verdict.hold
    assert words in call.do_next
    assert prediction_call(was, MAP, was, MAP, RULES) is None


def test_a_map_that_was_never_written_is_read_back_first():
    ve = MAP.tables["ve"]
    new = MAP.with_table("ve", ve.with_values(ve.values * 1.1))
    log = Dwell(MAP, CELLS, [0.1] * 4).log()
    call = prediction_call(log, MAP, log, new, RULES)
    assert call.do_next.startswith("Read back what is in the computer first")
    assert prediction_call(log, MAP, Dwell(new, CELLS, [0.0] * 4).log(), new, RULES) is None


def test_one_cell_in_both_says_nothing():
    was, now = Dwell(MAP, CELLS[:1], [0.0]).log(), Dwell(MAP, CELLS[:1], [0.2]).log()
    assert prediction_call(was, MAP, now, MAP, RULES) is None


WEIGHT = np.array([4.0, 3.0, 2.0, 1.0])


def rounds(asked, *, add=0.1, take=0.1, least=-0.5, most=1.0, done=0.95) -> int | None:
    full = np.ones(4)
    return rounds_forced(
        np.array(asked), (-take * full, add * full), (least * full, most * full), WEIGHT, 0.03, done
    )


@pytest.mark.parametrize(("asked", "count"), [
    ((0.0, 0.02, -0.03, 0.0), 0),
    # A tenth a round: 1.1 leaves 2.7 % of 1.13, and 1.21 leaves 9.1 % of 1.32.
    ((0.13, 0.0, 0.0, 0.0), 1),
    ((0.134, 0.0, 0.0, 0.0), 2),
    ((0.32, 0.0, 0.0, 0.0), 3),
    ((-0.21, 0.0, 0.0, 0.0), 2),
    ((0.0, 0.0, 0.0, 0.5), 4),
])  # fmt: skip
def test_rounds_that_the_limits_force(asked, count):
    assert rounds(asked) == count


def test_a_cell_that_may_stay_and_one_that_never_comes():
    assert rounds((0.0, 0.0, 0.0, 0.5), done=0.9) == 0, "a tenth of the time may lie outside"
    assert rounds((-0.3, 0.0, 0.0, 0.0), take=0.0) is None, "what may not be leaned stays rich"
    assert rounds((0.5, 0.0, 0.0, 0.0), most=0.3) is None, "the device's own bounds"
    assert rounds((-0.09, 0.0, 0.0, 0.0), take=0.03) == 3
    assert rounds_forced(np.zeros(4), (WEIGHT, WEIGHT), (WEIGHT, WEIGHT), 0 * WEIGHT, 0.03, 0.95) is None


def test_what_is_forced_is_said_and_twelve_rounds_are_not_never():
    assert rounds_in_words(0) == ""
    assert rounds_in_words(1).startswith("1 round or")
    assert rounds_in_words(2).startswith("2 rounds or")
    full = np.ones(4)
    asked = np.array([-0.5, 0.0, 0.0, 0.0])
    slow = rounds_forced(asked, (-0.03 * full, 0.1 * full), (-0.6 * full, full), WEIGHT, 0.03, 0.95)
    assert rounds_in_words(slow) == "not in 12 rounds of what one may move"


def test_a_proposal_says_how_many_rounds_its_limits_force():
    from ventmap.core.corrections import propose

    def forced(error: float, **more) -> int | None:
        log = Dwell(MAP, CELLS, [error] * 4).log()
        return propose(log, MAP, replace(RULES, take_scalars=False, **more)).rounds

    assert forced(0.0) == 0
    assert forced(0.08) == 1
    assert forced(0.3) >= 2
