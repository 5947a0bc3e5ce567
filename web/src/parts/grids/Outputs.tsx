import { Button, Checkbox, Select } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { VerdictGlyph } from "../Glyphs";
import { Num } from "../Num";
import type { GridProps } from "./gridProps";

interface Output {
  key: string;
  label: string;
  kind: string;
  expect: string;
  interlocks: string[];
  absent: boolean;
}
interface Row {
  key: string;
  seen: string;
  amps: number | null;
}

/** Output tests: what has to be so first, each output driven for its time, and what was seen at the vehicle. */
export function Outputs({ grid, number, viewer, linked, busy, enter, brought }: GridProps) {
  const about = grid.about as unknown as {
    outputs: Output[];
    interlocks: { key: string; says: string; why: string }[];
    answers: Record<string, string>;
  };
  const rows = (grid.data.rows as Row[] | undefined) ?? [];
  const confirmed = (grid.data.interlocks as string[] | undefined) ?? [];
  const locked = (grid.view.locked as Record<string, string> | undefined) ?? {};
  const [seen, setSeen] = useState<{ key: string; words: string } | null>(null);
  const run = useAct<string, Schemas["TriedOut"]>(
    (key) => take(api.POST("/api/jobs/{number}/outputs/{key}/run", { params: { path: { number, key } } })),
    (got) => brought(got.grid),
  );
  const say = (key: string, answer: string) => {
    const known = rows.find((row) => row.key === key);
    const next = { key, seen: answer, amps: known?.amps ?? null };
    enter({ interlocks: confirmed, rows: [...rows.filter((row) => row.key !== key), next] });
  };
  const confirm = (key: string, on: boolean) =>
    enter({ interlocks: on ? [...confirmed, key] : confirmed.filter((one) => one !== key), rows });
  const isLocked = (output: Output) =>
    output.key in locked || output.interlocks.some((key) => !confirmed.includes(key));
  return (
    <>
      <div className="caution">
        <span className="head">Confirm before each group</span>
        {about.interlocks.map((lock) => (
          <Checkbox
            key={lock.key}
            checked={confirmed.includes(lock.key)}
            disabled={viewer || busy}
            onChange={(e) => confirm(lock.key, e.target.checked)}
            style={{ display: "flex", padding: "5px 0" }}
          >
            {lock.says}
            <span className="soft"> {lock.why}</span>
          </Checkbox>
        ))}
      </div>
      <table className="plain grid">
        <tbody>
          {about.outputs.map((output) => {
            const row = rows.find((one) => one.key === output.key);
            const call = grid.calls.find((one) => one.because[0]?.label === output.label);
            return (
              <tr key={output.key}>
                <td>
                  <b>{output.label}</b>
                  <div className="soft">{output.expect}</div>
                  {seen?.key === output.key && <div role="status">{seen.words}</div>}
                </td>
                <td style={{ whiteSpace: "nowrap" }}>
                  {linked && !viewer && (
                    <Button
                      disabled={isLocked(output) || run.isPending}
                      loading={run.isPending && run.variables === output.key}
                      aria-label={`Run ${output.label}`}
                      onClick={() =>
                        run.mutate(output.key, {
                          onSuccess: (got) => setSeen({ key: output.key, words: got.seen }),
                        })
                      }
                    >
                      Run
                    </Button>
                  )}
                  {row?.amps != null && (
                    <div>
                      <Num value={row.amps} unit="A" />
                    </div>
                  )}
                </td>
                <td className={`call ${call?.verdict ?? ""}`} style={{ border: 0, padding: "6px 0" }}>
                  <Select
                    disabled={viewer || busy || isLocked(output)}
                    style={{ width: 190 }}
                    placeholder={isLocked(output) ? "confirm first" : "what was seen"}
                    aria-label={`${output.label} seen`}
                    value={row?.seen || undefined}
                    onChange={(answer) => say(output.key, answer)}
                    options={Object.entries(about.answers)
                      .filter(([key]) => key !== "absent" || output.absent)
                      .map(([value, label]) => ({ value, label }))}
                  />
                  {call && (
                    <div className="word">
                      <VerdictGlyph verdict={call.verdict} /> {call.verdict.toUpperCase()}
                      {call.verdict !== "go" && <span style={{ fontWeight: 400 }}> {call.do_next}</span>}
                    </div>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
