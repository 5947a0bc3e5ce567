import { Checkbox, Input, Select } from "antd";
import { VerdictGlyph } from "../figures/Glyphs";
import type { Grid } from "./gridProps";

export interface Plug {
  name: string;
  place: string;
  lock: string;
  second: boolean;
  like: string;
  labelled: boolean;
  whose: string;
  state: string;
}

const LOCKS = ["slide", "lever", "squeeze", "twist", "screw", "none"];

/** One plug: its name and place, its lock, which other it looks like, and how it stands. */
export function PlugLine({
  row,
  at,
  states,
  call,
  viewer,
  set,
}: {
  row: Plug;
  at: number;
  states: Record<string, string>;
  call?: Grid["calls"][number];
  viewer: boolean;
  set: (change: Partial<Plug>) => void;
}) {
  const line = row.name || `line ${at + 1}`;
  return (
    <tr>
      <td>
        <Input
          size="large"
          disabled={viewer}
          style={{ minWidth: 130 }}
          value={row.name}
          aria-label={`Plug, line ${at + 1}`}
          onChange={(event) => set({ name: event.target.value })}
        />
        {call && (
          <div className={`call ${call.verdict}`} style={{ border: 0, padding: 0 }}>
            <span className="word">
              <VerdictGlyph verdict={call.verdict} />
              {call.verdict.toUpperCase()}
            </span>{" "}
            {call.do_next}
          </div>
        )}
      </td>
      <td>
        <Input
          size="large"
          disabled={viewer}
          style={{ minWidth: 140 }}
          value={row.place}
          placeholder="bank 1, cylinder 2"
          aria-label={`${line}, place`}
          onChange={(event) => set({ place: event.target.value })}
        />
      </td>
      <td style={{ whiteSpace: "nowrap" }}>
        <Select
          size="large"
          disabled={viewer}
          style={{ width: 110 }}
          aria-label={`${line}, lock`}
          value={row.lock || undefined}
          onChange={(lock) => set({ lock })}
          options={LOCKS.map((lock) => ({ value: lock, label: lock }))}
        />
        <div>
          <Checkbox
            disabled={viewer}
            checked={row.second}
            aria-label={`${line}, second lock`}
            onChange={(event) => set({ second: event.target.checked })}
          >
            second lock
          </Checkbox>
        </div>
      </td>
      <td>
        <Input
          size="large"
          disabled={viewer}
          style={{ minWidth: 110 }}
          value={row.like}
          aria-label={`${line}, looks like`}
          onChange={(event) => set({ like: event.target.value })}
        />
        {row.like.trim() && (
          <Checkbox
            disabled={viewer}
            checked={row.labelled}
            aria-label={`${line}, labelled`}
            onChange={(event) => set({ labelled: event.target.checked })}
          >
            labelled
          </Checkbox>
        )}
      </td>
      <td>
        <Select
          size="large"
          disabled={viewer}
          style={{ width: 180 }}
          aria-label={`${line}, stands`}
          value={row.state || undefined}
          onChange={(state) => set({ state })}
          options={Object.entries(states).map(([value, label]) => ({ value, label }))}
        />
      </td>
    </tr>
  );
}
