import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { Schemas } from "../../api/client";
import { useLook } from "../../theme/Look";
import { axisOf } from "../figures/axis";
import { plain, useConvert } from "../figures/Num";

type Column = Schemas["ColumnOut"] | undefined;
/** Samples that are further apart were not driven one after the other [s]. */
const APART_S = 1.0;

/** Samples of one channel over another, joined in the order driven; a third channel is the depth of ink. */
export function Cloud({ told, x, y, ink }: { told: Schemas["CloudOut"]; x: Column; y: Column; ink: Column }) {
  const holder = useRef<HTMLDivElement>(null);
  const { palette, imperial } = useLook();
  const convert = useConvert();
  const span = (values: number[]): [number, number] =>
    values.length ? [Math.min(...values), Math.max(...values)] : [0, 1];
  const [least, most] = span(told.ink);
  const inkUnit = ink?.unit ?? "";
  useEffect(() => {
    const box = holder.current!;
    const xs = told.x.map((one) => convert(one, x?.unit ?? "")[0]);
    const ys = told.y.map((one) => convert(one, y?.unit ?? "")[0]);
    const roomy = ([low, high]: [number, number]): [number, number] => {
      const room = 0.03 * (high - low || 1);
      return [low - room, high + room];
    };
    const [xSpan, ySpan] = [roomy(span(xs)), roomy(span(ys))];
    const titled = (column: Column) =>
      [column?.label, convert(0, column?.unit ?? "")[1]].filter(Boolean).join(" ");
    const axis = axisOf(palette);
    const drawn = (u: uPlot) => {
      const at = (n: number) => [u.valToPos(xs[n], "x", true), u.valToPos(ys[n], "y", true)] as const;
      u.ctx.save();
      u.ctx.strokeStyle = `${palette.slate}30`;
      u.ctx.lineWidth = 1;
      u.ctx.beginPath();
      for (let n = 0; n < xs.length; n++) {
        const near = n > 0 && told.time_s[n] - told.time_s[n - 1] <= APART_S;
        if (near) u.ctx.lineTo(...at(n));
        else u.ctx.moveTo(...at(n));
      }
      u.ctx.stroke();
      u.ctx.fillStyle = palette.petrol;
      const dot = 2.2 * devicePixelRatio;
      for (let n = 0; n < xs.length; n++) {
        u.ctx.globalAlpha = told.ink.length ? 0.1 + (0.9 * (told.ink[n] - least)) / (most - least || 1) : 0.6;
        const [left, top] = at(n);
        u.ctx.fillRect(left - dot, top - dot, 2 * dot, 2 * dot);
      }
      u.ctx.restore();
    };
    const height = 330;
    const plot = new uPlot(
      {
        width: box.clientWidth,
        height,
        legend: { show: false },
        cursor: { drag: { x: false, y: false } },
        scales: { x: { time: false, range: () => xSpan }, y: { range: () => ySpan } },
        axes: [
          { ...axis, label: titled(x), labelSize: 20 },
          { ...axis, label: titled(y), labelSize: 22, size: 60 },
        ],
        series: [{}, { paths: () => null, points: { show: false } }],
        hooks: { draw: [drawn] },
      },
      [xSpan, ySpan],
      box,
    );
    const resize = new ResizeObserver(() => plot.setSize({ width: box.clientWidth, height }));
    resize.observe(box);
    return () => (resize.disconnect(), plot.destroy());
  }, [told, x, y, palette, imperial]); // eslint-disable-line
  if (!told.x.length) return <p className="soft">These channels never have values at one time here.</p>;
  const [low, unit] = convert(least, inkUnit);
  return (
    <>
      <div
        ref={holder}
        role="img"
        aria-label={`${y?.label} over ${x?.label}, ${told.x.length} samples`}
        style={{ minWidth: 0 }}
      />
      {told.ink.length > 0 && (
        <div className="row ink-key soft">
          {ink?.label} <span className="num">{plain(low)}</span>
          <span className="ink-bar" />
          <span className="num">
            {plain(convert(most, inkUnit)[0])} {unit}
          </span>
        </div>
      )}
    </>
  );
}
