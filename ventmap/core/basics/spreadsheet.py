"""Words that leave in a table: no spreadsheet takes them for a formula, and they come back as they were."""

from __future__ import annotations

import re

#: How a formula begins in a spreadsheet (OWASP, CSV injection); a figure with its sign is none.
_FORMULA = re.compile(r"'*[=+\-@\t\r]")
_FIGURE = re.compile(r"[+\-]?[0-9]+([.,][0-9]+)?([eE][+\-]?[0-9]+)?")


def as_text(cell: str) -> str:
    """A cell as it is written: what begins like a formula has a mark before it.

    Examples
    --------
    >>> as_text("=1+1"), as_text("-2.5"), as_text("'=x")
    ("'=1+1", '-2.5', "''=x")
    """
    return f"'{cell}" if _FORMULA.match(cell) and not _FIGURE.fullmatch(cell) else cell


def as_was(cell: str) -> str:
    """A cell as it was before `as_text`.

    Examples
    --------
    >>> as_was("'=1+1"), as_was("'tis"), as_was("-2.5")
    ('=1+1', "'tis", '-2.5')
    """
    return cell[1:] if cell.startswith("'") and _FORMULA.match(cell[1:]) else cell
