"""Cells of a table as they are copied off a sheet or out of a program: any separator and decimal mark."""

from __future__ import annotations

import re

NUMBER = re.compile(r"[-+−]?\d+(?:[.,]\d+)?|[-+−]?[.,]\d+")


def split_cells(text: str) -> list[list[str]]:
    """Rows of cells; separated by tab, semicolon, comma or blanks, whichever the text uses. An empty first
    cell stays: it is a table's corner.
    """
    return [
        [cell.strip() for cell in re.split(_mark(line), line if "\t" in line else line.strip())]
        for line in text.replace("\r", "").split("\n")
        if line.strip()
    ]


def separator(text: str) -> str:
    """What stands between cells: ``tab``, ``;``, ``,`` or ``blank``."""
    line = next((line for line in text.split("\n") if line.strip()), "")
    return {r"\t": "tab", "[;]": ";", ",": ","}.get(_mark(line), "blank")


def _mark(line: str) -> str:
    if "\t" in line:
        return r"\t"
    if ";" in line:
        return "[;]"
    if re.search(r"\d\s*,\s*[-+]?\d", line) and not re.search(r"\d\s+[-+]?\d", line):
        return ","
    return r"\s+"


#: What may stand behind a figure. Nothing else: “8o” is a slip of typing, not eight.
_UNIT = (
    r"%|°|°\s?[cf]|×|x|v|volts?|[kh]?pa|mbar|bar|psi|ms|µs|us|s|rpm|1/min|min-1|lambda|afr|n·?m|km/h|g/s|"
    r"(?:cm³|cc)/min|lb/h|deg|btdc|° btdc"
)
_CELL = re.compile(rf"\s*({NUMBER.pattern})\s*(?:{_UNIT})?\s*", re.I)


def one_figure(cell: str) -> float | None:
    """The figure of a cell, its unit set aside; None where it is none, or something else stands in it.

    Examples
    --------
    >>> one_figure("13,5 V"), one_figure("8o"), one_figure("5s5")
    (13.5, None, None)
    """
    found = _CELL.fullmatch(cell)
    return float(found.group(1).replace(",", ".").replace("−", "-")) if found else None
