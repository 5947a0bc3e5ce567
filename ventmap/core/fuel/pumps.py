"""Fuel pumps: what is needed at full load and what is given there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import Call, Curve, Evidence, OutOfRange, Verdict, require_positive
from .across import pressure_across
from .flow import flow_at_pressure
from .supply_voltage import SYSTEM_V


def pump_need(injector_flow: float, injectors: int, reserve: float = 1.15) -> float:
    """Fuel a pump must give [l/h] for injectors of a flow each [cm³/min]: Σ flow · 0.06 · reserve.

    Examples
    --------
    >>> round(pump_need(440.0, 4), 1)
    121.4
    """
    require_positive(injector_flow=injector_flow, injectors=injectors, reserve=reserve)
    return injector_flow * injectors * 0.06 * reserve


def pump_flow(
    curve: Sequence[tuple[float, float]], kpa: float, volts: float, nominal_v: float = SYSTEM_V
) -> float:
    """Flow of a pump [l/h] at a gauge pressure [kPa] and voltage.

    `curve` holds (gauge kPa, l/h) at `nominal_v`; straight between points, flow ∝ voltage near nominal.

    Raises
    ------
    OutOfRange
        Beyond the last point: what a pump does there was never measured.
    """
    points = sorted(curve)
    require_positive(volts=volts, nominal_v=nominal_v)
    if kpa > points[-1][0]:
        raise OutOfRange(
            f"The pump's curve ends at {points[-1][0]:g} kPa; {kpa:g} kPa is asked. Choose a pump measured"
            " there.",
            "kpa",
        )
    return Curve([p for p, _ in points], [f for _, f in points]).at(kpa) * volts / nominal_v


@dataclass(frozen=True)
class PumpCheck:
    """`need` and `gives` [l/h] at `kpa` gauge; `flow` of each injector there [cm³/min]."""

    need: float
    gives: float
    kpa: float
    flow: float
    call: Call


def pump_check(
    curve: Sequence[tuple[float, float]],
    injector_flow: float,
    injectors: int,
    rail_kpa: float,
    boost_kpa: float,
    referenced: bool,
    volts: float = SYSTEM_V,
    nominal_v: float = SYSTEM_V,
    reserve: float = 1.15,
    rated_kpa: float | None = None,
) -> PumpCheck:
    """Hold a pump against the need at full load.

    Parameters
    ----------
    injector_flow : float
        Of each, at `rated_kpa` across it [cm³/min].
    rail_kpa : float
        Rail gauge pressure without boost [kPa].
    boost_kpa : float
        Highest manifold pressure above the barometer, with what the kit adds [kPa]: a referenced regulator
        adds
        it to the rail; on a fixed rail the injectors lose it.
    rated_kpa : float, optional
        Pressure at which the flow is rated; that of the rail where absent.
    """
    boost = max(boost_kpa, 0.0)
    across = pressure_across(rail_kpa, boost, referenced)
    there = flow_at_pressure(injector_flow, rated_kpa or rail_kpa, across)
    need = pump_need(there, injectors, reserve)
    kpa = rail_kpa + (boost if referenced else 0.0)
    gives = pump_flow(curve, kpa, volts, nominal_v)
    enough = gives >= need
    if enough:
        advice = "Enough at full load."
    elif boost and referenced and pump_flow(curve, rail_kpa, volts, nominal_v) >= need:
        advice = (
            "Enough without boost, too little with it: a bigger pump, or a second one that comes in under"
            " boost."
        )
    else:
        advice = "Too small: choose a bigger pump before the injectors ask for it."
    because = [
        Evidence("pump gives", round(gives, 1), round(need, 1), unit="l/h"),
        Evidence("rail gauge pressure there", round(kpa, 1), unit="kPa"),
        Evidence("each injector passes", round(there, 1), unit="cm³/min"),
        Evidence("at", volts, unit="V"),
    ]
    if boost and not referenced:
        because.append(
            Evidence("left across the injectors under boost", round(across, 1), rail_kpa, unit="kPa")
        )
    call = Call(
        "supply.pump",
        verdict=Verdict.go if enough else Verdict.hold,
        because=tuple(because),
        do_next=advice,
        source="Σ flow at the pressure there · 0.06 · reserve; curve of the pump",
        title="Fuel pump at full load",
    )
    return PumpCheck(need, gives, kpa=kpa, flow=there, call=call)
