import { Button, Select } from "antd";
import { useMemo, useState } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { LaneRow } from "./LaneRow";
import { LogColumns } from "./LogColumns";
import { LogNotes } from "./LogNotes";
import { plain, useConvert } from "../figures/Num";

type LogData = Schemas["LogOut"];
const USUAL: string[][] = [
  ["rpm"],
  ["map", "map_target"],
  ["lambda", "lambda_target"],
  ["stft_1", "ltft_1"],
  ["pulse"],
  ["knock"],
  ["iat", "coolant"],
  ["battery"],
];
const KINDS: Record<string, string> = {
  key_on: "key on",
  crank: "crank",
  warm_up: "warm-up",
  idle: "idle",
  cruise: "cruise",
  overrun: "overrun",
  pull: "pull",
  shift: "shift",
  traction_cut: "cut",
  load: "load",
};

/** A log: window strip above, lanes stacked over one time axis, what was read in a drawer. */
export function LogView({ log, focus }: { log: LogData; focus?: [number, number] | null }) {
  const [span, setSpan] = useState<[number, number] | null>(null);
  const [reading, setReading] = useState(false);
  const [extra, setExtra] = useState<string[]>([]);
  const [cursor, setCursor] = useState<number | null>(null);
  const [seen, setSeen] = useState(focus);
  if (focus !== seen) {
    setSeen(focus);
    if (focus) setSpan(around(focus, log.duration_s));
  }
  const [from, to] = span ?? [0, log.duration_s];
  const has = useMemo(() => new Set(log.columns.map((column) => column.name)), [log]);
  const lanes = useMemo(
    () => [
      ...USUAL.map((names) => names.filter((name) => has.has(name)))
        .filter((names) => names.length)
        .slice(0, 6),
      ...extra.map((name) => [name]),
    ],
    [has, extra],
  );
  const names = lanes.flat().join(",");
  const data = useQuery({
    queryKey: ["lanes", log.id, names, from, to],
    queryFn: () =>
      take(
        api.GET("/api/logs/{log_id}/lanes", {
          params: {
            path: { log_id: log.id },
            query: { channels: names, start: from, stop: to, points: 1600 },
          },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  const byName = new Map((data.data?.lanes ?? []).map((lane) => [lane.name, lane]));
  const convert = useConvert();
  const column = (name: string) => log.columns.find((c) => c.name === name)!;
  return (
    <>
      <div className="title">
        <h1>{log.name}</h1>
        <span className="soft num">
          {plain(log.rows)} rows · {log.rate_hz} per second · {minutes(log.duration_s)}
          {log.map && ` · map ${log.map}`}
        </span>
        <div className="end">
          {span && <Button onClick={() => setSpan(null)}>Whole log</Button>}
          <Button onClick={() => setReading(true)}>What was read</Button>
          <a href={`/api/logs/${log.id}/file`}>
            <Button>File</Button>
          </a>
        </div>
      </div>
      <LogColumns key={`${log.id} ${log.known}`} log={log} />
      <div className="lanes">
        <span className="lane-label">Windows</span>
        <div className="windows">
          {log.windows
            .filter((w) => w.to_s > from && w.from_s < to)
            .map((w, index) => (
              <button
                key={index}
                className={w.kind}
                style={{
                  left: `${(100 * (Math.max(w.from_s, from) - from)) / (to - from)}%`,
                  width: `${(100 * (Math.min(w.to_s, to) - Math.max(w.from_s, from))) / (to - from)}%`,
                }}
                onClick={() => setSpan(around([w.from_s, w.to_s], log.duration_s))}
                title={`${KINDS[w.kind] ?? w.kind}, ${w.from_s.toFixed(1)}–${w.to_s.toFixed(1)} s`}
              >
                {w.kind !== "load" && (w.to_s - w.from_s) / (to - from) > 0.035
                  ? (KINDS[w.kind] ?? w.kind)
                  : ""}
              </button>
            ))}
        </div>
        {lanes.map((group, index) => (
          <LaneRow
            key={group.join()}
            labels={group.map((name) => column(name))}
            lines={group.map((name) => byName.get(name)).filter((lane) => lane !== undefined)}
            span={[from, to]}
            marks={log.findings}
            last={index === lanes.length - 1}
            cursor={cursor}
            onCursor={setCursor}
            onSpan={setSpan}
          />
        ))}
      </div>
      <div className="row" style={{ marginTop: 6, minHeight: 40 }}>
        <span className="num soft">
          {cursor === null
            ? "Drag along a lane to look closer; a window opens when you touch it."
            : at(cursor, [...byName.values()], column, convert)}
        </span>
        <Select
          style={{ marginLeft: "auto", minWidth: 210 }}
          mode="multiple"
          maxTagCount={1}
          placeholder="Add a lane"
          aria-label="Add a lane"
          value={extra}
          onChange={setExtra}
          options={log.columns
            .filter((c) => !lanes.slice(0, 6).flat().includes(c.name))
            .map((c) => ({ value: c.name, label: c.label }))}
        />
      </div>
      <LogNotes log={log} open={reading} onClose={() => setReading(false)} />
    </>
  );
}

const minutes = (s: number) =>
  s >= 59.95 ? `${Math.floor(Math.round(s) / 60)} min ${Math.round(s) % 60} s` : `${s.toFixed(1)} s`;

function around([from, to]: [number, number], end: number): [number, number] {
  const room = Math.max(1, 0.25 * (to - from));
  return [Math.max(0, from - room), Math.min(end, to + room)];
}

function at(
  cursor: number,
  lanes: Schemas["Lane"][],
  column: (name: string) => Schemas["ColumnOut"],
  convert: (value: number, unit: string) => [number, string],
): string {
  const values = lanes.map((lane) => {
    let index = lane.time_s.findIndex((t) => t >= cursor);
    if (index < 0) index = lane.time_s.length - 1;
    const { label, unit: canonical } = column(lane.name);
    const [value, unit] = convert(lane.values[index], canonical);
    return `${label.toLowerCase()} ${plain(value, unit === "rpm" ? 0 : 2)}${unit === "lambda" ? "" : ` ${unit}`}`;
  });
  return `At ${cursor.toFixed(1)} s: ${values.join(" · ")}`;
}
