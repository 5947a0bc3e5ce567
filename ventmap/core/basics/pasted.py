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


def one_figure(cell: str) -> float | None:
    """The one figure in a cell, its unit set aside; None where there is none, or more than one."""
    found = NUMBER.findall(cell)
    if len(found) != 1:
        return None
    return float(found[0].replace(",", ".").replace("−", "-"))
