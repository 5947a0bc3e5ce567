import { LeftOutlined, MinusOutlined, PlusOutlined, RightOutlined } from "@ant-design/icons";
import { Button, Segmented, Select, Space } from "antd";
import { useMemo, useRef, useState, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { Against } from "./Against";
import { Between } from "./Between";
import { FindingsRail } from "./FindingsRail";
import { LaneRow } from "./LaneRow";
import { LogColumns } from "./LogColumns";
import { LogNotes } from "./LogNotes";
import { OverAnother } from "./OverAnother";
import { Marks } from "./Marks";
import { OwnChannel } from "./OwnChannel";
import { OwnRows } from "./OwnRows";
import { RowsTable } from "./RowsTable";
import { TakeOut } from "./TakeOut";
import { Trend } from "./Trend";
import { useKeptLook } from "./useKeptLook";
import { useLanes } from "./useLanes";
import { ALONG, CLOSER, useSpan } from "./useSpan";
import { WindowStrip } from "./WindowStrip";
import { useKeys } from "../frame/keys";
import { plain, useConvert } from "../figures/Num";

type LogData = Schemas["LogOut"];
const LOOKS = [
  { value: "time", label: "over time" },
  { value: "against", label: "pull against pull" },
  { value: "another", label: "over another" },
  { value: "rows", label: "rows" },
  { value: "trend", label: "trend" },
];

/** A log: lanes first, stacked over one time axis under the windows; findings on a rail beside them. */
export function LogView({ log, choose }: { log: LogData; choose?: ReactNode }) {
  const { span, setSpan, closer, along } = useSpan(log.id, log.duration_s);
  const [reading, setReading] = useState(false);
  const [extra, setExtra] = useState<string[]>([]);
  const [cursor, setCursor] = useState<number | null>(null);
  const [row, setRow] = useState("usual");
  const [look, setLook] = useState("time");
  const [measuring, setMeasuring] = useState(false);
  const [marked, setMarked] = useState<[number, number] | null>(null);
  const [wording, setWording] = useState(false);
  const [making, setMaking] = useState(false);
  const last = useRef(0);
  if (cursor !== null) last.current = cursor;
  const { look: keptLook, keep } = useKeptLook(log.vehicle);
  const own = useMemo(
    () => Object.fromEntries(keptLook.rows.map((one) => [one.name, one.lanes])),
    [keptLook],
  );
  const [touched, setTouched] = useState<Schemas["FindingOut"] | null>(null);
  const touch = (finding: Schemas["FindingOut"] | null) => {
    setTouched(finding);
    setSpan(finding ? around([finding.from_s, finding.to_s], log.duration_s) : null);
  };
  // While something is measured a drag, or a window that is touched, sets the marks and moves nothing.
  const drag = (part: [number, number]) => (measuring ? setMarked(part) : setSpan(part));
  const unmark = () => (setMarked(null), setMeasuring(false));
  const keys = {
    "+": () => closer(CLOSER),
    "-": () => closer(1 / CLOSER),
    "0": () => touch(null),
    ArrowLeft: () => along(-ALONG),
    ArrowRight: () => along(ALONG),
  };
  useKeys(look === "time" ? keys : {});
  const [from, to] = span ?? [0, log.duration_s];
  const { lanes, byName, rows } = useLanes(log, { row, own, touched, extra, span: [from, to] });
  const asked = log.reads.some((read) => read.status === "asked");
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
          options={log.job ? LOOKS : LOOKS.slice(0, -1)}
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
            <OwnRows rows={rows} row={row} onRow={setRow} lanes={lanes} look={keptLook} keep={keep} />
          )}
          <Button onClick={() => setReading(true)}>What was read</Button>
          <TakeOut log={log} lanes={lanes} span={[from, to]} />
        </div>
      </div>
      {asked && <LogColumns key={`${log.id} ${log.known}`} log={log} />}
      {look === "against" && <Against log={log} />}
      {look === "trend" && <Trend number={log.job} here={log.id} />}
      {look === "another" && <OverAnother log={log} span={[from, to]} />}
      {look === "rows" && <RowsTable log={log} names={lanes.flat()} span={[from, to]} />}
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
                    onCloser={closer}
                    onAlong={along}
                  />
                ))}
              </div>
            </div>
            <FindingsRail log={log} touched={touched} onTouch={touch} />
          </div>
          {wording && (
            <Marks log={log} at={last.current} onGo={(to) => setSpan(around([to, to], log.duration_s))} />
          )}
          {marked && <Between log={log} names={lanes.flat()} span={marked} onClose={unmark} />}
          <div className="row" style={{ marginTop: 6, minHeight: 40 }}>
            <Nudges keys={keys} />
            <Button aria-pressed={wording} onClick={() => setWording(!wording)}>
              Marks{log.marks.length > 0 && ` ${log.marks.length}`}
            </Button>
            <span className="num soft">
              {measuring && !marked
                ? "Drag over what you want to measure, or touch a window."
                : cursor === null
                  ? "Drag along a lane to look closer; a window opens when you touch it."
                  : at(cursor, [...byName.values()], column, convert)}
            </span>
            <Button style={{ marginLeft: "auto" }} onClick={() => setMaking(true)}>
              By formula
            </Button>
            <AddLane log={log} shown={lanes.flat()} extra={extra} onExtra={setExtra} />
          </div>
        </>
      )}
      {!asked && <LogColumns key={`${log.id} ${log.known}`} log={log} />}
      <OwnChannel
        log={log}
        open={making}
        onClose={() => setMaking(false)}
        onMade={(key) => setExtra([...extra, key])}
      />
      <LogNotes log={log} open={reading} onClose={() => setReading(false)} />
    </>
  );
}

interface Adding {
  log: LogData;
  shown: string[];
  extra: string[];
  onExtra: (names: string[]) => void;
}

/** Any other channel of the log, or one that the shop made up, as a lane more. */
function AddLane({ log, shown, extra, onExtra }: Adding) {
  return (
    <Select
      style={{ minWidth: 210 }}
      mode="multiple"
      maxTagCount={1}
      placeholder="Add a lane"
      aria-label="Add a lane"
      value={extra}
      onChange={onExtra}
      options={log.columns
        .filter((c) => extra.includes(c.name) || !shown.includes(c.name))
        .map((c) => ({ value: c.name, label: c.label }))}
    />
  );
}

/** The keys' own buttons. */
function Nudges({ keys }: { keys: Record<string, () => void> }) {
  return (
    <Space.Compact>
      <Button aria-label="Back" icon={<LeftOutlined />} onClick={keys.ArrowLeft} />
      <Button aria-label="Wider" icon={<MinusOutlined />} onClick={keys["-"]} />
      <Button aria-label="Closer" icon={<PlusOutlined />} onClick={keys["+"]} />
      <Button aria-label="On" icon={<RightOutlined />} onClick={keys.ArrowRight} />
    </Space.Compact>
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
