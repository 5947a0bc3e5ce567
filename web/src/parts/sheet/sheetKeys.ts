import type { KeyboardEvent } from "react";
import { moved, type Range } from "./range";
import { OPERATIONS, type Operation } from "./SheetTools";
import type { Table } from "./useSheet";

interface Does {
  range: Range;
  table: Table;
  setRange: (range: Range) => void;
  undo: (back: boolean) => void;
  type: (operation: Operation | null, text: string) => void;
}

/** Keys of the sheet: arrows, shift and control with them; figures and signs open the entry; undo, redo, all. */
export function onKeys(event: KeyboardEvent, does: Does): boolean {
  const { range, table } = does;
  const [rows, columns] = [table.y.length, table.x.length];
  const next = moved(event, range, rows, columns);
  const letter = event.key.toLowerCase();
  if (next) does.setRange(next);
  else if (event.ctrlKey || event.metaKey) {
    if (letter === "z") does.undo(!event.shiftKey);
    else if (letter === "y") does.undo(false);
    else if (letter === "a") does.setRange({ from: [0, 0], to: [rows - 1, columns - 1] });
    else return false;
  } else if (event.altKey) return false;
  else if (/^[\d.,-]$/.test(event.key)) does.type("set", event.key);
  else if (event.key === "Enter" || event.key === "F2") does.type(null, "");
  else {
    const asked = OPERATIONS.find((one) => one.key === event.key);
    if (!asked) return false;
    does.type(asked.value, "");
  }
  return true;
}
