import type { Schemas } from "../../api/client";

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

const LATE = 0.8;

interface Props {
  log: Schemas["LogOut"];
  span: [number, number];
  onWindow: (part: [number, number]) => void;
  onMark: (finding: Schemas["FindingOut"]) => void;
}

/** The windows of a log over its lanes, and a mark where each finding begins. */
export function WindowStrip({ log, span: [from, to], onWindow, onMark }: Props) {
  const place = (at: number) => `${(100 * (Math.max(at, from) - from)) / (to - from)}%`;
  // A word near the end stands before its moment, not cut off behind it.
  const lateIn = (at: number) => at - from > LATE * (to - from);
  return (
    <div className="windows">
      {log.windows
        .filter((w) => w.to_s > from && w.from_s < to)
        .map((w, index) => (
          <button
            key={index}
            className={w.kind}
            style={{
              left: place(w.from_s),
              width: `${(100 * (Math.min(w.to_s, to) - Math.max(w.from_s, from))) / (to - from)}%`,
            }}
            onClick={() => onWindow([w.from_s, w.to_s])}
            title={`${KINDS[w.kind] ?? w.kind}, ${w.from_s.toFixed(1)}–${w.to_s.toFixed(1)} s`}
          >
            {w.kind !== "load" && (w.to_s - w.from_s) / (to - from) > 0.035 ? (KINDS[w.kind] ?? w.kind) : ""}
          </button>
        ))}
      {log.marks
        .filter((one) => one.at_s >= from && one.at_s <= to)
        .map((one) => (
          <span
            key={`word ${one.at_s}`}
            className={lateIn(one.at_s) ? "word-mark late-in" : "word-mark"}
            style={{ left: place(one.at_s) }}
            title={one.word}
          >
            {one.word}
          </span>
        ))}
      {log.findings
        .filter((one) => one.to_s >= from && one.from_s <= to)
        .map((one) => (
          <button
            key={`${one.kind} ${one.from_s}`}
            className={`mark ${one.verdict}`}
            style={{ left: place(one.from_s) }}
            aria-label={`Mark: ${one.title}, at ${one.from_s.toFixed(0)} s`}
            title={one.title}
            onClick={() => onMark(one)}
          />
        ))}
    </div>
  );
}
