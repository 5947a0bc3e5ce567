import { Button, Input } from "antd";
import { useState } from "react";
import { VerdictGlyph } from "../figures/Glyphs";
import { Num } from "../figures/Num";
import type { GridProps } from "./gridProps";

interface Row {
  name: string;
  static: string;
  cranking: string;
}

/** Voltage drop of every ground, at rest or while cranking. */
export function Grounds({ grid, viewer, busy, enter }: GridProps) {
  const about = grid.about as unknown as {
    grounds: string[];
    cranking: boolean;
    static_v: number;
    cranking_v: number;
  };
  const field = about.cranking ? "cranking" : "static";
  const known = (grid.data.rows as Row[] | undefined) ?? [];
  const [rows, setRows] = useState<Row[]>(
    about.grounds.map((name) => known.find((row) => row.name === name) ?? { name, static: "", cranking: "" }),
  );
  const set = (name: string, text: string) =>
    setRows(rows.map((row) => (row.name === name ? { ...row, [field]: text } : row)));
  const verdict = (label: string) => grid.calls.find((call) => call.because[0]?.label === label)?.verdict;
  return (
    <>
      <table className="plain grid">
        <thead>
          <tr>
            <th>ground</th>
            <th>
              {about.cranking ? "drop while cranking" : "drop at rest"}, up to{" "}
              <Num value={about.cranking ? about.cranking_v : about.static_v} unit="V" />
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.name}>
              <td>{row.name}</td>
              {[field].map(() => {
                const call = verdict(field === "static" ? row.name : `${row.name}, cranking`);
                return (
                  <td
                    key={field}
                    className={`call ${call ?? ""}`}
                    style={{ border: 0, borderBottom: "1px solid var(--rule)", paddingLeft: 0 }}
                  >
                    <span className="row" style={{ flexWrap: "nowrap" }}>
                      <Input
                        disabled={viewer}
                        className="num"
                        style={{ width: 120 }}
                        placeholder="20 mV"
                        value={row[field]}
                        aria-label={`${row.name} ${field}`}
                        onChange={(e) => set(row.name, e.target.value)}
                        onPressEnter={() => enter({ rows })}
                      />
                      {call && (
                        <span className="word">
                          <VerdictGlyph verdict={call} />
                          {call.toUpperCase()}
                        </span>
                      )}
                    </span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {!viewer && (
        <Button type="primary" style={{ marginTop: 10 }} loading={busy} onClick={() => enter({ rows })}>
          Judge the grounds
        </Button>
      )}
    </>
  );
}
