"""The job's running record."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db.models import F
from django.utils import timezone

from ventmap.core.basics import BadInput, Call, Evidence, Verdict

from ..schemas import LedgerKind
from ..shop.access import LEAD, NotAllowed, full_name, role
from ..shop.looking import until_written
from .acting import follows, of_person
from .known import marked
from .models import Job, LedgerEntry
from .moment import late, told


def write(
    job: Job,
    stage: str,
    kind: LedgerKind,
    title: str,
    by: User,
    text: str = "",
    evidence: Iterable[Evidence] = (),
) -> LedgerEntry:
    """A line that is no judgement: a reading, a tick, a load, a log."""
    touch(job)
    of_person(by)
    return LedgerEntry.objects.create(
        job=job,
        stage=stage,
        kind=kind,
        title=title[:160],
        text=_with_moment(text),
        moment=late(),
        by=by,
        evidence=[asdict(e) for e in evidence],
    )


def _with_moment(text: str) -> str:
    """What is said of an entry that a tablet kept: when it was made."""
    made = late()
    if made is None or follows():
        return text
    return f"{text} Entered at {told(made)}, sent when the server was back.".strip()


def judge(
    job: Job, stage: str, calls: Iterable[Call], by: User, given: Mapping[str, Any] | None = None
) -> None:
    """Enter calls with the guesses they rest on. The newest of a rule stands; those before stay on record.

    An overrule was given for what was found then: it holds for the same finding, and falls with any other.
    `given` is what somebody entered, where a call judges just that.
    """
    of_person(by)
    entered = not follows()
    for call in marked(job, calls):
        before = [entry for entry in standing_in(job, stage) if entry.rule == call.rule]
        if follows() and before and finds_same(before[0], call):
            continue  # nobody read anything anew, and nothing else was found
        was = next((entry for entry in before if entry.overruled_by_id is not None), None)
        _falls(before)
        kept = (
            {
                "overruled_by": was.overruled_by,
                "overruled_at": was.overruled_at,
                "overruled_reason": was.overruled_reason,
            }
            if was is not None and finds_same(was, call)
            else {}
        )
        entered = True
        LedgerEntry.objects.create(
            **kept,
            job=job,
            stage=stage,
            kind="call",
            by=by,
            title=call.title[:160],
            text=_with_moment(call.do_next),
            moment=None if follows() else late(),
            rule=call.rule,
            verdict=call.verdict.value,
            evidence=[asdict(e) for e in call.because],
            source=call.source,
            protects=call.protects,
            given=dict(given or {}),
            standing=True,
        )
    if entered:
        touch(job)


def found_now(
    job: Job, stage: str, rule: str, calls: Iterable[Call], by: User, but: Iterable[str] = ()
) -> None:
    """Of a rule and those numbered under it (or of all that begin so, where it ends in a dot) just these
    calls stand, and `but`: what is found again keeps what was said of it, what is not found falls.
    """
    calls = list(calls)
    judge(job, stage, calls, by)
    stays = {*but, *(call.rule for call in calls)}
    begins = (lambda other: other.startswith(rule)) if rule.endswith(".") else _of(rule)
    _falls(e for e in standing_in(job, stage) if begins(e.rule) and e.rule not in stays)


def finds_same(entry: LedgerEntry, call: Call) -> bool:
    """Whether an entry found just what a call finds: verdict, what it protects, and every figure and word."""
    return (entry.verdict, entry.protects, entry.evidence) == (
        call.verdict.value,
        call.protects,
        [asdict(item) for item in call.because],
    )


def is_aside(job: Job, stage: str) -> Callable[[Call], bool]:
    """Whether a call, as it is found now, was overruled for just that."""
    given = {
        entry.rule: entry
        for entry in job.ledger.filter(stage=stage, standing=True).exclude(overruled_by=None)
    }

    def aside(call: Call) -> bool:
        entry = given.get(call.rule)
        return entry is not None and any(finds_same(entry, one) for one in (call, *marked(job, [call])))

    return aside


def withdraw(job: Job, stage: str, prefix: str) -> None:
    """Calls of rules that begin with `prefix` no longer stand: what they judged is gone."""
    _falls(entry for entry in standing_in(job, stage) if entry.rule.startswith(prefix))


def withdraw_one(job: Job, stage: str, rule: str) -> None:
    """The call of this very rule no longer stands."""
    _falls(entry for entry in standing_in(job, stage) if entry.rule == rule)


def withdraw_step(job: Job, stage: str, step: str) -> None:
    """No call of a step stands, its first or those of its other faults."""
    of_it = _of(f"step.{step}")
    _falls(entry for entry in standing_in(job, stage) if of_it(entry.rule))


def standing_in(job: Job, stage: str) -> list[LedgerEntry]:
    """What stands in a stage, the newest first; not to be changed by who asks."""
    return _standing(job.pk, stage)


@until_written
def _standing(job_id: int, stage: str) -> list[LedgerEntry]:
    return list(LedgerEntry.objects.filter(job_id=job_id, stage=stage, standing=True))


def _falls(entries: Iterable[LedgerEntry]) -> None:
    """They stand no more; where there are none, nothing is written."""
    gone = [entry.pk for entry in entries]
    if gone:
        LedgerEntry.objects.filter(pk__in=gone, standing=True).update(standing=False)


def _of(rule: str) -> Callable[[str], bool]:
    """Whether a rule is this one, or numbered under it."""
    return lambda other: other == rule or other.startswith(f"{rule}#")


def as_call(entry: LedgerEntry) -> Call:
    return Call(
        entry.rule,
        verdict=Verdict(entry.verdict),
        because=tuple(Evidence(**e) for e in entry.evidence),
        do_next=entry.text,
        source=entry.source,
        title=entry.title,
        protects=entry.protects,
    )


def overrule(entry: LedgerEntry, reason: str, by: User) -> LedgerEntry:
    """Set a hold aside, with a name and a reason.

    Raises
    ------
    NotAllowed
        For a stop that protects people or the computer; and for anyone but the lead.
    BadInput
        Without a reason.
    """
    if entry.kind != "call" or not entry.standing or entry.verdict == "go":
        raise BadInput("Only a hold that still stands can be overruled.", "entry")
    if not as_call(entry).may_be_overruled:
        raise NotAllowed(
            f"This stop protects {entry.protects} and cannot be overruled. {entry.text}", "entry"
        )
    if role(by) != LEAD:
        raise NotAllowed("Only the lead may overrule. Ask the lead, or put it right.", "entry")
    if len(reason.strip()) < 4:
        raise BadInput("Say why, in a few words: the reason stays with the job.", "reason")
    entry.overruled_by, entry.overruled_reason, entry.overruled_at = by, reason.strip(), timezone.now()
    entry.save()
    touch(entry.job)
    return entry


def standing_calls(entries: Iterable[LedgerEntry]) -> list[Call]:
    """What weighs on a stage: standing, and not overruled."""
    return [as_call(e) for e in entries if e.standing and e.kind == "call" and e.overruled_by_id is None]


def touch(job: Job) -> None:
    """Something of the job changed: others who look at it fetch it again."""
    Job.objects.filter(pk=job.pk).update(revision=F("revision") + 1)


def who(entry: LedgerEntry) -> str:
    return full_name(entry.by)
