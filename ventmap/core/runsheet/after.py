"""Steps from the base map to hand-over."""

from __future__ import annotations

from .model import Step


def after(injectors: bool) -> list[Step]:
    """Base map to hand-over; the dead-time table is asked for where the map carries `injectors`."""
    steps = [
        Step("base-map.choose", "base-map", title="Choose the map to start from", evidence="auto"),
        Step(
            "base-map.flow", "base-map", title="Set injector flow at this vehicle's pressure", evidence="auto"
        ),
    ]
    if injectors:
        steps.append(Step("base-map.dead_time", "base-map", title="Set the dead-time table", evidence="auto"))
    return steps + [
        Step("load.save", "load", title="Save what is in the computer", evidence="auto"),
        Step("load.write", "load", title="Write and verify", evidence="auto"),
        Step("load.cycle", "load", title="Ignition off, wait, on", evidence="auto"),
        Step("load.codes", "load", title="Read, record and clear codes", evidence="auto"),
        Step(
            "first-start.key_on",
            "first-start",
            title="Key on: sensors against the barometer",
            evidence="auto",
        ),
        Step("first-start.pedal", "first-start", title="Learn the pedal", evidence="auto"),
        Step(
            "first-start.start",
            "first-start",
            title="Start and judge idle",
            evidence="auto",
            caution=(
                "Hands, hair and sleeves clear of belts and fans. Somebody watches for leaks with the"
                " extinguisher."
            ),
        ),
        Step(
            "first-start.leaks",
            "first-start",
            title="Look for leaks with the engine running",
            do="Fuel first, then coolant, oil, exhaust.",
            know="Dry after five minutes at idle.",
            wrong="A weep under pressure opens when hot.",
        ),
        Step(
            "log.review",
            "log",
            title="Capture a log and read it",
            evidence="auto",
            caution=(
                "Within the law; on the road a second person minds the laptop. On the drum: straps,"
                " extraction, nobody in line with the tyres."
            ),
        ),
        Step("correct.done", "correct", title="Correct until the targets hold", evidence="auto"),
        Step(
            "prove.runs",
            "prove",
            title="Runs after, as the runs before",
            evidence="auto",
            caution=(
                "Straps, extraction for carbon monoxide, hearing, nobody in line with the tyres,"
                " extinguisher, fan; tyre rating above the speed reached."
            ),
        ),
        Step("prove.claim", "prove", title="Hold after against before", evidence="auto"),
        Step("hand-over.report", "hand-over", title="Print the report", evidence="auto"),
        Step(
            "hand-over.told",
            "hand-over",
            title="Tell the owner",
            do="What to feed it, what lights to expect, how to go back, when to come again.",
            know="The owner says it back.",
            wrong="What was not said comes back as a complaint.",
        ),
    ]
