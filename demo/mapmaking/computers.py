"""Maps of computers that replace the stock one."""

from __future__ import annotations

from dataclasses import replace

from ventmap.core.forms import Identity

from .shapes import curve, full, options, two_litre, write


def fenwright() -> None:
    def p4(calibration: str, firmware: str = "2.0", computer: str = "FW-P4") -> Identity:
        return Identity("T20", computer, calibration, minimum_firmware=firmware)

    proven = {"proven_on": "drum, two vehicles"}
    free = two_litre("T20, free exhaust, 95 RON", p4("FW20-F95"), 0.88, 3.0, ron=95.0, **proven)
    write("fenwright", "t20-free-95", free)
    write(
        "fenwright",
        "t20-free-95-old",
        replace(
            free, name="T20, free exhaust, 95 RON, for the P3", identity=p4("FW20-F95A", computer="FW-P3")
        ),
    )
    write(
        "fenwright",
        "t20-free-98",
        two_litre("T20, free exhaust, 98 RON", p4("FW20-F98"), 0.88, 1.0, ron=98.0),
    )
    write(
        "fenwright",
        "t20-stock-95",
        two_litre(
            "T20, stock exhaust, 95 RON", p4("FW20-S95"), 0.9, 3.0, ron=95.0, exhaust="stock", **proven
        ),
    )
    write(
        "fenwright",
        "t20-race-95",
        two_litre("T20, race exhaust, 95 RON", p4("FW20-R95"), 0.86, 4.0, ron=95.0, exhaust="race"),
    )
    write(
        "fenwright",
        "t20-turbo-95",
        two_litre("T20 with a turbo kit, 95 RON", p4("FW20-T95"), 0.8, 9.0, ron=95.0, induction="turbo"),
    )
    write(
        "fenwright", "t20-free-no-octane", two_litre("T20, free exhaust, by Halden", p4("HD20-01"), 0.9, 1.0)
    )
    write(
        "fenwright",
        "t20-free-95-new",
        replace(free, name="T20, free exhaust, 95 RON, for newer firmware", identity=p4("FW20-F95C", "3.0")),
    )
    write(
        "fenwright",
        "t20-free-95-cams",
        two_litre("T20, free exhaust and long cams", p4("FW20-C95"), 0.88, 3.0, ron=95.0, cams="changed"),
    )
    write(
        "fenwright",
        "t20-free-95-no-catalyst",
        two_litre("T20, catalyst taken out", p4("FW20-N95"), 0.86, 3.0, ron=95.0, catalyst="removed"),
    )
    write(
        "fenwright",
        "t20-free-95-auto",
        two_litre(
            "T20, free exhaust, automatic", p4("FW20-A95"), 0.88, 3.0, ron=95.0, gearbox="automatic, 6"
        ),
    )
    eighteen = {"flow": 330.0, "kpa": 300.0, "cc": 1798.0, "cylinders": 4.0, "rev": 6600.0, "idle": 820.0}
    write(
        "fenwright",
        "t18-stock-95",
        full(
            "T18, as it came, 95 RON",
            Identity("T18", "FW-P4", "FW18-S95", minimum_firmware="2.0"),
            eighteen,
            0.89,
            100,
            ron=95.0,
            author="Fenwright",
        ),
    )
    sled = {"flow": 625.0, "kpa": 400.0, "cc": 849.0, "cylinders": 2.0, "rev": 8200.0, "idle": 1500.0}
    # Its pipe draws more through it than it sweeps.
    sled["fill"] = 1.2
    write(
        "fenwright",
        "b850-pass-98",
        full(
            "B850, mountain, 98 RON",
            Identity("B850", "FW-S2", "FWB8-M98", minimum_firmware="1.2"),
            sled,
            0.82,
            100,
            ron=98.0,
            author="Fenwright",
            altitude_m=(900.0, 3000.0),
        ),
    )
    smaller = {**sled, "cc": 599.0, "rev": 8300.0}
    write(
        "fenwright",
        "b600-plain-95",
        full(
            "B600, plain, 95 RON",
            Identity("B600", "FW-S2", "FWB6-P95", minimum_firmware="1.2"),
            smaller,
            0.82,
            104,
            ron=95.0,
            author="Fenwright",
            altitude_m=(0.0, 600.0),
        ),
    )
    write(
        "fenwright",
        "b850-plain-95",
        full(
            "B850, plain, 95 RON",
            Identity("B850", "FW-S2", "FWB8-P95", minimum_firmware="1.2"),
            sled,
            0.82,
            104,
            ron=95.0,
            author="Fenwright",
            altitude_m=(0.0, 600.0),
        ),
    )


def ardle() -> None:
    engine = [
        ("rev_limit", "rev limit", 8500, 8500, 5000, 8800, "rpm", False, ""),
        ("speed_limit", "speed limit", 120, 110, 40, 140, "km/h", False, "the tyres that are on carry R"),
        (
            "tyre_mm",
            "tyre, rolling diameter",
            752,
            762,
            600,
            900,
            "mm",
            False,
            "measured, 30x10R14 on 90 kPa",
        ),
        ("fan_on", "fan on", 98, 92, 70, 105, "°C", False, "dust on the core by midday"),
        ("fan_off", "fan off", 93, 87, 60, 100, "°C", False, "5 °C below on"),
    ]
    swap = options(
        "HT10, trail, 95 RON",
        Identity("HT10", "HB-T2X", "HT10-0031", minimum_firmware="1.0"),
        engine,
        induction="turbo",
        ron=95.0,
        author="Ardle",
        altitude_m=(0.0, 2500.0),
    )
    write("ardle", "ht10-trail", swap)
    write(
        "ardle",
        "ht10-sand",
        replace(
            swap,
            name="HT10, sand, race pipe",
            conditions=swap.conditions.model_copy(update={"exhaust": "race", "ron": 98.0}),
        ),
    )
    open_96 = two_litre(
        "T20 on the Open 96, 95 RON",
        Identity("T20", "AR-96", "AO20-1", minimum_firmware="4.8"),
        0.88,
        4.0,
        ron=95.0,
        author="Ardle",
    )
    write("ardle", "t20-open-96", open_96)
    merrin = {"flow": 550.0, "kpa": 350.0, "cc": 1598.0, "cylinders": 4.0, "rev": 6400.0, "idle": 780.0}
    turbo = full(
        "OM16 on the Open 96, 98 RON",
        Identity("OM16", "AR-96", "AO16-1", minimum_firmware="4.8"),
        merrin,
        0.8,
        200,
        ron=98.0,
        induction="turbo",
        author="Ardle",
    )
    speeds = [1200, 1800, 2400, 3000, 4000, 5000, 6000, 6400]
    turbo = turbo.with_table("boost_target", curve(speeds, [10, 45, 80, 90, 92, 90, 82, 76]))
    write(
        "ardle",
        "om16-open-96",
        turbo.with_table("wastegate_duty", curve(speeds, [80, 70, 52, 44, 42, 45, 52, 55])),
    )
