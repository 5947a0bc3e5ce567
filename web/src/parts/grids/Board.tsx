import { Radio } from "antd";
import { VerdictGlyph } from "../Glyphs";
import type { GridProps } from "./gridProps";

interface Row {
  key: string;
  title: string;
  answers: Record<string, string>;
}

/** The board before a device's own tool writes: each row asked, judged as it is answered. */
export function Board({ grid, viewer, tap }: GridProps) {
  const { rows } = grid.about as unknown as { rows: Row[] };
  const answers = (grid.data.answers as Record<string, string> | undefined) ?? {};
  const say = (key: string, answer: string) =>
    tap((data) => ({ answers: { ...(data.answers as object | undefined), [key]: answer } }));
  return (
    <table className="plain grid">
      <tbody>
        {rows.map((row) => {
          const call = grid.calls.find((one) => one.title === row.title);
          return (
            <tr key={row.key}>
              <td>
                <b>{row.title}</b>
                {call && (
                  <div className={`call ${call.verdict}`} style={{ border: 0, padding: 0 }}>
                    <span className="word">
                      <VerdictGlyph verdict={call.verdict} /> {call.verdict.toUpperCase()}
                    </span>{" "}
                    {call.verdict !== "go" && call.do_next}
                  </div>
                )}
              </td>
              <td className="r" style={{ whiteSpace: "nowrap" }}>
                <Radio.Group
                  aria-label={row.title}
                  disabled={viewer}
                  value={answers[row.key] ?? null}
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
