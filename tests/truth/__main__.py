"""`bin/truth`: every rule held against its cases, every detector against its faults; writes docs/truth.md."""

from __future__ import annotations

import sys
from collections.abc import Callable
from dataclasses import fields
from typing import Any

from tests.conftest import ROOT
from ventmap.core.findings import DETECTORS
from ventmap.core.loading import LoadBoard

from . import driven, engine, maps, proof, remote, start, textbooks, wiring
from .detectors import DIALECTS, FAULTS, RATES, SIZES, dialect_share, false_share, found_share
from .model import Case, outcome, passes_unseen, rules_of_the_core, short
from .reading import KINDS, corpus, shares

CASES: list[Case] = [*engine.CASES, *wiring.CASES, *proof.CASES, *maps.CASES, *remote.CASES, *start.CASES]
PAGE = ROOT / "docs" / "truth.md"
#: Least share of faults found at design size and at twice; most sound drives in which anything is told.
FOUND, FALSE = 0.95, 0.0
#: Judged by the detectors, not by a case of their own.
BY_DETECTORS = {"log.*"}


def known(rule: str, rules: set[str]) -> bool:
    """Whether one of these is that rule, or one of that family where the source names a family."""
    family = rule.removesuffix("*")
    return rule in rules or (family != rule and any(name.startswith(family) for name in rules))


def without_cases() -> list[str]:
    """Rules of the core, rows of the board and detectors that nobody proved."""
    rules = {case.rule for case in CASES}
    rows = {f"load.{item.name}" for item in fields(LoadBoard) if not item.name.endswith(("_detail", "_v"))}
    open_rules = {rule for rule in rules_of_the_core() - BY_DETECTORS if not known(rule, rules)}
    unseen = {detector.kind for detector in DETECTORS} - {fault.kind for fault in FAULTS}
    return sorted(open_rules | (rows - rules) | unseen)


def rule_lines() -> tuple[list[str], list[str]]:
    """Lines of the page, and what falls short."""
    lines, bad = [], [f"{rule}: no cases" for rule in without_cases()]
    for case in sorted(CASES, key=lambda case: case.rule):
        wrong = short(case)
        bad += [f"{case.rule}: {text}" for text in wrong]
        missing = sum(passes_unseen(case, value) for value in case.missing)
        lines.append(
            f"| `{case.rule}` | {outcome(case, case.must)} | {outcome(case, case.must_not)} |"
            f" {outcome(case, case.over)} / {outcome(case, case.within)} |"
            f" {f'{missing} of {len(case.missing)} pass' if case.missing else 'always given'} |"
            f" {'; '.join(wrong) or 'holds'} |"
        )
    return lines, bad


def percent(share: float) -> str:
    return f"{100 * share:.0f} %"


def detector_lines(seeds: list[int], say: Callable[[str], Any]) -> tuple[list[str], list[str]]:
    lines, bad = [], []
    for fault in FAULTS:
        say(f"  {fault.kind}")
        shares = [found_share(fault, scale, seeds, RATES) for scale in SIZES]
        found = [share for share, _ in shares]
        beside = max(share for _, share in shares)
        if min(found[1:]) < FOUND:
            bad.append(f"{fault.kind}: found in {percent(min(found[1:]))} of drives")
        why = "half lies within its limit" if found[0] < 0.5 else "near its limit" if found[0] < 1 else ""
        lines.append(
            f"| {fault.kind.replace('_', ' ')} | {percent(found[0])} | {percent(found[1])} |"
            f" {percent(found[2])} | {percent(beside)} | {why} |"
        )
    return lines, bad


def dialect_lines(seeds: list[int], say: Callable[[str], Any]) -> tuple[list[str], list[str]]:
    lines, bad = [], []
    for dialect in DIALECTS:
        say(f"  sound drives, {dialect}")
        false, found = false_share(dialect, seeds, RATES), dialect_share(dialect, seeds[:2])
        if false > FALSE or found < FOUND:
            bad.append(f"{dialect}: {percent(false)} false, {percent(found)} found")
        lines.append(f"| {dialect} | {percent(found)} | {percent(false)} |")
    return lines, bad


def reading_lines() -> tuple[list[str], list[str]]:
    """What columns are taken for, by where their names come from."""
    lines, bad = [], []
    for source, names in corpus().items():
        found = shares(names)
        cells = " | ".join(percent(found[kind] / len(names)) for kind in KINDS)
        lines.append(f"| {source} | {len(names)} | {cells} |")
        if found["guessed wrong"]:
            bad.append(f"{source}: {found['guessed wrong']} columns taken for what they are not")
        right = found["understood"] + found["guessed right"]
        if source.startswith("in no list") and right < FOUND * len(names):
            bad.append(f"{source}: {percent(right / len(names))} of names understood")
    return lines, bad


def main() -> int:
    def say(text: str) -> None:
        print(text, flush=True)

    say("rules")
    rules, bad = rule_lines()
    say("detectors")
    seeds = [3, 8, 11, 29, 41]
    found, missed = detector_lines(seeds, say)
    heard, misheard = dialect_lines(seeds[:3], say)
    named, misnamed = reading_lines()
    say("pretend vehicles")
    smallest, quiet, held = driven.lines(seeds[:2], say)
    books, beside = textbooks.lines()
    bad += missed + misheard + misnamed + held + beside
    page = [
        "# What is proved",
        "",
        "Written by `bin/truth`; not by hand. Each rule that can hold or stop has a case that must, one that",
        "must not, one on either side of its limit, and one with its reading missing, blank or not a number.",
        "*refused* is a sentence that names the field; *silent* is no call of this rule.",
        "",
        "| Rule | Must | Must not | Just over / within | Missing | |",
        "|---|---|---|---|---|---|",
        *rules,
        "",
        "## Detectors",
        "",
        (
            f"{len(seeds)} drives at {', '.join(f'{hz:g}' for hz in RATES)} Hz each; faults at half, at"
            " design size"
        ),
        "and at twice. *Beside it* is the share in which another finding was told as well.",
        "",
        "| Fault | Half | Design | Twice | Beside it | Still missed, and why |",
        "|---|---|---|---|---|---|",
        *found,
        "",
        "| Written as | Faults found at design size | Sound drives with a finding |",
        "|---|---|---|",
        *heard,
        "",
        "## Reading",
        "",
        "A column alone, named by its words, unit and values. What is asked stands on the import page;",
        "under its own name is right for what is no channel here. *Guessed wrong* is wanted nought.",
        "",
        f"| Names | | {' | '.join(KINDS)} |",
        f"|---|---|{'---|' * len(KINDS)}",
        *named,
        "",
        "## On the pretend vehicles",
        "",
        "Faults as switches of a whole vehicle: the smallest size tried that both drives show.",
        "",
        "| Fault | Vehicle | Finding | Design size | Smallest always found |",
        "|---|---|---|---|---|",
        *smallest,
        "",
        "Sound vehicles as loggers write them; the lean hole that the motorcycle has is no false hold.",
        "",
        "| The logger's way | Drives | Held for nothing, of 1 000 |",
        "|---|---|---|",
        *quiet,
        "",
        "## Against textbooks",
        "",
        "What the pretend vehicles show, found by other sums than those that they are made of.",
        "",
        "| What | Textbooks | Source | Ours |",
        "|---|---|---|---|",
        *books,
        "",
        "## Short",
        "",
        *([f"- {text}" for text in bad] or ["Nothing."]),
    ]
    PAGE.write_text("\n".join(page) + "\n")
    for text in bad:
        print(f"SHORT {text}", file=sys.stderr)
    say(f"{len(CASES)} rules, {len(FAULTS)} detectors; docs/truth.md written; {len(bad)} short")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
