"""The rod between a shift sensor and a gear lever."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import BadInput, Call, Drawing, Evidence, Shape, Verdict, measure, require_positive

#: Thread engagement as a multiple of the thread's diameter.
ENGAGEMENT = {"steel": 1.0, "aluminium": 1.5}
LOCKNUT = 0.5  # thickness of a thin locknut, in thread diameters
CAUTION = "A rod that lets go leaves the rider in the wrong gear. Count the threads and paint the locknuts."


@dataclass(frozen=True)
class Rod:
    """A rod to be made.

    `rod_mm` is its length; `change` is ``"cut"``, ``"extend"``, ``"keep"`` or ``"cannot"``, by `change_mm`;
    `engaged_mm` is the thread in each end, `needed_mm` the least at each end.
    """

    rod_mm: float
    change: str
    change_mm: float
    engaged_mm: tuple[float, float]
    needed_mm: tuple[float, float]
    calls: tuple[Call, ...]
    drawing: Drawing


def plan_rod(
    stock_length_mm: float,
    sensor_mm: float,
    coupler_mm: float,
    stock_rod_mm: float,
    thread_mm: float,
    sensor_overlap_mm: float,
    coupler_overlap_mm: float,
    sensor_material: str = "aluminium",
    coupler_material: str = "steel",
) -> Rod:
    """Length of the rod that keeps the pedal's height.

    Parameters
    ----------
    stock_length_mm : float
        Between joint centres as it is, L = sensor + rod + coupler − overlaps [mm].
    sensor_mm, coupler_mm : float
        From joint centre, or end face, to end face [mm]; coupler 0 where the rod screws into the joint
        itself.
    stock_rod_mm : float
        The rod that is there [mm].
    thread_mm : float
        Thread diameter [mm].
    sensor_overlap_mm, coupler_overlap_mm : float
        Thread of the rod inside each [mm].
    sensor_material, coupler_material : str
        ``"steel"`` (1 diameter engaged) or ``"aluminium"`` (1.5 diameters).
    """
    require_positive(
        stock_length_mm=stock_length_mm, sensor_mm=sensor_mm, stock_rod_mm=stock_rod_mm, thread_mm=thread_mm
    )
    for name, material in (("sensor_material", sensor_material), ("coupler_material", coupler_material)):
        if material not in ENGAGEMENT:
            raise BadInput(f"The material is {' or '.join(ENGAGEMENT)}.", name)
    rod = stock_length_mm - sensor_mm - coupler_mm + sensor_overlap_mm + coupler_overlap_mm
    needed = (ENGAGEMENT[sensor_material] * thread_mm, ENGAGEMENT[coupler_material] * thread_mm)
    engaged = (sensor_overlap_mm, coupler_overlap_mm)
    # Between the two threads there must be room for both locknuts.
    shortest = sum(engaged) + 2 * LOCKNUT * thread_mm
    possible = rod >= shortest
    calls = [
        _threads(name, has, wants)
        for name, has, wants in zip(("sensor", "coupler"), engaged, needed, strict=True)
    ]
    calls.append(
        Call(
            "linkage.room",
            verdict=Verdict.go if possible else Verdict.stop,
            because=(
                Evidence("rod", round(rod, 1), round(shortest, 1), unit="mm"),
                Evidence("joint to joint", stock_length_mm, unit="mm"),
            ),
            do_next=(
                "The pedal keeps its height."
                if possible
                else (
                    "This rod cannot be made: sensor and coupler leave no room for thread and locknuts. Use a"
                    " shorter sensor, or a lever with more reach."
                )
            ),
            source="L = sensor + rod + coupler − overlaps",
            title="Room for the rod",
            protects="" if possible else "people",
        )
    )
    change = stock_rod_mm - rod
    word = "cannot" if not possible else "keep" if abs(change) < 0.5 else "cut" if change > 0 else "extend"
    drawing = _draw(sensor_mm, coupler_mm, max(rod, 0.0), engaged, stock_length_mm)
    return Rod(
        rod,
        word,
        change_mm=abs(change) if possible else 0.0,
        engaged_mm=engaged,
        needed_mm=needed,
        calls=tuple(calls),
        drawing=drawing,
    )


def _threads(name: str, has: float, wants: float) -> Call:
    short = has < wants - 1e-9
    return Call(
        f"linkage.thread_{name}",
        verdict=Verdict.stop if short else Verdict.go,
        because=(Evidence("thread engaged", has, wants, unit="mm"),),
        do_next=(
            f"Too little thread in the {name}: turn it further in and make the rod longer by as much."
            if short
            else "Holds. Locknut on it."
        ),
        source="Engagement 1 diameter in steel, 1.5 in aluminium",
        title=f"Thread in the {name}",
        protects="people" if short else "",
    )


def _draw(sensor: float, coupler: float, rod: float, engaged: tuple[float, float], length: float) -> Drawing:
    left, y = 20.0, 60.0
    rod_from = left + sensor - engaged[0]
    rod_to = rod_from + rod
    shapes = [
        Shape("box", left, y - 12, left + sensor, y + 12),
        Shape("text", left + sensor / 2, y - 18, text="sensor", tone="note"),
        Shape("box", rod_to - engaged[1], y - 9, rod_to - engaged[1] + coupler, y + 9),
        Shape("text", rod_to - engaged[1] + coupler / 2, y - 18, text="coupler", tone="note"),
        Shape("box", rod_from, y - 4, rod_to, y + 4, tone="cut"),
        Shape("round", left, y, 4.0),
        Shape("round", left + length, y, 4.0),
        measure(rod_from, rod_to, y + 30, f"rod {rod:.1f} mm"),
        measure(left, left + length, y + 52, f"joint to joint {length:.1f} mm"),
    ]
    return Drawing("Shift rod, to scale", left + max(length, rod_to) + 20, 130.0, tuple(shapes))
