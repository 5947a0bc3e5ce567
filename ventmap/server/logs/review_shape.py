"""A review as plain values: as it is kept, and as the command line and the API tell it."""

from __future__ import annotations

from typing import Any

from ventmap.core.findings import Review

from ..schemas import evidence_out


def review_out(found: Review) -> dict[str, Any]:
    """A review as plain values; the same shape for the command line and the API."""
    return {
        "windows": [
            {"kind": w.kind, "from_s": round(w.from_s, 3), "to_s": round(w.to_s, 3)} for w in found.windows
        ],
        "findings": [
            {
                "kind": f.kind,
                "verdict": f.verdict.value,
                "title": f.title,
                "from_s": round(f.from_s, 3),
                "to_s": round(f.to_s, 3),
                "evidence": evidence_out(f.evidence),
                "causes": list(f.causes),
                "check": f.check,
                "next": f.next,
            }
            for f in found.findings
        ],
        "checked": list(found.checked),
        "judged_by": found.judged_by,
        "not_checkable": [
            {"kind": n.kind, "missing": list(n.missing), "perhaps": list(n.perhaps)}
            for n in found.not_checkable
        ],
    }
