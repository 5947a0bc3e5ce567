"""House rules of the first start."""

from __future__ import annotations

#: Key, default, unit, what it decides, why.
ROWS: tuple[tuple, ...] = (
    ("key_on.hold_kpa", 2.0, "kPa", "key-on manifold pressure off the barometer", "sensor tolerance"),
    (
        "key_on.stop_kpa",
        5.0,
        "kPa",
        "key-on manifold pressure off the barometer: stop",
        "every fuel sum would be wrong",
    ),
    ("key_on.soak_k", 5.0, "K", "temperatures after a cold soak", "thermistor tolerance"),
    (
        "start.idle",
        100.0,
        "rpm",
        "first idle off its target",
        "control is not learned yet; more is air or fuel",
    ),
    ("start.mixture", 10.0, "%", "fuel to add at first idle", "trims cannot carry more while it warms up"),
    (
        "start.charging_low",
        13.2,
        "V",
        "charging with the engine running, least",
        "below it the battery is not charged",
    ),
    (
        "start.charging_high",
        14.8,
        "V",
        "charging with the engine running, most",
        "above it the regulator has failed",
    ),
    ("start.pedal_low", 0.3, "V", "pedal or throttle track, least", "lower reads like a short to ground"),
    ("start.pedal_high", 4.7, "V", "pedal or throttle track, most", "higher reads like a short to its feed"),
    (
        "start.pedal_span",
        2.0,
        "V",
        "pedal or throttle track, closed to open",
        "less is a linkage that does not travel",
    ),
    ("start.pedal_agree", 5.0, "%", "twin tracks differ", "they watch each other; more is a limp mode"),
    (
        "start.timing_hold",
        1.0,
        "°",
        "base timing off, or moving with speed",
        "a light reads to half a degree",
    ),
    (
        "start.timing_stop",
        5.0,
        "°",
        "base timing off the light, or moving with speed: stop",
        "spark this far off knocks or burns valves under load",
    ),
    (
        "start.timing_rpm",
        3000.0,
        "rpm",
        "base timing is read again at",
        "a delay of the pickup shows with speed",
    ),
    ("start.trim_step", 5.0, "%", "one step of global trim at a first start", "what a lean engine feels"),
    (
        "cold.coolant",
        40.0,
        "°C",
        "coolant of a cold start, most",
        "above it after-start fuel is not what starts it",
    ),
    ("cold.crank_s", 3.0, "s", "cranking until it catches, most", "longer is fuel, pressure or battery"),
    ("cold.lean", 10.0, "%", "cold idle leaner than lambda 1", "a cold engine needs more, not less"),
    (
        "start.trim_most",
        25.0,
        "%",
        "most global trim at a first start",
        "more is a wrong injector, pressure or sensor",
    ),
)
