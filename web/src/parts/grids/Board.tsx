import { Button, Radio } from "antd";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";
import { VerdictGlyph } from "../figures/Glyphs";
import type { Grid, GridProps } from "./gridProps";

interface Row {
  key: string;
  title: string;
  why?: string;
  answers: Record<string, string>;
}

/** Rows that are asked one by one and judged as they are answered: the board before a write, where a box goes. */
export function Board({ grid, number, step, viewer, tap, brought }: GridProps) {
  const { rows, reads = [] } = grid.about as unknown as { rows: Row[]; reads?: string[] };
  const read = (grid.data.read as Record<string, { answer: string }> | undefined) ?? {};
  const link = useAct<void, Grid>(
    () =>
      take(api.POST("/api/jobs/{number}/steps/{key}/identity", { params: { path: { number, key: step } } })),
    brought,
  );
  const answers = (grid.data.answers as Record<string, string> | undefined) ?? {};
  const say = (key: string, answer: string) =>
    tap((data) => ({ ...data, answers: { ...(data.answers as object | undefined), [key]: answer } }));
  return (
    <table className="plain grid">
      <tbody>
        {rows.map((row) => {
          const call = grid.calls.find((one) => one.row === row.key);
          return (
            <tr key={row.key}>
              <td className="board-row">
                <div className="board-said">
                  <b>{row.title}</b>
                  {row.why && <div className="soft">{row.why}</div>}
                  {/* As tall as its verdict will be: what is below must not move under a finger. */}
                  {!call && (
                    <div className="call" style={{ border: 0, padding: 0 }}>
                      <span className="word soft">not answered yet</span>
                    </div>
                  )}
                  {call && (
                    <div className={`call ${call.verdict}`} style={{ border: 0, padding: 0 }}>
                      <span className="word">
                        <VerdictGlyph verdict={call.verdict} /> {call.verdict.toUpperCase()}
                      </span>{" "}
                      {(call.verdict !== "go" || row.key in read) && call.do_next}
                    </div>
                  )}
                </div>
                {reads.includes(row.key) && !viewer && (
                  <Button
                    style={{ marginRight: 8 }}
                    loading={link.isPending}
                    onClick={() => link.mutate(undefined)}
                  >
                    Read it over the link
                  </Button>
                )}
                <Radio.Group
                  className="board-answers"
                  aria-label={row.title}
                  disabled={viewer || row.key in read}
                  value={read[row.key]?.answer ?? answers[row.key] ?? null}
                  onChange={(event) => say(row.key, event.target.value as string)}
                  optionType="button"
                  options={Object.entries(row.answers).map(([value, label]) => ({ value, label }))}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
