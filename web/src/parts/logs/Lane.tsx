import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { Schemas } from "../../api/client";
import { pinched } from "./pinched";
import { useLook } from "../../theme/Look";

interface Props {
  lines: Schemas["Lane"][];
  span: [number, number];
  marks: Schemas["FindingOut"][];
  /** Its samples are drawn thick. */
  thick: Schemas["FindingOut"] | null;
  /** The two marks between which something is measured. */
  between: [number, number] | null;
  axis: boolean;
  label: string;
  cursor: number | null;
  onCursor: (at: number | null) => void;
  onSpan: (span: [number, number]) => void;
  onCloser: (factor: number, at: number) => void;
  onAlong: (share: number) => void;
}

/** One lane of a log: up to two lines over time; findings shaded behind them. */
export function Lane({ lines, span, marks, thick, between, axis, label, onCursor, ...moves }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const { palette } = useLook();
  const calls = useRef({ onCursor, ...moves });
  calls.current = { onCursor, ...moves };
  useEffect(() => {
    const box = holder.current!;
    if (!lines.length) return;
    const grid =
      lines.length === 1
        ? lines[0].time_s
        : [...new Set(lines.flatMap((line) => line.time_s))].sort((a, b) => a - b);
    const aligned = lines.map((line) => {
      if (lines.length === 1) return line.values;
      const place = new Map(line.time_s.map((t, index) => [t, line.values[index]]));
      return grid.map((t) => place.get(t));
    });
    const inside = thick
      ? aligned.map((values) =>
          values.map((value, n) => (grid[n] >= thick.from_s && grid[n] <= thick.to_s ? value : null)),
        )
      : [];
    const height = axis ? 84 : 60;
    const colour = { go: palette.moss, hold: palette.ochre, stop: palette.oxide } as Record<string, string>;
    const plot = new uPlot(
      {
        width: box.clientWidth,
        height,
        legend: { show: false },
        padding: [6, 0, axis ? 0 : 6, 0],
        cursor: {
          sync: { key: "lanes" },
          drag: { x: true, y: false, setScale: false },
          y: false,
          points: { show: false },
        },
        scales: { x: { time: false, range: () => span } },
        axes: [
          {
            show: axis,
            size: 26,
            stroke: palette.soft,
            font: "13px IBM Plex Mono",
            grid: { show: false },
            ticks: { show: false },
            values: (_u, marks_) => marks_.map((v) => `${v} s`),
          },
          { show: false },
        ],
        series: [
          {},
          ...lines.map((_, index) => ({
            stroke: index ? palette.ochre : palette.petrol,
            width: index ? 1.4 : 1.6,
            dash: index ? [5, 4] : undefined,
            points: { show: false },
            spanGaps: true,
          })),
          ...inside.map((_, index) => ({
            stroke: index ? palette.ochre : palette.petrol,
            width: 4,
            points: { show: false },
          })),
        ],
        hooks: {
          drawClear: [
            (u) => {
              u.ctx.fillStyle = palette.sheet;
              u.ctx.fillRect(u.bbox.left, u.bbox.top, u.bbox.width, u.bbox.height);
              for (const mark of marks) {
                const left = u.valToPos(Math.max(mark.from_s, span[0]), "x", true),
                  right = u.valToPos(Math.min(mark.to_s, span[1]), "x", true);
                if (right < left) continue;
                u.ctx.fillStyle = `${colour[mark.verdict]}1C`;
                u.ctx.fillRect(left, u.bbox.top, Math.max(right - left, 2), u.bbox.height);
              }
              if (between) {
                const [left, right] = between.map((at) => u.valToPos(at, "x", true));
                u.ctx.fillStyle = `${palette.slate}26`;
                u.ctx.fillRect(left, u.bbox.top, right - left, u.bbox.height);
                u.ctx.fillStyle = palette.ink;
                for (const at of [left, right]) u.ctx.fillRect(at - 1, u.bbox.top, 2, u.bbox.height);
              }
            },
          ],
          setCursor: [
            (u) =>
              calls.current.onCursor(
                u.cursor.left !== undefined && u.cursor.left >= 0 ? u.posToVal(u.cursor.left, "x") : null,
              ),
          ],
          setSelect: [
            (u) => {
              if (u.select.width > 8)
                calls.current.onSpan([
                  u.posToVal(u.select.left, "x"),
                  u.posToVal(u.select.left + u.select.width, "x"),
                ]);
              u.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
            },
          ],
        },
      },
      [grid, ...aligned, ...inside] as uPlot.AlignedData,
      box,
    );
    const resize = new ResizeObserver(() => plot.setSize({ width: box.clientWidth, height }));
    resize.observe(box);
    const still = pinched(plot.over, {
      closer: (factor, left) => calls.current.onCloser(factor, plot.posToVal(left, "x")),
      along: (share) => calls.current.onAlong(share),
    });
    return () => (still(), resize.disconnect(), plot.destroy());
  }, [lines, span[0], span[1], marks, thick, between?.[0], between?.[1], axis, palette]); // eslint-disable-line
  return (
    <div
      ref={holder}
      role="img"
      aria-label={label}
      style={{ border: "1px solid var(--rule)", minHeight: axis ? 86 : 62, minWidth: 0 }}
    />
  );
}
