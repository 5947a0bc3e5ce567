import { Button } from "antd";
import { useState } from "react";
import type { GridProps } from "./gridProps";
import { PlugLine, type Plug } from "./PlugLine";

interface Begun {
  name: string;
  like: string;
  note: string;
  whose: string;
}

const blank: Plug = {
  name: "",
  place: "",
  lock: "",
  second: false,
  like: "",
  labelled: false,
  whose: "stock",
  state: "",
};

/** Every plug that was touched, one line each: what it is, what locks it, and how it stands now. */
export function Plugs({ grid, viewer, busy, enter }: GridProps) {
  const about = grid.about as unknown as { begin: Begun[]; locks: string };
  const states = (grid.view as { states?: Record<string, string> }).states ?? {
    tugged: "seated and tugged",
    covered: "stays off, covered",
  };
  const known = (grid.data.rows as Plug[] | undefined) ?? [];
  const [rows, setRows] = useState<Plug[]>(
    known.length > 0
      ? known.map((row) => ({ ...blank, ...row }))
      : [
          ...about.begin.map((one) => ({
            ...blank,
            name: one.name,
            like: one.like,
            place: one.note,
            whose: one.whose,
          })),
          blank,
        ],
  );
  const set = (at: number, change: Partial<Plug>) =>
    setRows((now) => now.map((row, n) => (n === at ? { ...row, ...change } : row)));
  const named = rows.filter((row) => row.name.trim());
  return (
    <>
      {about.locks && <p className="soft">Locks by its sheet: {about.locks}.</p>}
      <div style={{ overflowX: "auto" }}>
        <table className="plain grid">
          <thead>
            <tr>
              <th>plug</th>
              <th>place, what it is for</th>
              <th>lock</th>
              <th>looks like</th>
              <th>stands</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, at) => (
              <PlugLine
                key={at}
                row={row}
                at={at}
                states={states}
                call={grid.calls.find((one) => one.row && one.row === row.name)}
                viewer={viewer}
                set={(change) => set(at, change)}
              />
            ))}
          </tbody>
        </table>
      </div>
      {!viewer && (
        <div className="row" style={{ marginTop: 10 }}>
          <Button size="large" onClick={() => setRows([...rows, blank])}>
            Another plug
          </Button>
          <Button
            size="large"
            disabled={named.length === 0}
            onClick={() =>
              setRows(rows.map((row) => (row.name.trim() && !row.state ? { ...row, state: "tugged" } : row)))
            }
          >
            All others tugged
          </Button>
          <Button
            type="primary"
            size="large"
            disabled={named.length === 0}
            loading={busy}
            onClick={() => enter({ rows: named })}
          >
            Judge the plugs
          </Button>
        </div>
      )}
    </>
  );
}
