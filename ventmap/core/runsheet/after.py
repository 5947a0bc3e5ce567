"""Steps from the base map to hand-over."""

from __future__ import annotations

from .model import Step


def after(injectors: bool) -> list[Step]:
    """Base map to hand-over; the dead-time table is asked for where the map carries `injectors`."""
    steps = [
        Step("base-map.choose", "base-map", "Choose the map to start from", evidence="auto"),
        Step("base-map.flow", "base-map", "Set injector flow at this vehicle's pressure", evidence="auto"),
    ]
    if injectors:
        steps.append(Step("base-map.dead_time", "base-map", "Set the dead-time table", evidence="auto"))
    return steps + [
        Step("load.save", "load", "Save what is in the computer", evidence="auto"),
        Step("load.write", "load", "Write and verify", evidence="auto"),
        Step("load.cycle", "load", "Ignition off, wait, on", evidence="auto"),
        Step("load.codes", "load", "Read, record and clear codes", evidence="auto"),
        Step("first-start.key_on", "first-start", "Key on: sensors against the barometer", evidence="auto"),
        Step("first-start.pedal", "first-start", "Learn the pedal", evidence="auto"),
        Step("first-start.start", "first-start", "Start and judge idle", evidence="auto",
             caution="Hands, hair and sleeves clear of belts and fans. Somebody watches for leaks with the extinguisher."),
        Step("first-start.leaks", "first-start", "Look for leaks with the engine running", "Fuel first, then coolant, oil, exhaust.",
             "Dry after five minutes at idle.", "A weep under pressure opens when hot."),
        Step("log.review", "log", "Capture a log and read it", evidence="auto",
             caution="Within the law; on the road a second person minds the laptop. On the drum: straps, extraction, nobody in line with the tyres."),
        Step("correct.done", "correct", "Correct until the targets hold", evidence="auto"),
        Step("prove.runs", "prove", "Runs after, as the runs before", evidence="auto",
             caution="Straps, extraction for carbon monoxide, hearing, nobody in line with the tyres, extinguisher, fan; tyre rating above the speed reached."),
        Step("prove.claim", "prove", "Hold after against before", evidence="auto"),
        Step("hand-over.report", "hand-over", "Print the report", evidence="auto"),
        Step("hand-over.told", "hand-over", "Tell the owner", "What to feed it, what lights to expect, how to go back, when to come again.",
             "The owner says it back.", "What was not said comes back as a complaint."),
    ]  # fmt: skip
