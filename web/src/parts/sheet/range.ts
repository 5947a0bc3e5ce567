import type { KeyboardEvent } from "react";

/** A range of cells, by its two ends: [row, column]. */
export interface Range {
  from: [number, number];
  to: [number, number];
}

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [1, 0],
  ArrowDown: [-1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** The range after an arrow key; with shift its end moves, with control to the edge. Null for other keys. */
export function moved(event: KeyboardEvent, range: Range, rows: number, columns: number): Range | null {
  const step = STEPS[event.key];
  if (!step) return null;
  const far = event.ctrlKey || event.metaKey ? 64 : 1;
  const to: [number, number] = [
    Math.min(rows - 1, Math.max(0, range.to[0] + far * step[0])),
    Math.min(columns - 1, Math.max(0, range.to[1] + far * step[1])),
  ];
  return { from: event.shiftKey ? range.from : to, to };
}

/** The range as an edit names it. */
export function sides(range: Range) {
  return { top: range.from[0], left: range.from[1], bottom: range.to[0], right: range.to[1] };
}

/** Cells of a range as text, the top row first, as a spreadsheet takes it. */
export function asText(values: number[][], range: Range): string {
  const [low, high] = [Math.min(range.from[0], range.to[0]), Math.max(range.from[0], range.to[0])];
  const [left, right] = [Math.min(range.from[1], range.to[1]), Math.max(range.from[1], range.to[1])];
  return values
    .slice(low, high + 1)
    .map((row) => row.slice(left, right + 1).join("\t"))
    .reverse()
    .join("\n");
}

/** A pasted block turned so that its last line is the lowest row, and where its lowest row lies. */
export function fromText(text: string, range: Range): { text: string; top: number; left: number } {
  const lines = text
    .replaceAll("\r", "")
    .split("\n")
    .filter((line) => line.trim());
  const high = Math.max(range.from[0], range.to[0]);
  return {
    text: lines.reverse().join("\n"),
    top: high - lines.length + 1,
    left: Math.min(range.from[1], range.to[1]),
  };
}
