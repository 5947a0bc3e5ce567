import { Button, Input } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";

/** So many that do not fit are shown at once. */
const FEW = 4;

/** Maps of the shelf, judged, the best first; what rules one out is said. */
export function Candidates({
  found,
  busy,
  onChoose,
  onSet,
}: {
  found: Schemas["Candidate"][];
  busy: boolean;
  onChoose?: (key: string, ron: string | null) => void;
  onSet?: (key: string) => void;
}) {
  if (!found.length)
    return (
      <p className="sheet">
        No map of this form is on the shelf. Bring one from a file, paste its tables from the program that its
        maker gives, or keep one for the next vehicle when a job proves it.
      </p>
    );
  const row = (candidate: Schemas["Candidate"]) => (
    <CandidateRow key={candidate.key} candidate={candidate} busy={busy} onChoose={onChoose} onSet={onSet} />
  );
  const out = found.filter(
    (candidate) => !candidate.possible && !candidate.asks_octane && !candidate.other_set,
  );
  return (
    <>
      {found.filter((candidate) => !out.includes(candidate)).map(row)}
      {out.length > 0 && (
        <details open={out.length <= FEW || out.length === found.length} style={{ marginBottom: 10 }}>
          <summary className="head">
            {out.length} that {out.length === 1 ? "does" : "do"} not fit, and why
          </summary>
          {out.map(row)}
        </details>
      )}
    </>
  );
}

function CandidateRow({
  candidate,
  busy,
  onChoose,
  onSet,
}: {
  candidate: Schemas["Candidate"];
  busy: boolean;
  onChoose?: (key: string, ron: string | null) => void;
  onSet?: (key: string) => void;
}) {
  const [ron, setRon] = useState("");
  return (
    <div
      className="sheet row"
      style={{ flexWrap: "nowrap", opacity: candidate.possible ? 1 : 0.8, justifyContent: "space-between" }}
    >
      <div>
        <b>{candidate.name}</b>
        {candidate.conflicts.map((text) => (
          <div key={text} style={{ color: "var(--oxide)" }}>
            does not fit: {text}
          </div>
        ))}
        {candidate.possible && <div className="soft">{candidate.reasons.join(" · ")}</div>}
        {candidate.possible &&
          candidate.differences.map((text) => (
            <div key={text} style={{ color: "var(--ochre)" }}>
              differs: {text}
            </div>
          ))}
      </div>
      {candidate.possible && (
        <div className="row" style={{ flexWrap: "nowrap" }}>
          <span className="num">{candidate.points} of 100</span>
          {onChoose && (
            <Button type="primary" loading={busy} onClick={() => onChoose(candidate.key, null)}>
              Start from this
            </Button>
          )}
        </div>
      )}
      {candidate.other_set && onSet && (
        <Button loading={busy} onClick={() => onSet(candidate.key)}>
          Take its whole set
        </Button>
      )}
      {candidate.asks_octane && onChoose && (
        <div className="row" style={{ flexWrap: "nowrap" }}>
          <Input
            value={ron}
            onChange={(event) => setRon(event.target.value)}
            suffix="RON"
            aria-label="Octane by its maker"
            placeholder="by its maker"
            style={{ width: 150 }}
            inputMode="decimal"
          />
          <Button loading={busy} disabled={!ron.trim()} onClick={() => onChoose(candidate.key, ron)}>
            State it, start from this
          </Button>
        </div>
      )}
    </div>
  );
}
