"""What the owner is told at hand-over: what to feed it, and what the law has to say."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from ..fuel import blend

EMISSION_PARTS = ("exhaust", "catalyst")
LAW = (
    "A change may affect warranty whether or not it leaves a trace.",
    (
        "Removing or disabling emission equipment, monitoring sensors or limiters is unlawful on the road in"
        " many places; local rules and licensed inspection decide."
    ),
)


#: Where Intake was never saved.
NOT_SAID = "fuel not said yet"


def in_the_tank(injection: str, ron: float | None, ethanol: float) -> str:
    """What a job's vehicle runs on, in words; `ethanol` as a fraction of volume.

    Examples
    --------
    >>> in_the_tank("port", 95.0, 0.1), in_the_tank("diesel", 95.0, 0.0)
    ('95 RON, 10 % ethanol', 'diesel')
    """
    if injection == "diesel":
        return "diesel"
    return NOT_SAID if ron is None else f"{ron:g} RON, {100 * ethanol:g} % ethanol"


def what_to_feed(
    injection: str,
    ron: float | None,
    ethanol: float,
    stated_ron: float | None = None,
    follows: bool = False,
    is_set: bool = True,
) -> list[str]:
    """What it may be filled with after this job, by what is in it.

    Parameters
    ----------
    ron, ethanol : float
        What it was set and proven on.
    stated_ron : float, optional
        Octane that the loaded map, or the level that was set, asks for.
    follows : bool
        Whether a sensor of ethanol is fitted, which the device follows.
    is_set : bool
        Whether anything was set or loaded in this job.

    Examples
    --------
    >>> what_to_feed("diesel", 95.0, 0.0)
    ['diesel as the maker of the vehicle names it, winter grade in the cold']
    """
    if injection == "diesel":
        return ["diesel as the maker of the vehicle names it, winter grade in the cold"]
    if not is_set:
        now = in_the_tank(injection, ron, ethanol)
        return [f"as the maker of the vehicle names it: nothing was set here; {now} is in it"]
    if stated_ron is None and ron is None:
        told = [f"nobody said what was in the tank while it was set: {NOT_SAID}"]
    elif stated_ron is None:
        told = [f"{ron:g} RON or better: that was in the tank while it was set"]
    else:
        told = [f"{stated_ron:g} RON or better, as its map or level asks"]
    content = f"{100 * ethanol:g} % ethanol (stoichiometric {blend(ethanol).stoichiometric:.2f})"
    if follows:
        told.append(
            f"set at {content}; its sensor follows another content, which was not proven here: watch its"
            " trims"
        )
    else:
        told.append(f"set with {content}: another content was not proven here and may ask for other settings")
    return told


def law(changes: Sequence[str], rev_limit: tuple[float, float] | None = None) -> list[str]:
    """What is said about warranty and law, with what this job has on record of it.

    Parameters
    ----------
    changes : sequence of str
        Existing changes from Intake.
    rev_limit : (float, float), optional
        The vehicle's own and the loaded map's [rpm].
    """
    told = list(LAW)
    parts = [part for part in EMISSION_PARTS if part in changes]
    if parts:
        told.append(
            f"It came with another {' and '.join(parts)}: whether that may be driven on the road was not"
            " judged here."
        )
    if rev_limit is not None and rev_limit[1] > rev_limit[0]:
        told.append(f"The rev limit is {rev_limit[1]:g} rpm; the maker's is {rev_limit[0]:g} rpm.")
    if len(told) == len(LAW):
        told.append("Nothing of that kind is on record in this job.")
    return told


def lights_of(kind: str, done: Collection[str]) -> list[str]:
    """Lamps that may show after the work, by kind of vehicle and by what was done to it.

    Parameters
    ----------
    kind : str
        As the vehicle's record has it: boats and sleds have no stability or steering lamps.
    done : collection of str
        Keys of steps done.
    """
    told = []
    if any(key.startswith("load.") for key in done):
        told.append("engine lamp, until the codes are cleared")
    if "make-safe.battery" in done and kind in ("car", "van", "pickup"):
        told += ["stability and steering lamps, for the first metres", "clock and windows to set again"]
    elif "make-safe.battery" in done:
        told.append("clock to set again, where it has one")
    return told or ["none is expected: any lamp is a reason to come back"]
