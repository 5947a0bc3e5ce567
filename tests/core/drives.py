"""Drives made by rule for the detectors: a healthy one, and ways to spoil it."""

from __future__ import annotations

import numpy as np

from ventmap.core.logs import Log


def drive(hz: float = 20.0, boost: float = 60.0, seed: int = 3) -> tuple[Log, dict[str, np.ndarray]]:
    """Key on 3 s, idle 40 s, cruise 30 s, two pulls with cruise between, a blip, idle: a healthy boosted car.

    Returns the log and masks of its phases, by name.
    """
    random = np.random.default_rng(seed)
    step = 1.0 / hz
    phases = [
        ("key_on", 3),
        ("idle", 40),
        ("cruise", 30),
        ("pull", 7),
        ("overrun", 5),
        ("cruise2", 15),
        ("pull2", 7),
        ("overrun2", 5),
        ("rest", 6),
        ("blip", 2),
        ("fall", 2.0),
        ("idle2", 40),
    ]
    names = np.concatenate([[name] * int(seconds * hz) for name, seconds in phases])
    n = len(names)
    time = np.arange(n) * step
    mask = {name: names == name for name, _ in phases}
    rpm, pedal, speed, pressure = np.zeros(n), np.zeros(n), np.zeros(n), np.full(n, 98.0)
    target, lam = np.ones(n), np.ones(n)

    def ramp(name: str, low: float, high: float) -> np.ndarray:
        return np.linspace(low, high, int(mask[name].sum()))

    for name in ("idle", "idle2", "rest"):
        rpm[mask[name]], pressure[mask[name]] = 850, 34
    for name in ("cruise", "cruise2"):
        rpm[mask[name]] = 2400 + 800 * np.sin(time[mask[name]] * 0.4)
        pedal[mask[name]], speed[mask[name]], pressure[mask[name]] = 17, 68, 49
    for name in ("pull", "pull2"):
        rpm[mask[name]], pedal[mask[name]], speed[mask[name]] = (
            ramp(name, 2400, 6400),
            100,
            ramp(name, 70, 180),
        )
        rise = 1 - np.exp(-ramp(name, 0, 8))
        pressure[mask[name]] = 98 + boost * rise
        target[mask[name]] = lam[mask[name]] = 0.80
    for name in ("overrun", "overrun2"):
        rpm[mask[name]], speed[mask[name]], pressure[mask[name]], lam[mask[name]] = (
            ramp(name, 6000, 1500),
            ramp(name, 170, 40),
            26,
            1.55,
        )
    rpm[mask["blip"]], pedal[mask["blip"]], pressure[mask["blip"]] = ramp("blip", 850, 3400), 22, 46
    rpm[mask["fall"]], pressure[mask["fall"]] = 850 + 2550 * np.exp(-ramp("fall", 0, 3.2)), 34
    running = ~mask["key_on"]
    noise = lambda sigma: random.normal(0, sigma, n)  # noqa: E731
    pulse = np.where(running, 1.0 + pressure / 16, 0.0)
    pulse[mask["overrun"] | mask["overrun2"]] = 0
    channels = {
        "rpm": np.maximum(rpm + noise(6) * running, 0),
        "pedal": np.clip(pedal + noise(0.1), 0, 100),
        "throttle": np.clip(4 + pedal * 0.96 + noise(0.1), 0, 100),
        "map": pressure + noise(0.3),
        "map_target": np.where(pedal > 90, pressure, 98.0),
        "baro": 98 + noise(0.05),
        "iat": 25 + noise(0.1),
        "coolant": 88 + noise(0.1),
        "lambda": lam + noise(0.003),
        "lambda_target": target,
        "stft_1": noise(0.3) * running,
        "ltft_1": np.full(n, 0.8),
        "stft_2": noise(0.3) * running,
        "ltft_2": np.full(n, 0.4),
        "spark": 20 + noise(0.4),
        "knock": np.zeros(n),
        "pulse": pulse,
        "duty": 100 * pulse * rpm / 120_000,
        "battery": np.where(running, 14.1, 12.4) + noise(0.03),
        "speed": speed,
        "rail": 300 + pressure - 98 + noise(1.5),
        "ethanol": 10 + noise(0.1),
    }
    return Log.from_channels(time, channels, "drive"), mask


def as_csv(
    log: Log, headings: dict[str, str], separator: str = ",", comma: bool = False, digits: int = 4
) -> str:
    """A log as text in some logger's dialect."""
    lines = [separator.join(headings.values())]
    columns = [log.time_s if name == "time" else log.channels[name] for name in headings]
    for row in zip(*columns, strict=True):
        text = separator.join("" if np.isnan(v) else f"{v:.{digits}f}" for v in row)
        lines.append(text.replace(".", ",") if comma else text)
    return "\n".join(lines) + "\n"
