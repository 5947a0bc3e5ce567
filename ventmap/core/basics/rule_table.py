"""The house rules, each with its default and the reason."""

from __future__ import annotations

from . import rules_of_logs, rules_of_maps, rules_of_start, rules_of_work
from .rule import Rule


def _rules(*rows: tuple) -> dict[str, Rule]:
    return {row[0]: Rule(*row) for row in rows}


RULES: dict[str, Rule] = _rules(
    *rules_of_logs.ROWS, *rules_of_start.ROWS, *rules_of_work.ROWS, *rules_of_maps.ROWS
)

#: First part of a rule's key -> the heading it stands under.
AREAS = {
    "intake": "Intake",
    "plan": "Plan",
    "safe": "Make safe",
    "fit": "Fit",
    "load": "Load",
    "key_on": "First start",
    "start": "First start",
    "cold": "First start",
    "boost": "Log: boost",
    "cut": "Log: traction",
    "trim": "Log: trims",
    "lean": "Log: mixture",
    "smoke": "Log: mixture",
    "rich": "Log: mixture",
    "hole": "Log: mixture",
    "knock": "Log: knock",
    "duty": "Log: injectors",
    "fuel": "Log: fuel pressure",
    "heat": "Log: heat",
    "battery": "Log: battery",
    "warm": "Log: heat",
    "hot": "Log: heat",
    "idle": "Log: idle",
    "misfire": "Log: misfire",
    "egt": "Log: heat",
    "exhaust": "Log: heat",
    "charge": "Log: heat",
    "oil": "Log: oil",
    "speed": "Log: engine speed",
    "slip": "Log: drive",
    "throttle": "Log: drive",
    "drive": "Log: drive",
    "ethanol": "Log: fuel",
    "sampling": "Log: sampling",
    "map": "Base map",
    "correct": "Correct",
    "dyno": "Prove",
}

#: Rules that protect people or the computer: lowest and highest value a shop may set, and why not beyond.
LIMITS: dict[str, tuple[float, float, str]] = {
    "load.battery_stop": (11.8, 13.0, "below 11.8 V a write browns out and the computer is lost"),
    "load.battery_go": (12.2, 13.5, "below 12.2 V half the charge is gone before a write begins"),
    "safe.coolant": (15.0, 60.0, "fuel on a surface above 60 °C flashes off, and it burns skin"),
    "safe.rail_left": (0.0, 60.0, "above 60 kPa an opened union sprays"),
    "safe.crank_tries": (2.0, 10.0, "one crank leaves pressure behind a check valve"),
    "safe.cool_min": (5.0, 240.0, "an engine is not cool in less than five minutes"),
    "fit.ground": (0.01, 0.1, "above 0.1 V at rest a ground is not sound"),
    "fit.ground_cranking": (0.05, 0.4, "above 0.4 V cranking a ground is not sound"),
    "fit.can": (5.0, 25.0, "beyond a quarter one terminator cannot be told from two"),
    "fit.wrench_low": (10.0, 50.0, "below a tenth of its range no wrench is true"),
    "key_on.hold_kpa": (0.5, 5.0, "5 kPa are 5 % of fuel"),
    "key_on.stop_kpa": (2.0, 8.0, "8 kPa are 8 % of fuel everywhere"),
    "start.pedal_low": (0.1, 1.0, "below 0.1 V a track is shorted"),
    "start.pedal_high": (4.0, 4.9, "above 4.9 V a track is open"),
    "start.pedal_span": (1.0, 4.5, "less than 1 V of travel is no pedal"),
    "start.pedal_agree": (1.0, 10.0, "tracks that differ by more than a tenth do not watch each other"),
    "start.timing_hold": (0.5, 3.0, "a light reads to half a degree; 3° move the edge of knock"),
    "start.timing_stop": (2.0, 8.0, "8° of spark that nobody asked for break pistons under load"),
    "start.timing_rpm": (
        2000.0,
        4000.0,
        "a delay shows with speed, without load an engine is not held faster",
    ),
    "start.trim_step": (1.0, 5.0, "a bigger step floods a cold engine"),
    "start.trim_most": (5.0, 30.0, "a third more fuel is a wrong part, not a trim"),
    "cold.coolant": (20.0, 60.0, "above 60 °C no start is cold"),
    "cold.crank_s": (1.0, 10.0, "a starter overheats after ten seconds"),
    "cold.lean": (2.0, 15.0, "15 % lean a cold engine does not live"),
    "knock.hold": (0.5, 5.0, "more retard than this is not probing"),
    "knock.stop": (2.0, 8.0, "an engine that takes out 8° is being hurt"),
    "lean.share": (1.0, 8.0, "8 % lean under load melts pistons"),
    "lean.stop_share": (2.0, 12.0, "12 % lean under load melts pistons"),
    "lean.boost_lambda": (0.75, 0.98, "boost needs the cooling of rich running"),
    "smoke.lambda": (1.0, 1.5, "a diesel below 1.0 has no air left"),
    "smoke.stop": (0.95, 1.2, "a diesel below 1.0 has no air left"),
    "lean.for_s": (0.05, 1.0, "a second lean in boost is enough to melt a piston"),
    "duty.hold": (50.0, 92.0, "above 92 % flow is no longer proportional to pulse"),
    "duty.stop": (60.0, 100.0, "an injector cannot be open for longer than the cycle"),
    "plan.bsfc_natural": (200.0, 600.0, "no engine burns so little or so much at full load"),
    "plan.bsfc_boosted": (200.0, 600.0, "no engine burns so little or so much at full load"),
    "plan.bsfc_two_stroke": (200.0, 700.0, "no engine burns so little or so much at full load"),
    "plan.bsfc_rotary": (200.0, 700.0, "no engine burns so little or so much at full load"),
    "plan.bsfc_diesel": (170.0, 350.0, "no diesel burns so little or so much at full load"),
    "plan.dead_direct": (0.1, 1.5, "no direct injector opens so fast or so late"),
    "plan.duty": (50.0, 92.0, "above 92 % flow is no longer proportional to pulse"),
    "fuel.drop": (2.0, 15.0, "15 % of pressure are 8 % of fuel"),
    "drive.road_kmh": (20.0, 130.0, "the law of the road stands above a log"),
    "hot.coolant": (90.0, 115.0, "above 115 °C it boils under pressure"),
    "hot.stop": (100.0, 122.0, "above 122 °C it boils under any cap"),
    "map.boost_mixture": (0.7, 0.92, "lean in boost melts pistons"),
    "map.boost_mixture_stop": (0.75, 0.98, "lean in boost melts pistons"),
    "map.spark_step": (1.0, 8.0, "8° between neighbours is no engine"),
    "map.spark_above": (0.0, 4.0, "4° unproven cost pistons"),
    "map.blend_lean_stop": (5.0, 15.0, "15 % lean under load melts pistons"),
    "correct.step": (1.0, 15.0, "a bad log must not move a map by more"),
    "correct.lean_boost": (0.0, 5.0, "lean in boost hurts engines"),
    "correct.samples": (5.0, 1000.0, "the median of fewer is chance"),
    "dyno.confidence": (90.0, 99.9, "less than nine in ten is no claim"),
    "dyno.between_days": (0.1, 3.0, "no drum and no tyre is the same on two days"),
    "dyno.drum_kmh": (80.0, 400.0, "by the plate of the drum"),
    "dyno.repeats": (2.0, 20.0, "one run tells nothing of scatter"),
    "intake.battery": (12.0, 13.4, "at 12.0 V a quarter of the charge is left"),
}
