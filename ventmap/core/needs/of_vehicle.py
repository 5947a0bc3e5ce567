"""What is asked of a vehicle that no sheet describes yet."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..basics import AccessItem, Vehicle
from .question import TEXT, Column, Question, texts


def _high_pressure(vehicle: Vehicle) -> bool:
    return vehicle.injection in ("direct", "both", "diesel")


def _petrol(vehicle: Vehicle) -> bool:
    return vehicle.petrol


#: Words of a choice that say *nothing of it*.
_NOTHING = {"opens": "nothing", "care": "none"}


def _access(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [
        {key: "" if value == _NOTHING.get(key) else value for key, value in row.items() if value != ""}
        for row in rows
    ]


def access_rows(items: tuple[AccessItem, ...]) -> list[Mapping[str, str]]:
    """An access list as it would be typed, to begin a vehicle's own with."""
    return [
        {
            "name": item.name,
            "fastener": item.fastener,
            "nm": "" if item.nm is None else f"{item.nm:g}",
            "opens": item.opens or _NOTHING["opens"],
            "care": item.care or _NOTHING["care"],
            "renew": item.renew,
        }
        for item in items
    ]


OF_VEHICLE: tuple[Question, ...] = (
    Question(
        "vehicle",
        "hybrid",
        title="Is there high voltage on board?",
        found="Orange cables, a warning label at the service plug; the maker's rescue sheet.",
        without="Nothing is made safe before this is known: orange cables stay live with the key off.",
        steps=("make-safe.",),
        must=True,
        protects="people",
        form="yes",
    ),
    Question(
        "vehicle",
        "airbag_near",
        title="Does airbag wiring run near the work?",
        found="Yellow plugs and sleeves; the maker's wiring plan.",
        without="Nothing is made safe before this is known: a meter's current can fire one.",
        steps=("make-safe.",),
        must=True,
        protects="people",
        form="yes",
        when=lambda vehicle: vehicle.kind in ("car", "van", "pickup", "side-by-side"),
    ),
    Question(
        "vehicle",
        "access",
        title="What comes off to reach the work, in which order?",
        found="Workshop manual; the bay itself. Begin with what is usual on its layout and put it right.",
        without="What is opened on the way (fuel, coolant, refrigerant) is not known before it runs out.",
        steps=("make-safe.cool", "make-safe.coolant", "fit.access"),
        must=True,
        protects="people",
        form="list",
        columns=(
            Column("name", "what comes off"),
            Column("fastener", "held by", optional=True),
            Column("nm", "torque", "torque", "N·m", optional=True),
            Column(
                "opens", "opens", choices=("nothing", "fuel", "coolant", "oil", "refrigerant"), optional=True
            ),
            Column("care", "care", choices=("none", "brittle", "one-use"), optional=True),
            Column("renew", "new at refitting", optional=True),
        ),
        none="Nothing comes off",
        build=_access,
    ),
    Question(
        "vehicle",
        "two_batteries",
        title="Are there two batteries?",
        found="Boot, under a seat, under the floor; the owner's handbook.",
        without="With a second one unknown it may stay live: look first.",
        steps=("make-safe.battery", "intake.battery"),
        must=True,
        protects="people",
        form="yes",
    ),
    Question(
        "vehicle",
        "power_kw",
        title="What is its stock power?",
        found="Registration papers, the maker's sheet.",
        without="Compression is measured in any case, and stock runs are held against no figure.",
        steps=("intake.compression", "plan.injectors", "baseline.runs"),
        quantity="power",
        unit="kW",
        rules=("intake.goal", "baseline.runs", "baseline.power"),
    ),
    Question(
        "vehicle",
        "compression_kpa",
        title="Compression: the maker's limits, at sea level?",
        found="Workshop manual, engine mechanical, test values.",
        without="Cylinders are held against each other only, and the call holds.",
        steps=("intake.compression",),
        form="pair",
        quantity="pressure",
        unit="kPa",
    ),
    Question(
        "vehicle",
        "gearbox_kind",
        title="Which gearbox?",
        found="The selector, the papers.",
        without="Whether the device controls it is not known.",
        steps=("plan.fit", "plan.gearbox"),
        form="choice",
        choices=("manual", "automatic", "belt", "none"),
        rules=("plan.fit",),
    ),
    Question(
        "vehicle",
        "body_network",
        title="Which body network?",
        found="Wiring plan; the module's sheet names those it knows.",
        without="Whether the module talks to it is not known.",
        steps=("plan.fit",),
        form="text",
        rules=("plan.fit",),
        when=lambda vehicle: vehicle.kind in ("car", "van", "pickup"),
    ),
    Question(
        "vehicle",
        "fuel_pressure_kpa",
        title="Which pressure lies across the injectors?",
        found="Workshop manual, fuel system; the regulator's stamp; at a rail up to 6 bar a gauge with the"
        " pump on and the engine off. A direct rail by its maker's sheet alone.",
        without="No injector can be sized.",
        steps=("plan.injectors",),
        must=True,
        quantity="pressure",
        unit="kPa",
        rules=(
            "plan.injector",
            "base-map.",
            "sum.injector-need",
            "sum.injector-pressure",
            "sum.injection-window",
            "sum.fuel-pump",
        ),
        when=_petrol,
    ),
    Question(
        "vehicle",
        "rev_limit",
        title="Where is its rev limit?",
        found="The red of the dial; the maker's sheet.",
        without="The longest pulse at the top cannot be judged.",
        steps=("plan.injectors",),
        must=True,
        quantity="engine_speed",
        unit="rpm",
        rules=("plan.injector", "base-map.", "sum.injection-window", "sum.injector-duty"),
        when=lambda vehicle: vehicle.injection in ("direct", "both"),
    ),
    Question(
        "vehicle",
        "injection_window_deg",
        title="How long is its window of direct injection?",
        found="The maker's training sheet: degrees of crank from the first injection to the last.",
        without="Direct injectors are held, not passed.",
        steps=("plan.injectors",),
        quantity="spark",
        unit="°",
        rules=("plan.injector", "log.injector_limit", "sum.injection-window"),
        when=lambda vehicle: vehicle.injection == "direct",
    ),
    Question(
        "vehicle",
        "referenced_regulator",
        title="Does the fuel regulator follow the manifold?",
        found="A hose from regulator to manifold: yes. Returnless, regulator in the tank: no.",
        without="What lies across the injectors under boost is not known: none can be sized.",
        steps=("plan.injectors", "plan.pump"),
        form="yes",
        rules=("plan.injector", "plan.pump", "sum.injector-pressure", "sum.fuel-pump"),
        when=lambda vehicle: vehicle.injection in ("port", "both"),
    ),
    Question(
        "vehicle",
        "boost_kpa",
        title="How much boost does it make stock, above the barometer?",
        found="Workshop manual, charging; its stock log.",
        without="What lies across the injectors under boost is not known: none can be sized on a fixed rail.",
        steps=("plan.injectors", "plan.pump"),
        quantity="pressure",
        unit="kPa",
        rules=("plan.injector", "plan.pump", "sum.injector-pressure", "sum.fuel-pump"),
        when=lambda vehicle: vehicle.boosted,
    ),
    Question(
        "vehicle",
        "fuel_wait_s",
        title="How long does the maker wait before the high-pressure side is opened?",
        found="Workshop manual, injection: the caution before the first step.",
        without="The high-pressure side is not opened.",
        steps=("make-safe.maker_wait",),
        must=True,
        protects="people",
        quantity="time",
        unit="min",
        rules=("step.make-safe.relieved",),
        when=_high_pressure,
    ),
    Question(
        "vehicle",
        "feed_kpa",
        title="What is its feed pressure, gauge?",
        found="Workshop manual, low-pressure side; a gauge at the feed.",
        without="The rail is not opened: nobody knows what it has to read.",
        steps=("make-safe.relieved",),
        must=True,
        protects="people",
        quantity="pressure",
        unit="kPa",
        rules=("sum.fuel-pump",),
        when=_high_pressure,
    ),
    Question(
        "vehicle",
        "sleep_s",
        title="How long until its modules sleep?",
        found="Maker's service information; a clamp meter until the current falls below 50 mA.",
        without="Ten minutes are waited.",
        steps=("make-safe.asleep",),
        quantity="time",
        unit="min",
    ),
    Question(
        "vehicle",
        "look_alike_parts",
        title="What looks alike here but is not?",
        found="Lay lines and bolts beside each other; the maker's exploded view.",
        without="Every line, bolt and plug is labelled.",
        steps=("fit.labels",),
        form="list",
        columns=TEXT,
        build=texts,
    ),
    Question(
        "vehicle",
        "rail_bolt_nm",
        title="Rail bolts: the maker's torque?",
        found="Workshop manual, fuel rail, tightening torques.",
        without="The bolts are not torqued by a figure that is not this maker's.",
        steps=("fit.rail",),
        must=True,
        quantity="torque",
        unit="N·m",
    ),
    Question(
        "vehicle",
        "banks",
        title="How many banks, each with its own injector feed?",
        found="One bank in line; a V or a flat engine has two; the wiring plan.",
        without="One feed is looked for.",
        steps=("fit.common",),
        form="choice",
        choices=("1", "2", "3", "4"),
    ),
    Question(
        "vehicle",
        "idle_rpm",
        title="At which speed does it idle warm?",
        found="Label under the bonnet, workshop manual; the dial, before anything is changed.",
        without="Nobody can say whether the idle is right.",
        steps=("first-start.idle",),
        must=True,
        quantity="engine_speed",
        unit="rpm",
        rules=("log.idle_high_air", "log.slow_to_idle", "start.idle"),
    ),
)
