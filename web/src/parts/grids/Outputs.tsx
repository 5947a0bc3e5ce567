import { Button, Checkbox, Select } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { VerdictGlyph } from "../figures/Glyphs";
import { Num } from "../figures/Num";
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
  confirmed: string[];
}
interface Interlock {
  key: string;
  says: string;
  why: string;
  ends: string;
}
interface About {
  outputs: Output[];
  interlocks: Interlock[];
  answers: Record<string, string>;
}

const rowsOf = (data: Record<string, unknown>) => (data.rows as Row[] | undefined) ?? [];
const locksOf = (data: Record<string, unknown>) => (data.interlocks as string[] | undefined) ?? [];

/** Output tests, a group at a time: what has to be so first, each output driven for its time, what was seen. */
export function Outputs({ grid, number, viewer, linked, busy, tap, brought }: GridProps) {
  const about = grid.about as unknown as About;
  const rows = rowsOf(grid.data);
  const confirmed = locksOf(grid.data);
  const [heard, setHeard] = useState<Record<string, string>>({});
  const run = useAct<string, Schemas["TriedOut"]>(
    (key) => take(api.POST("/api/jobs/{number}/outputs/{key}/run", { params: { path: { number, key } } })),
    (got) => brought(got.grid),
  );
  const say = (key: string, answer: string) =>
    tap((data) => {
      const amps = rowsOf(data).find((row) => row.key === key)?.amps ?? null;
      const others = rowsOf(data).filter((row) => row.key !== key);
      const interlocks = locksOf(data);
      return { interlocks, rows: [...others, { key, seen: answer, amps, confirmed: interlocks }] };
    });
  const confirm = (lock: Interlock, on: boolean) =>
    tap((data) => {
      const others = locksOf(data).filter((one) => one !== lock.key && !(on && one === lock.ends));
      return { interlocks: on ? [...others, lock.key] : others, rows: rowsOf(data) };
    });
  const kinds = [...new Set(about.outputs.map((output) => output.kind))];
  return (
    <>
      {kinds.map((kind) => {
        const group = about.outputs.filter((output) => output.kind === kind);
        const locks = about.interlocks.filter((lock) => group[0]!.interlocks.includes(lock.key));
        const locked = locks.some((lock) => !confirmed.includes(lock.key));
        return (
          <section key={kind} style={{ marginBottom: 14 }}>
            <div className="caution" style={{ display: "block" }}>
              <span className="head">Before {group.map((output) => output.label).join(", ")}</span>
              {locks.map((lock) => (
                <Checkbox
                  key={lock.key}
                  checked={confirmed.includes(lock.key)}
                  disabled={viewer}
                  onChange={(e) => confirm(lock, e.target.checked)}
                  style={{ display: "flex", minHeight: 40, alignItems: "center" }}
                >
                  {lock.says}. <span className="soft">{lock.why}</span>
                </Checkbox>
              ))}
            </div>
            {group.map((output) => (
              <Tried
                key={output.key}
                output={output}
                row={rows.find((row) => row.key === output.key)}
                call={grid.calls.find((one) => one.row === output.key)}
                answers={about.answers}
                heard={heard[output.key]}
                locked={locked}
                viewer={viewer}
                busy={busy || run.isPending}
                running={run.isPending && run.variables === output.key}
                say={say}
                run={
                  linked
                    ? (key) =>
                        run.mutate(key, {
                          onSuccess: (got) => setHeard((before) => ({ ...before, [key]: got.seen })),
                        })
                    : undefined
                }
              />
            ))}
          </section>
        );
      })}
    </>
  );
}

interface TriedProps {
  output: Output;
  row?: Row;
  call?: Schemas["CallOut"];
  answers: Record<string, string>;
  heard?: string;
  locked: boolean;
  viewer: boolean;
  busy: boolean;
  running: boolean;
  say: (key: string, answer: string) => void;
  run?: (key: string) => void;
}

/** One output: driven, and answered. */
function Tried({ output, row, call, answers, heard, locked, viewer, busy, running, say, run }: TriedProps) {
  const others = Object.entries(answers)
    .filter(([key]) => key !== "works" && (key !== "absent" || output.absent))
    .map(([value, label]) => ({ value, label }));
  return (
    <div style={{ borderBottom: "1px solid var(--rule)", padding: "8px 0" }}>
      <div className="row" style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
        <div>
          <b>{output.label}</b>{" "}
          {row?.amps != null && (
            <span className="soft">
              <Num value={row.amps} unit="A" />
            </span>
          )}
          <div className="soft">{output.expect}</div>
        </div>
        {!viewer && (
          <div className="row" style={{ flexWrap: "nowrap" }}>
            {run && (
              <Button
                size="large"
                disabled={locked || busy}
                loading={running}
                aria-label={`Run ${output.label}`}
                onClick={() => run(output.key)}
              >
                Run
              </Button>
            )}
            <Button
              size="large"
              className={row?.seen === "works" ? "answer go" : ""}
              disabled={locked || busy}
              aria-label={`${output.label}: it does that`}
              onClick={() => say(output.key, "works")}
            >
              It does that
            </Button>
            <Select
              size="large"
              style={{ width: 176 }}
              disabled={locked || busy}
              placeholder="otherwise"
              aria-label={`${output.label}: otherwise`}
              value={row?.seen && row.seen !== "works" ? row.seen : undefined}
              onChange={(answer) => say(output.key, answer)}
              options={others}
            />
          </div>
        )}
      </div>
      {heard && <div role="status">{heard}</div>}
      {call && (
        <div className={`call ${call.verdict}`} style={{ border: 0, padding: "2px 0" }}>
          <span className="word">
            <VerdictGlyph verdict={call.verdict} /> {call.verdict.toUpperCase()}
          </span>{" "}
          {call.verdict !== "go" && call.do_next}
        </div>
      )}
    </div>
  );
}
