import type { Schemas } from "../../api/client";
import { Lane } from "./Lane";
import { Num } from "../figures/Num";

interface RowProps {
  labels: Schemas["ColumnOut"][];
  lines: Schemas["Lane"][];
  span: [number, number];
  marks: Schemas["FindingOut"][];
  thick: Schemas["FindingOut"] | null;
  last: boolean;
  cursor: number | null;
  onCursor: (at: number | null) => void;
  onSpan: (span: [number, number]) => void;
}

/** One lane with its name and range beside it. */
export function LaneRow({ labels, lines, last, ...rest }: RowProps) {
  const low = Math.min(...labels.map((c) => c.low ?? 0)),
    high = Math.max(...labels.map((c) => c.high ?? 0));
  const size = Math.max(Math.abs(low), Math.abs(high));
  const places = size >= 100 ? 0 : size >= 10 ? 1 : 2;
  return (
    <>
      <div>
        <div className="lane-label">{labels[0].label}</div>
        <div className="soft" style={{ fontSize: 12.5, whiteSpace: "nowrap" }}>
          <Num value={low} unit="" digits={places} />–
          <Num value={high} unit={labels[0].unit} digits={places} />
        </div>
        {labels[1] && (
          <div className="soft" style={{ fontSize: 12.5 }}>
            dashed: {labels[1].label.toLowerCase()}
          </div>
        )}
      </div>
      <Lane lines={lines} axis={last} label={labels.map((c) => c.label).join(" and ")} {...rest} />
    </>
  );
}
