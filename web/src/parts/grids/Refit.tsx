import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { VerdictGlyph } from "../figures/Glyphs";
import { Num } from "../figures/Num";
import type { GridProps } from "./gridProps";
import { held, type Item } from "./items";

interface Row {
  name: string;
  back: boolean;
  renewed: boolean;
  applied: string;
  wrench: string;
  snug: boolean;
}

/** The way out, backwards: each back with its torque, what had to be new is, and nothing is left over. */
export function Refit({ grid, viewer, busy, enter }: GridProps) {
  const about = grid.about as unknown as {
    items: Item[];
    counted: boolean;
    wrenches: { name: string; high_nm: number }[];
  };
  const known = (grid.data.rows as Row[] | undefined) ?? [];
  const blank = { back: false, renewed: false, applied: "", wrench: "", snug: false };
  const [rows, setRows] = useState<Row[]>(
    about.items.map((item) => ({
      name: item.name,
      ...blank,
      ...known.find((row) => row.name === item.name),
    })),
  );
  const [left, setLeft] = useState(String(grid.data.left ?? ""));
  const set = (name: string, change: Partial<Row>) =>
    setRows((now) => now.map((row) => (row.name === name ? { ...row, ...change } : row)));
  const best = (grid.view as { wrench?: Record<string, string> }).wrench ?? {};
  const torqued = about.items.some((item) => item.nm !== null);
  const renewed = about.items.some((item) => item.renew || item.care === "one-use");
  return (
    <>
      <table className="plain grid">
        <thead>
          <tr>
            <th>goes back</th>
            {torqued && <th className="r">figure</th>}
            {torqued && <th className="apart">set</th>}
            {torqued && <th>with</th>}
            {renewed && <th>new</th>}
            <th className="r" />
          </tr>
        </thead>
        <tbody>
          {about.items.map((item) => {
            const row = rows.find((one) => one.name === item.name)!;
            const calls = grid.calls.filter((call) => call.row === item.name);
            return (
              <tr key={item.name}>
                <td>
                  <b>{item.name}</b>
                  <div className="soft">{held(item)}</div>
                  {calls.map((call) => (
                    <div key={call.rule} className={`call ${call.verdict}`} style={{ border: 0, padding: 0 }}>
                      <span className="word">
                        <VerdictGlyph verdict={call.verdict} />
                        {call.verdict.toUpperCase()}
                      </span>{" "}
                      {call.verdict !== "go" && call.do_next}
                    </div>
                  ))}
                </td>
                {torqued && <td className="r">{item.nm !== null && <Num value={item.nm} unit="N·m" />}</td>}
                {torqued && (
                  <td>
                    {item.nm !== null && (
                      <Input
                        disabled={viewer}
                        className="num"
                        style={{ width: 96 }}
                        value={row.applied}
                        aria-label={`${item.name} torque set`}
                        onChange={(event) => set(item.name, { applied: event.target.value })}
                      />
                    )}
                  </td>
                )}
                {torqued && (
                  <td>
                    {item.nm !== null && (
                      <Select
                        disabled={viewer}
                        style={{ minWidth: 150 }}
                        value={row.wrench || undefined}
                        placeholder={best[item.name] ?? "wrench"}
                        aria-label={`${item.name} wrench`}
                        onChange={(wrench) => set(item.name, { wrench })}
                        options={about.wrenches.map((w) => ({ value: String(w.high_nm), label: w.name }))}
                      />
                    )}
                  </td>
                )}
                {renewed && (
                  <td>
                    {(item.renew || item.care === "one-use") && (
                      <Checkbox
                        disabled={viewer}
                        checked={row.renewed}
                        aria-label={`${item.name}, new`}
                        onChange={(event) => set(item.name, { renewed: event.target.checked })}
                      />
                    )}
                  </td>
                )}
                <td className="r">
                  <Button
                    size="large"
                    disabled={viewer}
                    type={row.back ? "primary" : "default"}
                    aria-pressed={row.back}
                    aria-label={`${item.name} is back`}
                    onClick={() => set(item.name, { back: !row.back })}
                  >
                    Back
                  </Button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <div className="row" style={{ marginTop: 10 }}>
        {about.counted && (
          <label className="row">
            <span>Left over on the bench, pieces</span>
            <Input
              disabled={viewer}
              className="num"
              style={{ width: 80 }}
              value={left}
              aria-label="Left over, pieces"
              onChange={(event) => setLeft(event.target.value)}
            />
          </label>
        )}
        {!viewer && (
          <Button
            type="primary"
            size="large"
            loading={busy}
            onClick={() => enter({ rows, ...(about.counted ? { left } : {}) })}
          >
            Judge what is back
          </Button>
        )}
      </div>
    </>
  );
}
