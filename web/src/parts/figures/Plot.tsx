import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { useLook } from "../../theme/Look";
import { axisOf } from "./axis";

export interface Line {
  label: string;
  x?: number[];
  values: (number | null)[];
  colour?: string;
  dash?: number[];
  width?: number;
}

interface Props {
  x: number[];
  series: Line[];
  height: number;
  xLabel?: string;
  yLabel?: string;
  /** A band between two of the series, by index from 0. */
  band?: [number, number];
  zero?: boolean;
  /** Each line is drawn through where only others have a point. */
  joined?: boolean;
}

function onGrid(grid: number[], line: Line): (number | null)[] {
  if (!line.x || line.x === grid) return line.values;
  const place = new Map(line.x.map((at, index) => [at, line.values[index]]));
  return grid.map((at) => place.get(at) ?? null);
}

/** From and to, zero between them, with room at both ends. */
function aroundZero(low: number, high: number): [number, number] {
  const [least, most] = [Math.min(low, 0), Math.max(high, 0)];
  const room = Math.min(0.5, 0.1 * (most - least)) || 0.5;
  return [least - room, most + room];
}

/** Curves over one axis, drawn by uPlot in our colours. */
export function Plot({ x, series, height, xLabel, yLabel, band, zero, joined }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const { palette } = useLook();
  useEffect(() => {
    const box = holder.current!;
    const grid = [...new Set(series.flatMap((line) => line.x ?? x))].sort((a, b) => a - b);
    const axis = axisOf(palette);
    const plot = new uPlot(
      {
        width: box.clientWidth,
        height,
        legend: { show: false },
        cursor: { drag: { x: false, y: false } },
        scales: {
          x: { time: false },
          y: zero ? { range: (_u, low, high) => aroundZero(low, high) } : {},
        },
        axes: [
          { ...axis, label: xLabel, labelSize: xLabel ? 20 : 0 },
          { ...axis, space: zero ? 16 : 26, label: yLabel, labelSize: yLabel ? 22 : 0, size: 54 },
        ],
        series: [
          {},
          ...series.map((line) => ({
            label: line.label,
            stroke: line.colour ?? palette.petrol,
            width: line.width ?? 2,
            dash: line.dash,
            points: { show: false },
            spanGaps: joined,
          })),
        ],
        bands: band
          ? [{ series: [band[0] + 1, band[1] + 1] as [number, number], fill: `${palette.petrol}44` }]
          : [],
      },
      [grid, ...series.map((line) => onGrid(grid, line))] as uPlot.AlignedData,
      box,
    );
    const resize = new ResizeObserver(() => plot.setSize({ width: box.clientWidth, height }));
    resize.observe(box);
    return () => (resize.disconnect(), plot.destroy());
  }, [x, series, height, xLabel, yLabel, band, zero, joined, palette]);
  return (
    <div
      ref={holder}
      role="img"
      aria-label={series.map((line) => line.label).join(", ")}
      style={{ marginTop: 8, minWidth: 0 }}
    />
  );
}
