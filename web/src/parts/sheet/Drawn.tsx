import type { ReactNode } from "react";

const WIDE = 640,
  HIGH = 230,
  SIDE = 56,
  FOOT = 34;

export interface Frame {
  x: (value: number) => number;
  y: (value: number) => number;
}

/** A frame with its two axes, in which curves are drawn to scale. */
export function Drawn({
  label,
  xs,
  ys,
  xUnit,
  yUnit,
  children,
}: {
  label: string;
  xs: number[];
  ys: number[];
  xUnit: string;
  yUnit: string;
  children: (frame: Frame) => ReactNode;
}) {
  const [x0, x1] = ends(xs),
    [y0, y1] = ends(ys);
  const frame: Frame = {
    x: (value) => SIDE + ((value - x0) / (x1 - x0)) * (WIDE - SIDE - 10),
    y: (value) => HIGH - FOOT - ((value - y0) / (y1 - y0)) * (HIGH - FOOT - 10),
  };
  const marks = (low: number, high: number) =>
    [0, 0.25, 0.5, 0.75, 1].map((part) => low + part * (high - low));
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className="drawn" role="img" aria-label={label}>
      {marks(x0, x1).map((value) => (
        <g key={value}>
          <line x1={frame.x(value)} x2={frame.x(value)} y1={10} y2={HIGH - FOOT} className="grid" />
          <text x={frame.x(value)} y={HIGH - 16} textAnchor="middle">
            {short(value)}
          </text>
        </g>
      ))}
      {marks(y0, y1).map((value) => (
        <g key={value}>
          <line x1={SIDE} x2={WIDE - 10} y1={frame.y(value)} y2={frame.y(value)} className="grid" />
          <text x={SIDE - 6} y={frame.y(value) + 4} textAnchor="end">
            {short(value)}
          </text>
        </g>
      ))}
      {children(frame)}
      <text x={WIDE - 10} y={HIGH - 2} textAnchor="end">
        {xUnit}
      </text>
      <text x={2} y={12}>
        {yUnit}
      </text>
    </svg>
  );
}

function ends(values: number[]): [number, number] {
  const low = Math.min(...values),
    high = Math.max(...values);
  return high > low ? [low, high] : [low - 1, high + 1];
}

const short = (value: number) =>
  Math.abs(value) >= 100 ? value.toFixed(0) : Number(value.toPrecision(3)).toString();
