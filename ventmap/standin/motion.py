"""What the engine moves: road and gears, a belt, an impeller, a drum."""

from __future__ import annotations

from ventmap.core.basics import RPM_PER_RAD_S

from .state import State
from .truth import VehicleTruth

#: What the water in the pump and the hull add to the engine's inertia [kg·m²].
HULL = 0.5


class Motion:
    """Load on the engine and its inertia."""

    def __init__(self, truth: VehicleTruth) -> None:
        self.body, self.top = truth.build.body, truth.top_rpm

    def speed_kmh(self, rpm: float, gear: int) -> float:
        """Road speed; over water, what the impeller makes of it."""
        if not gear:
            return 0.0
        body = self.body
        if body.kind == "water":
            return 108.0 * rpm / self.top
        return rpm / RPM_PER_RAD_S / body.gears[gear - 1] * body.wheel_radius_m * 3.6

    def load(self, torque: float, rpm: float, engine: State) -> tuple[float, float]:
        """Torque left to speed the engine up [N·m], and the inertia it meets [kg·m²], both as the wheel has
        them: what engine and flywheel give is less by the driveline's loss.
        """
        body, inertia = self.body, self.body.engine_inertia
        if not engine.gear:
            return torque - engine.load_torque, inertia
        if body.kind == "water":
            # An impeller takes torque with the square of its speed; so does the hull it pushes.
            taken = body.impeller_nm * (rpm / self.top) ** 2 + engine.load_torque
            return torque - taken, inertia + HULL
        kept = 1.0 - body.loss if torque > 0.0 else 1.0
        if engine.drum_inertia is not None:
            return torque * kept - engine.load_torque, inertia * kept + engine.drum_inertia
        ratio = body.gears[engine.gear - 1]
        metres = rpm / RPM_PER_RAD_S / ratio * body.wheel_radius_m
        drag = body.drag[0] + body.drag[1] * metres * metres
        net = torque * kept - engine.load_torque - drag * body.wheel_radius_m / ratio
        return net, inertia * kept + body.mass_kg * (body.wheel_radius_m / ratio) ** 2
