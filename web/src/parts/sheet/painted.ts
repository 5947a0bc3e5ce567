import type { Schemas } from "../../api/client";

type Sheet = Schemas["SheetOut"];
type Edit = Partial<Schemas["SheetEditIn"]> & { target: string };

/** A typed figure as it stands; null where the server has to read it. */
function figure(text: string | undefined | null): number | null {
  const plain = (text ?? "").trim().replace(",", ".");
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
}

/**
 * The sheet with what was typed or pasted shown at once, until the server answers with what it took. Only figures
 * that stand as they were typed are shown so: sums are the server's. Null where there is nothing to show.
 */
export function painted(sheet: Sheet, edit: Edit): Sheet | null {
  const table = sheet.tables.find((one) => one.name === edit.target);
  if (!table) return null;
  const [top, bottom] = [
    Math.min(edit.top ?? 0, edit.bottom ?? 0),
    Math.max(edit.top ?? 0, edit.bottom ?? 0),
  ];
  const [left, right] = [
    Math.min(edit.left ?? 0, edit.right ?? 0),
    Math.max(edit.left ?? 0, edit.right ?? 0),
  ];
  const block =
    edit.operation === "paste"
      ? (edit.text ?? "").split("\n").map((line) => line.split("\t").map(figure))
      : edit.operation === "set" || edit.operation === undefined
        ? [[figure(edit.amount)]]
        : [[null]];
  const wide = block[0].length;
  if (block.some((row) => row.length !== wide || row.includes(null))) return null;
  const one = block.length === 1 && wide === 1;
  const [high, last] = one ? [bottom, right] : [top + block.length - 1, left + wide - 1];
  if (top < 0 || left < 0 || high >= table.y.length || last >= table.x.length) return null;
  const values = table.values.map((row, i) =>
    i < top || i > high
      ? row
      : row.map((old, j) =>
          j < left || j > last ? old : ((one ? block[0][0] : block[i - top][j - left]) ?? old),
        ),
  );
  return {
    ...sheet,
    tables: sheet.tables.map((other) => (other === table ? { ...table, values } : other)),
  };
}
