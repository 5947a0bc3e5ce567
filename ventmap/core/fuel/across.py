"""What lies across an injector: the one place that says so."""

from __future__ import annotations

from ..basics import OutOfRange, require_positive


def pressure_across(rail_kpa: float, boost_kpa: float, referenced: bool, least_kpa: float = 0.0) -> float:
    """Pressure across an injector: rail absolute less manifold absolute [kPa].

    Parameters
    ----------
    rail_kpa : float
        Of the rail, gauge, without boost [kPa].
    boost_kpa : float
        Manifold above the barometer [kPa]; below it where negative.
    referenced : bool
        Whether the regulator follows the manifold: it then holds what lies across.
    least_kpa : float
        What is left must exceed this [kPa].

    Raises
    ------
    OutOfRange
        Where nothing is left to flow.

    Examples
    --------
    >>> pressure_across(420.0, 105.0, False), pressure_across(350.0, 90.0, True)
    (315.0, 350.0)
    """
    require_positive(rail_kpa=rail_kpa)
    across = rail_kpa if referenced else rail_kpa - boost_kpa
    if across <= least_kpa:
        raise OutOfRange(
            f"A fixed rail of {rail_kpa:g} kPa cannot feed against {boost_kpa:g} kPa of boost: nothing would"
            " flow.",
            "boost_kpa",
        )
    return across
