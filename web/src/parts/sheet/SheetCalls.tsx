import { memo } from "react";
import type { Schemas } from "../../api/client";
import { CallCard } from "../ledger/CallCard";

/** What the changes do in plain numbers, and the checks that hold or stop; how many are go. */
export const SheetCalls = memo(function SheetCalls({
  calls,
  effects,
}: {
  calls: Schemas["CallOut"][];
  effects: string[];
}) {
  const bad = calls.filter((call) => call.verdict !== "go");
  const good = calls.length - bad.length;
  return (
    <div aria-live="polite">
      {effects.length > 0 && (
        <div className="sheet" style={{ marginTop: 8 }}>
          <span className="head">What it does</span>
          {effects.map((line) => (
            <div key={line}>{line}</div>
          ))}
        </div>
      )}
      {bad.map((call) => (
        <div key={call.rule} style={{ marginTop: 8 }}>
          <CallCard
            verdict={call.verdict}
            title={call.title}
            because={call.because}
            next={call.do_next}
            source={call.source}
          />
        </div>
      ))}
      <p className="soft" style={{ margin: "8px 0" }}>
        {calls.length
          ? `${good} ${good === 1 ? "check is" : "checks are"} go${bad.length ? `, ${bad.length} not` : ": nothing holds"}.`
          : "No check of ours knows these tables: what they are held against is yours to say."}
      </p>
    </div>
  );
});
