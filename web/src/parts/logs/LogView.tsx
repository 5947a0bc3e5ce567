import { Button, Select } from "antd";
import { useMemo, useState, type ReactNode } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { FindingsRail } from "./FindingsRail";
import { LaneRow } from "./LaneRow";
import { LogColumns } from "./LogColumns";
import { LogNotes } from "./LogNotes";
import { LANES, ROWS, filled } from "./rows";
import { plain, useConvert } from "../figures/Num";

type LogData = Schemas["LogOut"];
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

/** A log: lanes first, stacked over one time axis under the windows; findings on a rail beside them. */
export function LogView({ log, choose }: { log: LogData; choose?: ReactNode }) {
  const [span, setSpan] = useState<[number, number] | null>(null);
  const [reading, setReading] = useState(false);
  const [extra, setExtra] = useState<string[]>([]);
  const [cursor, setCursor] = useState<number | null>(null);
  const [row, setRow] = useState("usual");
  const [touched, setTouched] = useState<Schemas["FindingOut"] | null>(null);
  const touch = (finding: Schemas["FindingOut"] | null) => {
    setTouched(finding);
    setSpan(finding ? around([finding.from_s, finding.to_s], log.duration_s) : null);
  };
  const [from, to] = span ?? [0, log.duration_s];
  const has = useMemo(() => new Set(log.columns.map((column) => column.name)), [log]);
  // What a finding is told by comes up first; then the row that was chosen.
  const lanes = useMemo(() => {
    const first = touched ? paired(touched.channels, has) : [];
    const others = filled(row, has).filter((names) => !names.some((name) => first.flat().includes(name)));
    return [...[...first, ...others].slice(0, LANES), ...extra.map((name) => [name])];
  }, [has, extra, row, touched]);
  const asked = log.reads.some((read) => read.status === "asked");
  const rows = Object.keys(ROWS).filter((name) => filled(name, has).length > 1);
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
          {log.rate_hz} per second · {minutes(log.duration_s)}
          {log.map && ` · map ${log.map}`}
        </span>
        <div className="end">
          {choose}
          {span && <Button onClick={() => touch(null)}>Whole log</Button>}
          {rows.length > 1 && (
            <Select
              aria-label="Row of lanes"
              value={row}
              onChange={setRow}
              style={{ width: 150 }}
              options={rows.map((value) => ({ value, label: value }))}
            />
          )}
          <Button onClick={() => setReading(true)}>What was read</Button>
          <a href={`/api/logs/${log.id}/file`}>
            <Button>File</Button>
          </a>
        </div>
      </div>
      {asked && <LogColumns key={`${log.id} ${log.known}`} log={log} />}
      <div className="log-look">
        <div>
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
              {log.findings
                .filter((one) => one.to_s >= from && one.from_s <= to)
                .map((one) => (
                  <button
                    key={`${one.kind} ${one.from_s}`}
                    className={`mark ${one.verdict}`}
                    style={{ left: `${(100 * (Math.max(one.from_s, from) - from)) / (to - from)}%` }}
                    aria-label={`Mark: ${one.title}, at ${one.from_s.toFixed(0)} s`}
                    title={one.title}
                    onClick={() => touch(one)}
                  />
                ))}
            </div>
            {lanes.map((group, index) => (
              <LaneRow
                key={group.join()}
                labels={group.map((name) => column(name))}
                lines={group.map((name) => byName.get(name)).filter((lane) => lane !== undefined)}
                span={[from, to]}
                marks={touched ? [touched] : log.findings}
                thick={touched && touched.channels.some((name) => group.includes(name)) ? touched : null}
                last={index === lanes.length - 1}
                cursor={cursor}
                onCursor={setCursor}
                onSpan={setSpan}
              />
            ))}
          </div>
        </div>
        <FindingsRail log={log} touched={touched} onTouch={touch} />
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
            .filter((c) => extra.includes(c.name) || !lanes.flat().includes(c.name))
            .map((c) => ({ value: c.name, label: c.label }))}
        />
      </div>
      {!asked && <LogColumns key={`${log.id} ${log.known}`} log={log} />}
      <LogNotes log={log} open={reading} onClose={() => setReading(false)} />
    </>
  );
}

/** A channel with its target in one lane, each other by itself. */
function paired(names: string[], has: Set<string>): string[][] {
  const own = names.filter((name) => !name.endsWith("_target"));
  const lanes = own.map((name) => (has.has(`${name}_target`) ? [name, `${name}_target`] : [name]));
  return [...lanes, ...names.filter((name) => !lanes.flat().includes(name)).map((name) => [name])];
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
