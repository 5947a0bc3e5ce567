"""Complaints on the throttle and at idle: speed hangs, flat spots, low idle, starts badly hot."""

from __future__ import annotations

from .symptom_entry import Complaint, tree

THROTTLE: dict[str, Complaint] = {
    "rev_hang": tree(
        "Engine speed hangs after the throttle closes",
        {
            "reflash": "since a reflash or a new map",
            "lean": "trims at idle are positive",
            "cable": "the throttle stands off its stop",
            "warm": "only when warm",
        },
        [
            (
                "dashpot or overrun air in the map",
                4,
                (0.9, 0.2, 0.05, 0.5),
                "Read throttle and idle air through a closing; shorten the decay, a step at a time.",
            ),
            (
                "air leak behind the throttle",
                3,
                (0.2, 0.9, 0.05, 0.5),
                "Smoke the intake; seals of injectors and manifold first.",
            ),
            (
                "throttle does not close",
                2,
                (0.2, 0.2, 0.95, 0.4),
                "Free cable or plate; learn its closed stop anew.",
            ),
            (
                "overrun cut comes too late",
                2,
                (0.8, 0.1, 0.05, 0.6),
                "Read pulse width through a closing; the cut begins where the maker's did.",
            ),
        ],
        [
            ("throttle angle with the pedal or grip free", 2, 3),
            ("smoke into the intake, engine off", 20, 2),
            ("log of throttle, idle air and pulse through five closings", 10, 1),
            ("pulse width through an overrun", 5, 4),
        ],
        "petrol",
    ),
    "flat_tip_in": tree(
        "Flat or stumbles as the throttle opens",
        {
            "lean_spike": "mixture goes lean for a moment",
            "rich_spike": "mixture goes rich for a moment",
            "cold_worse": "worse while cold",
            "since_injectors": "since larger injectors",
        },
        [
            (
                "too little fuel for the wall film",
                4,
                (0.95, 0.02, 0.8, 0.5),
                "More opening fuel, by temperature; log each step from the same speed.",
            ),
            ("too much opening fuel", 2, (0.05, 0.95, 0.2, 0.7), "Less opening fuel, or a shorter decay."),
            (
                "dead time or flow wrong",
                3,
                (0.5, 0.5, 0.4, 0.95),
                "Put the sheet's figures in before any transient is touched.",
            ),
            (
                "spark falls through idle control",
                2,
                (0.1, 0.1, 0.3, 0.2),
                "Log spark as it opens; leave idle control sooner.",
            ),
            (
                "load sensor slow or hose long",
                1,
                (0.6, 0.1, 0.3, 0.2),
                "Shorten the hose, blow it clear; see both sensors step together.",
            ),
        ],
        [
            ("mixture through ten openings from one speed", 10, 1),
            ("mixture with opening fuel halved", 10, 2),
            ("injector figures against their sheet", 5, 3),
            ("spark through an opening", 5, 4),
            ("pressure sensor against throttle, at full rate", 10, 5),
        ],
        "petrol",
    ),
    "low_idle": tree(
        "Idle is low, rough or dies at rest",
        {
            "load": "as fan, lamps or gear come on",
            "since_injectors": "since larger injectors",
            "rich": "mixture is rich at idle",
            "one": "one cylinder does less",
        },
        [
            (
                "idle air at its end",
                3,
                (0.9, 0.2, 0.2, 0.05),
                "Clean plate and valve, learn them anew; set base air so that control sits in its middle.",
            ),
            (
                "dead time too short or too long",
                4,
                (0.3, 0.95, 0.6, 0.05),
                "Enter the sheet's dead times at this pressure; then judge idle fuel.",
            ),
            (
                "purge or breather feeds it",
                1,
                (0.1, 0.1, 0.9, 0.05),
                "Pinch the purge hose: idle and trims come back.",
            ),
            (
                "one injector, plug or valve",
                3,
                (0.3, 0.4, 0.3, 0.95),
                "Cut one cylinder after the other by the tester: the one that changes nothing.",
            ),
            ("charging weak", 1, (0.9, 0.2, 0.1, 0.1), "Volts at idle with all on; belt and grounds."),
        ],
        [
            ("volts at idle with all on", 3, 5),
            ("dead times against their sheet", 5, 2),
            ("purge hose pinched", 2, 3),
            ("each cylinder cut once by the tester", 10, 4),
            ("idle air valve or angle in a log", 5, 1),
        ],
        "petrol",
    ),
    "hot_start": tree(
        "Starts badly when hot",
        {
            "pressure_falls": "fuel pressure falls within minutes",
            "wet": "smells of fuel, plugs wet",
            "after_ten": "worst ten minutes after it was shut off",
            "slow": "cranks slowly",
        },
        [
            (
                "fuel boils or drains back",
                4,
                (0.9, 0.1, 0.9, 0.05),
                "Feed pressure by a gauge at its service valve; check valve, regulator, then shielding.",
            ),
            (
                "leaking injector floods it",
                2,
                (0.9, 0.9, 0.6, 0.1),
                "Nothing of the rail is opened hot: plugs first; then the set to a flow bench.",
            ),
            (
                "hot start fuel in the map",
                3,
                (0.05, 0.6, 0.5, 0.05),
                "Less fuel by temperature, more air; log the first two seconds.",
            ),
            (
                "starter, battery or ground",
                2,
                (0.05, 0.1, 0.3, 0.95),
                "Volts at the starter while it cranks hot.",
            ),
        ],
        [
            ("feed pressure for ten minutes after a hot stop", 12, 1),
            ("plugs out after ten minutes' stop: one wet", 20, 2),
            ("crank with the throttle open, shut as it fires", 2, 3),
            ("volts at the starter, hot", 5, 4),
        ],
        "petrol",
    ),
}
