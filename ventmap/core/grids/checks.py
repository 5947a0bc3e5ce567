"""Points answered one by one, and plugs tugged one by one."""

from __future__ import annotations

from ..basics import BadInput, Call, Evidence, Verdict
from ..runsheet import CheckRow, ChecksAsked, PlugsAsked
from .data import ChecksData, PlugEntry, PlugsData
from .model import GridResult

SOURCE = "Run sheet of this job"
#: How a plug may stand, in words; the last two are how it may stay.
STATES = {
    "stock": "as it was, not touched yet",
    "pulled": "pulled, open",
    "in line": "ours in line, not seated",
    "seated": "seated, not tugged",
    "tugged": "seated and tugged",
    "covered": "stays off, covered",
}
MAY_STAY = ("tugged", "covered")


def checks(about: ChecksAsked, data: ChecksData) -> GridResult:
    """``answers``: point → one of its answers; one that is not good holds, or stops where it protects."""
    calls = [_point(row, data.answers[row.key]) for row in about.rows if data.answers.get(row.key)]
    return GridResult(tuple(calls), complete=len(calls) == len(about.rows))


def _point(row: CheckRow, answer: str) -> Call:
    if answer not in row.answers:
        raise BadInput(f"{row.title}: choose one of its answers.", row.key)
    good = answer in row.good
    return Call(
        "fit.point",
        verdict=Verdict.go if good else Verdict.stop if row.protects else Verdict.hold,
        because=(Evidence(row.title, row.answers[answer]),),
        protects="" if good else row.protects,
        do_next="As it should be." if good else row.do_next,
        source=row.why,
        title=row.title,
        row=row.key,
    )


def plugs(about: PlugsAsked, data: PlugsData) -> GridResult:
    """``rows``: every plug that was touched. A twin without its label holds; what is not tugged or covered is
    still to do.
    """
    rows = [row for row in data.rows if row.name.strip()]
    for row in rows:
        if row.state and row.state not in STATES:
            raise BadInput(f"{row.name}: how does it stand? {', '.join(STATES.values())}.", row.name)
    calls = [_twin(row) for row in rows if row.like.strip() and not row.labelled]
    done = [row for row in rows if row.state in MAY_STAY]
    if not calls:
        calls = [_tugged(done, len(rows))]
    return GridResult(
        tuple(calls), {"states": STATES, "done": len(done)}, complete=rows == done and bool(rows)
    )


def _twin(row: PlugEntry) -> Call:
    return Call(
        "fit.twin",
        verdict=Verdict.hold,
        because=(Evidence(row.name, f"looks like {row.like}", "a label on both halves"),),
        do_next="Label both halves before either is off; found crossed, the engine never fires.",
        source=SOURCE,
        title=f"{row.name}: a twin without its label",
        row=row.name,
    )


def _tugged(done: list[PlugEntry], of: int) -> Call:
    told = tuple(Evidence(row.name, STATES[row.state]) for row in done[:10])
    return Call(
        "fit.tugged",
        verdict=Verdict.go,
        because=(Evidence("plugs", len(done), of), *told),
        do_next="None moves under a tug.",
        source=SOURCE,
        title="Plugs seated, tugged or covered",
    )
