import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { VerdictGlyph } from "../figures/Glyphs";
import { Num } from "../figures/Num";
import type { GridProps } from "./gridProps";

interface Line {
  name: string;
  nm: number;
  count?: number;
  critical?: boolean;
}
interface Row {
  name: string;
  applied: string;
  wrench: string;
  snug: boolean;
}

/** The maker's figures, the wrench that can set each, and what was set. */
export function Torque({ grid, viewer, busy, enter }: GridProps) {
  const about = grid.about as unknown as {
    fasteners: Line[];
    wrenches: { name: string; high_nm: number }[];
    snug_allowed: boolean;
  };
  const known = (grid.data.rows as Row[] | undefined) ?? [];
  const [rows, setRows] = useState<Row[]>(
    about.fasteners.map(
      (line) =>
        known.find((row) => row.name === line.name) ?? {
          name: line.name,
          applied: "",
          wrench: "",
          snug: false,
        },
    ),
  );
  const set = (name: string, change: Partial<Row>) =>
    setRows(rows.map((row) => (row.name === name ? { ...row, ...change } : row)));
  const best = (grid.view as { wrench?: Record<string, string> }).wrench ?? {};
  return (
    <>
      <table className="plain grid">
        <thead>
          <tr>
            <th>fixing</th>
            <th className="r">maker's figure</th>
            <th className="apart">set</th>
            <th>with</th>
            {about.snug_allowed && <th>snug</th>}
            <th />
          </tr>
        </thead>
        <tbody>
          {about.fasteners.map((line) => {
            const row = rows.find((r) => r.name === line.name)!;
            const call = grid.calls.find((c) => c.row === line.name);
            return (
              <tr key={line.name}>
                <td>
                  {line.name}{" "}
                  <span className="soft">
                    × {line.count ?? 1}
                    {line.critical === false ? "" : ", critical"}
                  </span>
                </td>
                <td className="r">
                  <Num value={line.nm} unit="N·m" />
                </td>
                <td>
                  <Input
                    disabled={viewer || row.snug}
                    className="num"
                    style={{ width: 96 }}
                    value={row.applied}
                    aria-label={`${line.name} torque set`}
                    onChange={(e) => set(line.name, { applied: e.target.value })}
                  />
                </td>
                <td>
                  <Select
                    disabled={viewer || row.snug}
                    style={{ minWidth: 190 }}
                    value={row.wrench || undefined}
                    placeholder={best[line.name] ?? "wrench"}
                    aria-label={`${line.name} wrench`}
                    onChange={(wrench) => set(line.name, { wrench })}
                    options={about.wrenches.map((w) => ({ value: String(w.high_nm), label: w.name }))}
                  />
                </td>
                {about.snug_allowed && (
                  <td>
                    <Checkbox
                      disabled={viewer || line.critical !== false}
                      checked={row.snug}
                      aria-label={`${line.name} snug`}
                      onChange={(e) => set(line.name, { snug: e.target.checked })}
                    />
                  </td>
                )}
                <td
                  className={`call ${call?.verdict ?? ""}`}
                  style={{ border: 0, borderBottom: "1px solid var(--rule)" }}
                >
                  {call && (
                    <>
                      <span className="word">
                        <VerdictGlyph verdict={call.verdict} />
                        {call.verdict.toUpperCase()}
                      </span>
                      {call.verdict !== "go" && (
                        <div className="soft" style={{ fontSize: 13 }}>
                          {call.do_next}
                        </div>
                      )}
                    </>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {!viewer && (
        <Button type="primary" style={{ marginTop: 10 }} loading={busy} onClick={() => enter({ rows })}>
          Judge the list
        </Button>
      )}
    </>
  );
}
