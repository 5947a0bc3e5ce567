"""Every form of map, and which a device runs."""

from __future__ import annotations

from .full import FULL
from .kinds import Form
from .listed import ENTRIES, OPTIONS
from .tabled import BLEND, BORROWED, DRIVER, LEVEL, TRIM

#: Key → form, in the order in which the trade lists them. A form is added here and nowhere else.
FORMS: dict[str, Form] = {
    form.key: form for form in (FULL, TRIM, LEVEL, BLEND, OPTIONS, DRIVER, ENTRIES, BORROWED)
}

#: Forms of boxes between the stock computer and its sensors or injectors: that computer runs the engine.
BOX_FORMS = (LEVEL.key, BLEND.key, TRIM.key, DRIVER.key)
#: Forms under which the stock computer runs the engine: a box beside it, or options over its program.
BESIDE_FORMS = (*BOX_FORMS, OPTIONS.key)
#: Forms that leave the engine as it is: settings between it and the body.
APART_FORMS = (ENTRIES.key,)


def form_of(device_kind: str) -> Form:
    """The form that a kind of device runs; a kind that no form names has a program of its own."""
    return next((form for form in FORMS.values() if device_kind in form.used_by), BORROWED)


def guide_lines() -> list[str]:
    """The guide's table of forms, a line each, from their descriptions."""
    rows = [("form", "what is in it", "what runs it", "how it gets in", "what proves it", "what is checked")]
    rows += [
        (
            form.title,
            form.holds,
            ", ".join(form.used_by) or "any device with a program of its own",
            form.enters,
            form.proof,
            form.checked,
        )
        for form in FORMS.values()
    ]
    lines = ["| " + " | ".join(row) + " |" for row in rows]
    return [lines[0], "|" + "---|" * len(rows[0]), *lines[1:]]
