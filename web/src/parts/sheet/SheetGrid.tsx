import { memo, useRef, type ClipboardEvent, type KeyboardEvent, type PointerEvent } from "react";
import { useLook } from "../../theme/Look";
import { ink } from "./ink";
import type { Range } from "./range";
import type { Table } from "./useSheet";

interface Props {
  table: Table;
  /** What is shown in place of the values: a difference; null shows the values. */
  shown: number[][] | null;
  ticks: number[][] | null;
  range: Range;
  onRange: (range: Range) => void;
  onKey: (event: KeyboardEvent) => void;
  onPaste: (text: string) => void;
  onCopy: () => string;
}

/** The cells of a table, high load on top: keyboard first, drag, and two handles for a glove. */
export function SheetGrid({ table, shown, ticks, range, onRange, onKey, onPaste, onCopy }: Props) {
  const { dark } = useLook();
  const holding = useRef<"cell" | "start" | "end" | null>(null);
  const at = (event: PointerEvent): [number, number] | null => {
    const cell = document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-at]");
    const place = cell?.getAttribute("data-at")?.split(",").map(Number);
    return place ? [place[0], place[1]] : null;
  };
  const press = (event: PointerEvent<HTMLElement>) => {
    const handle = (event.target as HTMLElement).dataset.handle as "start" | "end" | undefined;
    const place = at(event);
    if (!place) return;
    if (handle) {
      holding.current = handle;
      event.currentTarget.setPointerCapture(event.pointerId);
      return;
    }
    onRange(event.shiftKey ? { ...range, to: place } : { from: place, to: place });
    // A finger scrolls the sheet; it drags by the handles.
    if (event.pointerType === "mouse") holding.current = "cell";
  };
  const move = (event: PointerEvent<HTMLElement>) => {
    if (!holding.current) return;
    const place = at(event);
    if (!place) return;
    const next =
      holding.current === "start" ? { from: place, to: range.to } : { from: range.from, to: place };
    if (next.from.join() !== range.from.join() || next.to.join() !== range.to.join()) onRange(next);
  };
  const [top, bottom] = [Math.min(range.from[0], range.to[0]), Math.max(range.from[0], range.to[0])];
  const [left, right] = [Math.min(range.from[1], range.to[1]), Math.max(range.from[1], range.to[1])];
  const rows = table.y.map((_, i) => i).reverse();
  return (
    <div
      className="sheet-grid"
      role="grid"
      tabIndex={0}
      aria-label={`${table.title}, ${table.unit}`}
      aria-activedescendant={`cell-${range.to.join("-")}`}
      onKeyDown={onKey}
      onPointerDown={press}
      onPointerMove={move}
      onPointerUp={() => (holding.current = null)}
      onPointerCancel={() => (holding.current = null)}
      onPaste={(event: ClipboardEvent) => {
        event.preventDefault();
        onPaste(event.clipboardData.getData("text/plain"));
      }}
      onCopy={(event: ClipboardEvent) => {
        event.preventDefault();
        event.clipboardData.setData("text/plain", onCopy());
      }}
    >
      <div role="rowgroup" className="sheet-rows" style={{ minWidth: 56 + 54 * table.x.length }}>
        {rows.map((i) => (
          <Row
            key={i}
            i={i}
            name={table.y_text ? table.y[i] : null}
            values={(shown ?? table.values)[i]}
            decimals={shown ? 1 : table.decimals}
            signed={shown !== null}
            depth={table.depth[i]}
            changed={table.changed?.[i] ?? null}
            ticks={ticks?.[i] ?? null}
            dark={dark}
            left={i >= top && i <= bottom ? left : -1}
            right={i >= top && i <= bottom ? right : -1}
            active={i === range.to[0] ? range.to[1] : -1}
            start={i === bottom ? left : -1}
            end={i === top ? right : -1}
          />
        ))}
        <div role="row" className="sheet-row">
          <span role="columnheader" className="axis side">
            {table.y_unit || table.x_unit}
          </span>
          {table.x.map((x) => (
            <span role="columnheader" className="axis" key={x}>
              {x}
            </span>
          ))}
        </div>
      </div>
    </div>
  );
}

interface RowProps {
  i: number;
  name: number | null;
  values: number[];
  decimals: number;
  signed: boolean;
  depth: number[];
  changed: boolean[] | null;
  ticks: number[] | null;
  dark: boolean;
  left: number;
  right: number;
  active: number;
  start: number;
  end: number;
}

/** A row is drawn again only where something of it changed. */
const Row = memo(function Row(p: RowProps) {
  return (
    <div role="row" className={p.start >= 0 || p.end >= 0 ? "sheet-row holds" : "sheet-row"}>
      <span role="rowheader" className="axis side">
        {p.name}
      </span>
      {p.values.map((value, j) => {
        const shade = ink(p.depth[j], p.dark);
        const picked = j >= p.left && j <= p.right && p.left >= 0;
        const holds = j === p.start || j === p.end || Boolean(p.ticks?.[j]);
        const marks = [
          p.changed?.[j] && "changed",
          picked && "in-range",
          j === p.active && "picked",
          holds && "holds",
        ];
        const figure = value.toFixed(p.decimals);
        return (
          <span
            key={j}
            id={`cell-${p.i}-${j}`}
            role="gridcell"
            data-at={`${p.i},${j}`}
            aria-selected={picked}
            aria-label={p.ticks?.[j] ? `${figure}, evidence ${p.ticks[j]} of 4` : undefined}
            className={`cell ${marks.filter(Boolean).join(" ")}`}
            style={{ backgroundColor: shade.back, color: shade.text }}
          >
            {p.signed && value > 0 ? `+${figure}` : figure.replace("-", "−")}
            {p.ticks && p.ticks[j] > 0 && (
              <span className="ticks" aria-hidden>
                {Array.from({ length: p.ticks[j] }, (_, k) => (
                  <i key={k} />
                ))}
              </span>
            )}
            {j === p.start && <span className="handle start" data-handle="start" aria-hidden />}
            {j === p.end && <span className="handle end" data-handle="end" aria-hidden />}
          </span>
        );
      })}
    </div>
  );
}, same);

function same(a: RowProps, b: RowProps): boolean {
  const plain = [
    "i",
    "name",
    "decimals",
    "signed",
    "dark",
    "left",
    "right",
    "active",
    "start",
    "end",
  ] as const;
  if (plain.some((key) => a[key] !== b[key])) return false;
  const rows = ["values", "depth", "changed", "ticks"] as const;
  return rows.every((key) => {
    const one = a[key],
      other = b[key];
    if (one === other) return true;
    return one && other ? one.length === other.length && one.every((v, n) => v === other[n]) : false;
  });
}
