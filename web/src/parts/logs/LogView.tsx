import { Button, Segmented, Select } from "antd";
import { useMemo, useState, type ReactNode } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { Against } from "./Against";
import { Between } from "./Between";
import { FindingsRail } from "./FindingsRail";
import { LaneRow } from "./LaneRow";
import { LogColumns } from "./LogColumns";
import { LogNotes } from "./LogNotes";
import { OverAnother } from "./OverAnother";
import { LANES, ROWS, filled } from "./rows";
import { WindowStrip } from "./WindowStrip";
import { plain, useConvert } from "../figures/Num";

type LogData = Schemas["LogOut"];
const LOOKS = [
  { value: "time", label: "over time" },
  { value: "against", label: "pull against pull" },
  { value: "another", label: "over another" },
];

/** A log: lanes first, stacked over one time axis under the windows; findings on a rail beside them. */
export function LogView({ log, choose }: { log: LogData; choose?: ReactNode }) {
  const [span, setSpan] = useState<[number, number] | null>(null);
  const [reading, setReading] = useState(false);
  const [extra, setExtra] = useState<string[]>([]);
  const [cursor, setCursor] = useState<number | null>(null);
  const [row, setRow] = useState("usual");
  const [look, setLook] = useState("time");
  const [measuring, setMeasuring] = useState(false);
  const [marked, setMarked] = useState<[number, number] | null>(null);
  const [touched, setTouched] = useState<Schemas["FindingOut"] | null>(null);
  const touch = (finding: Schemas["FindingOut"] | null) => {
    setTouched(finding);
    setSpan(finding ? around([finding.from_s, finding.to_s], log.duration_s) : null);
  };
  // While something is measured a drag, or a window that is touched, sets the marks and moves nothing.
  const drag = (part: [number, number]) => (measuring ? setMarked(part) : setSpan(part));
  const unmark = () => (setMarked(null), setMeasuring(false));
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
        <Segmented
          aria-label="Look at it"
          className="looks"
          value={look}
          onChange={setLook}
          options={LOOKS}
        />
        <div className="end">
          {choose}
          {span && <Button onClick={() => touch(null)}>Whole log</Button>}
          {look === "time" && (
            <Button
              type={measuring ? "primary" : "default"}
              aria-pressed={measuring}
              onClick={() => (measuring ? unmark() : setMeasuring(true))}
            >
              Measure
            </Button>
          )}
          {look === "time" && rows.length > 1 && (
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
      {look === "against" && <Against log={log} />}
      {look === "another" && <OverAnother log={log} span={[from, to]} />}
      {look === "time" && (
        <>
          <div className="log-look">
            <div>
              <div className="lanes">
                <span className="lane-label">Windows</span>
                <WindowStrip
                  log={log}
                  span={[from, to]}
                  onWindow={(part) => (measuring ? setMarked(part) : setSpan(around(part, log.duration_s)))}
                  onMark={touch}
                />
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
                    between={marked}
                    onSpan={drag}
                  />
                ))}
              </div>
            </div>
            <FindingsRail log={log} touched={touched} onTouch={touch} />
          </div>
          {marked && <Between log={log} names={lanes.flat()} span={marked} onClose={unmark} />}
          <div className="row" style={{ marginTop: 6, minHeight: 40 }}>
            <span className="num soft">
              {measuring && !marked
                ? "Drag over what you want to measure, or touch a window."
                : cursor === null
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
        </>
      )}
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
