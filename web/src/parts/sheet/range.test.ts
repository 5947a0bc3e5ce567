import type { KeyboardEvent } from "react";
import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import { painted } from "./painted";
import { asText, fromText, moved, sides, type Range } from "./range";

const key = (name: string, more: object = {}) => ({ key: name, ...more }) as KeyboardEvent;
const at = (row: number, column: number): Range => ({ from: [row, column], to: [row, column] });

test("arrows go up to higher load, stop at the edge, and jump with control", () => {
  expect(moved(key("ArrowUp"), at(2, 2), 4, 4)!.to).toEqual([3, 2]);
  expect(moved(key("ArrowUp"), at(3, 2), 4, 4)!.to).toEqual([3, 2]);
  expect(moved(key("ArrowLeft"), at(0, 0), 4, 4)!.to).toEqual([0, 0]);
  expect(moved(key("ArrowRight", { ctrlKey: true }), at(1, 1), 4, 9)!.to).toEqual([1, 8]);
  expect(moved(key("a"), at(1, 1), 4, 4)).toBeNull();
});

test("shift holds the first end", () => {
  const grown = moved(key("ArrowDown", { shiftKey: true }), at(2, 1), 4, 4)!;
  expect(grown).toEqual({ from: [2, 1], to: [1, 1] });
  expect(sides(grown)).toEqual({ top: 2, left: 1, bottom: 1, right: 1 });
});

test("what is copied and pasted at the same place is the same", () => {
  const values = [
    [1, 2, 3],
    [4, 5, 6],
    [7, 8, 9],
  ];
  const range: Range = { from: [2, 1], to: [1, 2] };
  const text = asText(values, range);
  expect(text).toBe("8\t9\n5\t6");
  const back = fromText(text, range);
  expect(back).toEqual({ text: "5\t6\n8\t9", top: 1, left: 1 });
});

const table = {
  name: "ve",
  x: [1, 2],
  y: [1, 2],
  values: [
    [1, 2],
    [3, 4],
  ],
};
const sheet = { tables: [table] } as unknown as Schemas["SheetOut"];
const cells = (found: Schemas["SheetOut"] | null) => found?.tables[0]!.values;

test("a figure is painted over its whole range, a block where it lies", () => {
  const one = {
    target: "ve",
    operation: "set" as const,
    top: 0,
    left: 0,
    bottom: 1,
    right: 0,
    amount: "9,5",
  };
  expect(cells(painted(sheet, one))).toEqual([
    [9.5, 2],
    [9.5, 4],
  ]);
  const block = { target: "ve", operation: "paste" as const, top: 0, left: 0, text: "5\t6\n7\t8" };
  expect(cells(painted(sheet, block))).toEqual([
    [5, 6],
    [7, 8],
  ]);
});

test.each([
  ["a sum", { operation: "add" as const, amount: "2" }],
  ["words", { operation: "set" as const, amount: "two" }],
  ["a block with a word", { operation: "paste" as const, text: "1\tx" }],
  ["a ragged block", { operation: "paste" as const, text: "1\t2\n3" }],
  ["a block over the edge", { operation: "paste" as const, left: 1, right: 1, text: "1\t2" }],
  ["a table that is not there", { target: "spark", operation: "set" as const, amount: "2" }],
])("what only the server can say is not painted: %s", (_, edit) => {
  expect(painted(sheet, { target: "ve", top: 0, left: 0, bottom: 0, right: 0, ...edit } as never)).toBeNull();
});
