import { Button } from "antd";
import type { Schemas } from "../../api/client";
import { CallCard } from "../ledger/CallCard";

/** Findings of a log with their numbers, likely causes, and the check that tells causes apart. */
export function Findings({
  log,
  onShow,
}: {
  log: Schemas["LogOut"];
  onShow: (span: [number, number]) => void;
}) {
  if (!log.findings.length) {
    return (
      <CallCard
        verdict="go"
        title="Nothing found"
        because={[
          { label: "checks passed", value: log.checked.length, limit: null, unit: "" },
          { label: "not checkable", value: log.not_checkable.length, limit: null, unit: "" },
        ]}
        next={
          log.not_checkable.length
            ? `Not checkable: ${log.not_checkable.map((n) => n.kind.replaceAll("_", " ") + (n.perhaps.length ? ` (say what “${n.perhaps[0]}” is)` : "")).join(", ")}.`
            : ""
        }
      />
    );
  }
  return (
    <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fit, minmax(280px, 1fr))" }}>
      {log.findings.map((finding) => (
        <CallCard
          key={finding.kind}
          verdict={finding.verdict}
          title={finding.title}
          because={finding.evidence}
          next={finding.next}
        >
          <div className="by">
            Likely: {finding.causes.join(", ")}. Tell apart: {finding.check}.
          </div>
          <Button
            size="small"
            style={{ marginTop: 6, minHeight: 36 }}
            onClick={() => onShow([finding.from_s, finding.to_s])}
          >
            Show {finding.from_s.toFixed(0)}–{finding.to_s.toFixed(0)} s
          </Button>
        </CallCard>
      ))}
    </div>
  );
}
