"""Where a box goes and how it is held: each point with its reason, answered one by one."""

from __future__ import annotations

from .asked import CheckRow, ChecksAsked
from .model import Kit, SheetVehicle, Step

_GOOD = "It is so"

#: Key, what is looked at, why, the answer that holds and what is done then.
POINTS: tuple[tuple[str, str, str, str, str], ...] = (
    (
        "surface",
        "The surface: wiped with alcohol, dry, above 15 °C",
        "Tape and pads hold on nothing else.",
        "Greasy, wet or cold",
        "Clean and dry it, warm it by hand, press 30 s.",
    ),
    (
        "weight",
        "What carries it: bracket, straps, or tape that lay a day before weight came on it",
        "Fresh tape creeps; a box that falls pulls its own plugs.",
        "Tape alone, loaded at once",
        "Strap it until tomorrow, or use a bracket.",
    ),
    (
        "heat",
        "150 mm from bare exhaust, or 50 mm behind a shield",
        "Solder and connectors age with every ten degrees.",
        "Nearer",
        "Move it, or put a shield between.",
    ),
    (
        "clear",
        "Clear of the battery's positive post, of edges, of whatever turns, tilts or steers",
        "A case on the post is a welding set; an edge takes a season.",
        "Something is within reach of it",
        "Move it; steering lock to lock, suspension through its travel, then look again.",
    ),
    (
        "drip",
        "Connectors down or level, the harness with a drip loop",
        "Water runs along a harness into what hangs below its end.",
        "Connectors face up",
        "Turn it, or lead the harness up to it from below.",
    ),
    (
        "harness",
        "The harness hangs on its own straps, not on the box, nor on fuel or brake lines",
        "What hangs on a plug works it loose; a line that carries a harness chafes through.",
        "It hangs on the box or a line",
        "Strap it every 200 mm to something that does not move against it.",
    ),
    (
        "reach",
        "Switch and lamp, where it has them, found by a gloved hand; its label where the next one sees it",
        "What nobody finds is not switched back.",
        "Hidden",
        "Move the switch or the label.",
    ),
)
#: What splash adds on water and snow.
WET = (
    "splash",
    "Above where water stands, out of the spray",
    "A box that swims once is wet inside for good.",
    "Low in the hull or the tunnel",
    "Move it up; seals keep out spray, not a bath.",
)


def mounting(vehicle: SheetVehicle, kit: Kit) -> list[Step]:
    """A box that takes no stock computer's place has to be put somewhere."""
    if kit.about is None or kit.about.replaces_stock or kit.about.rewrites_stock:
        return []
    points = (*POINTS, WET) if vehicle.kind in ("watercraft", "sled") else POINTS
    rows = tuple(
        CheckRow(key=key, title=title, why=why, answers={"yes": _GOOD, "no": wrong}, do_next=cure)
        for key, title, why, wrong, cure in points
    )
    return [
        Step(
            "fit.mount",
            "fit",
            title=f"Mount {kit.name or 'the box'}"[:72],
            do="Hold it where it shall go, harness on, before anything is stuck or drilled.",
            know="Every point is so, with the harness in its own straps.",
            wrong="A box that moves, cooks or drowns fails in a month, and looks like a bad map.",
            evidence="grid",
            grid="checks",
            about=ChecksAsked(rows=rows),
            consumables=("cable straps", "alcohol wipe"),
            minutes=8,
        )
    ]
