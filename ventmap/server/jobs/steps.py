"""Steps done and undone."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

from django.contrib.auth.models import User
from django.utils import timezone

from ventmap.core.basics import BadInput, Call, parse
from ventmap.core.runsheet import FUEL_GATE, Step

from . import gate, ledger
from .acting import changes_job
from .assemble import rules, run_sheet, step_by
from .judging import answer_call, reading_call, rule_of, step_of
from .known import answered
from .late import arrived_late, in_its_order, newer
from .models import Job, LedgerEntry, StepDone, Timer
from .moment import moment, told
from .stamp import state_at


def finish(
    job: Job, key: str, by: User, reading: float | None = None, answer: str = "", words: str = ""
) -> bool:
    """Mark a step done; false where somebody was quicker, or where this job asks for no such step."""
    title = next((step.title for step in run_sheet(job).steps if step.key == key), "")
    if not title:
        return False
    row, fresh = StepDone.objects.get_or_create(
        job=job,
        key=key,
        defaults={"by": by, "reading": reading, "title": title, "answer": answer, "words": words}
        | {"at": moment(), "state": state_at(job, key)},
    )
    if not fresh and (reading is not None or answer or words or row.set_aside):
        # Read or answered again: the newer one is what stands, as in the ledger.
        StepDone.objects.filter(job=job, key=key).update(
            reading=reading,
            answer=answer,
            words=words,
            set_aside="",
            rests={},
            state=state_at(job, key),
            by=by,
            at=moment(),
        )
    if fresh or reading is not None:
        _again_after(job, key, by)
    if fresh:
        Timer.objects.filter(job=job, step=key, ended_at=None).update(ended_at=timezone.now())
        ledger.touch(job)
    return fresh


def _again_after(job: Job, key: str, by: User) -> None:
    """What was read before a step that it needs is read again after it."""
    done = set(job.steps_done.values_list("key", flat=True))
    for step in run_sheet(job).steps:
        if key in step.needs and step.key in done and step.reading is not None:
            reopen(job, step.key)
            ledger.withdraw_step(job, step.stage, step.key)
            ledger.write(job, step.stage, "note", f"Read again: {step.title}", by, "It was read before.")


def reopen(job: Job, key: str) -> None:
    StepDone.objects.filter(job=job, key=key).delete()
    ledger.touch(job)


def ready(job: Job, step: Step) -> None:
    """Refuse a step whose gate is not passed: named, with what to do first.

    Raises
    ------
    BadInput
        Where a step that it needs is open, or where it hangs on something nobody knows yet.
    """
    answered(job, step.key)
    gate.ask_step(job, step)
    titles = {other.key: other.title for other in run_sheet(job).steps}
    done = set(job.steps_done.values_list("key", flat=True))
    first = next((key for key in step.needs if key in titles and key not in done), None)
    if first:
        raise BadInput(f"First: {titles[first]}. This step needs it.", "step")


@changes_job
def do_step(
    job: Job,
    key: str,
    by: User,
    typed: str | None = None,
    unit: str | None = None,
    anyway: bool = False,
    answer: str | None = None,
    words: str | None = None,
) -> None:
    """A person does a step: tick, reading within its limits, answer, photo that is there, or a wait that is
    over.

    A reading or an answer that holds is entered, and the step stays open until it is right or overruled.
    """
    step = step_by(job, key)
    if step.evidence == "auto":
        raise BadInput("This step is done by the work on its screen, not by a tick.", "step")
    if step.evidence == "grid":
        raise BadInput("Fill the grid: it says itself when it is right.", "step")
    ready(job, step)
    if key == HAND_OVER:
        nothing_open(job)
    if step.evidence == "words" and (unread := next(filter(None, (of(job, key) for of in UNREAD)), "")):
        raise BadInput(unread, "words")
    text = (words or "").strip()
    if step.evidence == "words":
        if len(text) < 2:
            raise BadInput("Type what was set or what it reads back; a dash is no record.", "words")
        if len(text) > LONGEST_WORDS:
            raise BadInput(f"Keep it to {LONGEST_WORDS} letters; a longer list goes in a picture.", "words")
    value: float | None = None
    call: Call | None = None
    if step.reading is not None:
        if not typed or not typed.strip():
            raise BadInput(f"Enter the reading: {step.reading.label} in {step.reading.unit}.", "reading")
        value = parse(typed, step.reading.quantity, unit or step.reading.unit)
        call = reading_call(step, value, rules(job))
    elif step.evidence == "answer":
        call = answer_call(step, answer or "")
    elif step.evidence == "photo" and not job.photos.filter(step=key).exists():
        raise BadInput("Take or drop the picture first: it is the evidence of this step.", "photo")
    if call is not None:
        in_its_order(job, step)
        if (stands := newer(job, step, call.rule)) is not None:
            arrived_late(job, step, call, stands, by)
            return
        ledger.judge(job, step.stage, [call], by, {"reading": value, "answer": answer or ""})
        if call.verdict != "go":
            reopen(job, key)
            return
    skipped = ""
    if step.firm and anyway:
        raise BadInput(
            f"“{step.title}” is waited for to its end: {step.wrong} Nothing is read after it that would tell"
            " otherwise.",
            "step",
        )
    if step.evidence == "timer":
        running = Timer.objects.filter(job=job, step=key, ended_at=None).order_by("-id").first()
        left = running is None or timezone.now() < running.started_at + timedelta(seconds=running.seconds)
        skipped = NOT_WAITED if left else ""
    if step.evidence == "timer" and not anyway:
        if running is not None and left:
            return  # a second tap of a glove: it runs already
        if running is None:
            Timer.objects.create(job=job, step=key, label=step.title, seconds=step.seconds, by=by)
            ledger.write(
                job, step.stage, "timer", f"Started: {step.title}", by, f"{step.seconds / 60:.0f} min"
            )
            return
    if step.evidence == "words":
        finish(job, key, by, words=text)
        ledger.write(job, step.stage, "reading", step.title, by, text)
        return
    if key == HAND_OVER:
        Job.objects.filter(pk=job.pk).update(asked_then=[step.key for step in run_sheet(job).steps])
    if finish(job, key, by, value, answer or "", skipped) and call is None:
        title = f"{skipped}: {step.title}" if skipped else step.title
        ledger.write(job, step.stage, "photo" if step.evidence == "photo" else "tick", title, by)


#: A wait that somebody ended before its time was not waited.
NOT_WAITED = "Not waited out"
#: What else is forgotten of a step that is read anew, by the apps that keep it.
FORGET: list[Callable[[Job, str], None]] = []


def read_anew(job: Job, key: str) -> None:
    """A step is open again, and what was seen on the way to it counts no longer."""
    reopen(job, key)
    for forget in FORGET:
        forget(job, key)


#: What is remembered otherwise once a person took a step back.
UNDONE: list[Callable[[Job, str], None]] = []


#: What is still to be looked at before words may stand for it, by the apps that know: a sentence, or nothing.
UNREAD: list[Callable[[Job, str], str]] = []


#: Step → whether its work is there at all, registered by the app that does it: an overrule excuses what was
#: found, not what was never made.
WORK: dict[str, Callable[[Job], bool]] = {}


def finish_overruled(entry: LedgerEntry, by: User) -> None:
    """A step whose last hold was overruled is done: with its reading, where it had one.

    A step that is done by its screen carries its own key as its rule.
    """
    key = step_of(entry.rule)
    if not any(step.key == key for step in run_sheet(entry.job).steps):
        return
    if key in WORK and not WORK[key](entry.job):
        return
    rest = LedgerEntry.objects.filter(job=entry.job, stage=entry.stage, standing=True, overruled_by=None)
    if any(step_of(other.rule) == key and other.verdict in ("hold", "stop") for other in rest):
        return
    reading = entry.given.get("reading")
    if not entry.given and entry.rule.startswith("step.") and entry.evidence:
        # Entered before entries were kept with their calls: the figure that was judged stands for it.
        shown = entry.evidence[0]["value"]
        reading = shown if isinstance(shown, int | float) else None
    finish(entry.job, key, by, reading, entry.given.get("answer", ""))


def _no_word_lifts(job: Job, step: Step) -> None:
    """A stop that protects people or the computer is lifted by a good reading alone.

    Raises
    ------
    BadInput
    """
    rule = rule_of(step.key)
    stops = job.ledger.filter(standing=True, verdict="stop", stage=step.stage, rule__startswith=rule)
    first = next((e for e in stops.exclude(protects="") if e.rule.split("#")[0] == rule), None)
    if first is not None:
        raise BadInput(
            f"“{first.title}” is a stop that protects {first.protects}: only a good reading lifts it."
            f" {first.text}",
            "step",
        )


@changes_job
def undo_step(job: Job, key: str, by: User) -> None:
    step = step_by(job, key)
    if step.evidence == "auto":
        raise BadInput("This step follows from the work on its screen; do that again instead.", "step")
    _no_word_lifts(job, step)
    if (stands := newer(job, step, rule_of(key))) is not None:
        raise BadInput(
            f"It was done again at {told(stands)}, after this was entered: nothing is taken back.", "step"
        )
    read_anew(job, key)
    for undone in UNDONE:
        undone(job, key)
    ledger.withdraw_step(job, step.stage, key)
    ledger.write(job, step.stage, "undo", f"Taken back: {step.title}", by)


#: The owner is told last: nothing that protects people or the computer may be open then.
HAND_OVER = "hand-over.told"
LONGEST_WORDS = 2000


def nothing_open(job: Job) -> None:
    """Refuse to hand over while a safety step is neither done nor set aside with its reason.

    Raises
    ------
    BadInput
        Naming them, the first six in full.
    """
    done = set(job.steps_done.values_list("key", flat=True))
    open_ = [step for step in run_sheet(job).steps if step.safety and step.key not in done]
    if open_:
        named = "; ".join(step.title for step in open_[:6])
        rest = f"; and {len(open_) - 6} more" if len(open_) > 6 else ""
        raise BadInput(f"Still open: {named}{rest}. Do each, or record why it does not apply here.", "step")


@changes_job
def set_aside(job: Job, key: str, because: str, by: User) -> None:
    """Record that a step does not apply to this job, and why; the report says so."""
    step = step_by(job, key)
    reason = because.strip()
    if len(reason) < 4:
        raise BadInput("Say why it does not apply, in a few words: the report tells the owner.", "because")
    if key == HAND_OVER:
        raise BadInput("The owner is told, always.", "step")
    if not step.aside and step.evidence != "auto":
        raise BadInput("This step is done by its own work: no reason stands in its place.", "step")
    _no_word_lifts(job, step)
    if key in FUEL_GATE and any(key in other.needs for other in run_sheet(job).steps):
        raise BadInput(
            "Fuel is opened on this job: that is read, not set aside. Take the fuel part out of the kit if"
            " none is opened.",
            "step",
        )
    row, _ = StepDone.objects.get_or_create(job=job, key=key, defaults={"by": by, "title": step.title})
    row.set_aside, row.by, row.reading, row.answer, row.words = reason[:LONGEST_WORDS], by, None, "", ""
    row.rests = {}
    row.save()
    ledger.withdraw_step(job, step.stage, key)
    ledger.write(job, step.stage, "note", f"Does not apply: {step.title}", by, reason[:LONGEST_WORDS])
