"""What a stock computer notices of itself: codes, each with the moment it was set at."""

from __future__ import annotations

from dataclasses import dataclass, field

from .runtime import LONG_LIMIT, TRIM_LIMIT, Command, Sensed

#: A trim at its end this long is a code [s]; boost off its target by this much, this long [kPa, s].
AT_END_S, BOOST_KPA, BOOST_S = 20.0, 20.0, 3.0
#: A sensor outside what its wire can carry, this long [s].
RANGE_S = 1.0
AT_END = 100.0 * min(TRIM_LIMIT, LONG_LIMIT) - 0.5


@dataclass
class Watch:
    """Counters of what is wrong, and the codes that came of it with their freeze frames."""

    codes: dict[str, dict[str, float]] = field(default_factory=dict)
    _for: dict[str, float] = field(default_factory=dict)

    def step(self, now: Sensed, command: Command, dt: float) -> None:
        """Called some times a second, `dt` apart."""
        trim = max(command.short_trim, command.long_trim, key=abs)
        boost = now.charge_kpa - now.barometer_kpa
        pulled = command.boost_target > 30.0 and now.pedal > 80.0
        if trim:  # in open loop nothing is trimmed, and nothing is learned of it
            self._count("P0171", trim >= AT_END, AT_END_S, now, dt)
            self._count("P0172", trim <= -AT_END, AT_END_S, now, dt)
        self._count("P0118", now.coolant_c <= -39.0, RANGE_S, now, dt)
        self._count("P0117", now.coolant_c >= 139.0, RANGE_S, now, dt)
        self._count("P0238", now.charge_kpa > 350.0, RANGE_S, now, dt)
        self._count("P0299", pulled and boost < command.boost_target - BOOST_KPA, BOOST_S, now, dt)
        self._count("P0234", pulled and boost > command.boost_target + BOOST_KPA, BOOST_S, now, dt)

    def _count(self, code: str, wrong: bool, lasts: float, now: Sensed, dt: float) -> None:
        if not wrong:
            if code in self._for:
                del self._for[code]
            return
        self._for[code] = self._for.get(code, 0.0) + dt
        if self._for[code] >= lasts and code not in self.codes:
            self.codes[code] = {
                "rpm": now.rpm,
                "map": now.manifold_kpa,
                "coolant": now.coolant_c,
                "pedal": now.pedal,
            }
