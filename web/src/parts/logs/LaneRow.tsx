import type { Schemas } from "../../api/client";
import { Lane } from "./Lane";
import { Num } from "../figures/Num";

interface RowProps {
  labels: Schemas["ColumnOut"][];
  lines: Schemas["Lane"][];
  span: [number, number];
  marks: Schemas["FindingOut"][];
  thick: Schemas["FindingOut"] | null;
  between: [number, number] | null;
  last: boolean;
  cursor: number | null;
  onCursor: (at: number | null) => void;
  onSpan: (span: [number, number]) => void;
  onCloser: (factor: number, at: number) => void;
  onAlong: (share: number) => void;
}

/** What a line holds at a moment: its sample there, or the one before. */
function valueAt(line: Schemas["Lane"], at: number): number | null {
  let low = 0;
  let high = line.time_s.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (line.time_s[middle] <= at) low = middle;
    else high = middle - 1;
  }
  return line.values[low] ?? null;
}

/** One lane with its name beside it, and its range, or what it holds at the cursor. */
export function LaneRow({ labels, lines, last, cursor, ...rest }: RowProps) {
  const low = Math.min(...labels.map((c) => c.low ?? 0)),
    high = Math.max(...labels.map((c) => c.high ?? 0));
  const size = Math.max(Math.abs(low), Math.abs(high));
  const places = size >= 100 ? 0 : size >= 10 ? 1 : 2;
  return (
    <>
      <div>
        <div className="lane-label">{labels[0].label}</div>
        {cursor === null ? (
          <div className="soft" style={{ fontSize: 12.5, whiteSpace: "nowrap" }}>
            <Num value={low} unit="" digits={places} />–
            <Num value={high} unit={labels[0].unit} digits={places} />
          </div>
        ) : (
          lines.slice(0, 1).map((line) => (
            <b key={line.name} className="num" style={{ fontSize: 14, whiteSpace: "nowrap" }}>
              <Num value={valueAt(line, cursor)} unit={labels[0].unit} digits={places} />
            </b>
          ))
        )}
        {labels[1] && (
          <div className="soft" style={{ fontSize: 12.5 }}>
            dashed: {labels[1].label.toLowerCase()}
            {cursor !== null && lines[1] && (
              <>
                {" "}
                <Num value={valueAt(lines[1], cursor)} unit="" digits={places} />
              </>
            )}
          </div>
        )}
      </div>
      <Lane
        lines={lines}
        axis={last}
        cursor={cursor}
        label={labels.map((c) => c.label).join(" and ")}
        {...rest}
      />
    </>
  );
}
