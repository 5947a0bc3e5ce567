"""What a job needs on the trolley, what it costs and how long it takes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from .model import Step

#: Renewed one for each cylinder; everything else once a job.
PER_CYLINDER = ("upper O-rings", "lower seals", "tip seals", "decoupling rings")


@dataclass(frozen=True)
class Stocked:
    """A thing on the shelf: price each, in the shop's currency, and how many lie there; None where nobody
    counted.
    """

    price: float | None = None
    stock: float | None = None


@dataclass(frozen=True)
class PartLine:
    name: str
    kind: str
    count: int
    stock: float | None
    order: int
    cost: float | None
    known: bool


@dataclass(frozen=True)
class PartsPlan:
    """`minutes` of a person's time, `wait_minutes` that need the bay and nobody: another job can use the
    person.
    """

    lines: tuple[PartLine, ...]
    tools: tuple[tuple[str, bool], ...]
    minutes: float
    wait_minutes: float
    parts_cost: float
    labour_cost: float
    unknown_prices: tuple[str, ...]


def parts_plan(
    steps: Sequence[Step],
    parts: Iterable[tuple[str, int]],
    cylinders: int,
    shelf: Mapping[str, Stocked],
    tools: Iterable[str],
    rate: float,
) -> PartsPlan:
    """Collect parts, consumables and tools from a run sheet.

    Parameters
    ----------
    parts : iterable of (name, count)
        Devices, injectors, pump.
    shelf : mapping of name to Stocked
        Prices and stock of parts and consumables.
    tools : iterable of str
        Names of the tools on the wall.
    rate : float
        Labour [money/h].
    """
    wanted: dict[tuple[str, str], int] = {}
    for name, count in parts:
        wanted[name, "part"] = wanted.get((name, "part"), 0) + count
    for step in steps:
        for name in step.consumables:
            each = cylinders if name in PER_CYLINDER else 1
            if (name, "part") in wanted:
                # It is on the list already, as what is not in a box: one line, one order.
                wanted[name, "part"] = max(wanted[name, "part"], each)
                continue
            wanted[name, "consumable"] = max(wanted.get((name, "consumable"), 0), each)
    lines = []
    for (name, kind), count in wanted.items():
        item = shelf.get(name)
        stock = item.stock if item else None
        order = count if stock is None else max(0, int(count - stock))
        price = item.price if item else None
        lines.append(
            PartLine(
                name,
                kind,
                count=count,
                stock=stock,
                order=order,
                cost=None if price is None else count * price,
                known=item is not None,
            )
        )
    wall = {name.lower() for name in tools}
    needed = list(dict.fromkeys(name for step in steps for name in step.tools))
    minutes = sum(step.minutes for step in steps)
    return PartsPlan(
        tuple(lines),
        tuple((name, name.lower() in wall) for name in needed),
        minutes=minutes,
        wait_minutes=sum(step.seconds for step in steps) / 60.0,
        parts_cost=sum(line.cost or 0.0 for line in lines),
        labour_cost=rate * minutes / 60.0,
        unknown_prices=tuple(line.name for line in lines if line.cost is None),
    )
