import { Button, Input } from "antd";
import { useState } from "react";
import { Num } from "../figures/Num";
import type { GridProps } from "./gridProps";

interface Field {
  name: string;
  scale: number;
  offset?: number;
  step: number;
}

/** Codes on injector bodies: the value to enter, and what the computer says after. */
export function BodyCodes({ grid, viewer, busy, enter }: GridProps) {
  const about = grid.about as unknown as { cylinders: number; fields: Field[] };
  const rows = Array.from({ length: about.cylinders }, (_, n) => n);
  const empty = () => rows.map(() => about.fields.map(() => ""));
  const [codes, setCodes] = useState<string[][]>((grid.data.codes as string[][]) ?? empty());
  const [before, setBefore] = useState<string[][]>((grid.data.before as string[][]) ?? empty());
  const [read, setRead] = useState<string[][]>((grid.data.read as string[][]) ?? empty());
  const view = grid.view as { entry?: (number | null)[][]; words?: string[][] };
  const set = (table: string[][], row: number, column: number, text: string) =>
    table.map((line, r) => (r === row ? line.map((cell, c) => (c === column ? text : cell)) : line));
  const entered = view.entry?.every((line) => line.every((value) => value !== null));
  return (
    <>
      <table className="plain grid">
        <thead>
          <tr>
            <th>cylinder</th>
            {about.fields.flatMap((f) => [
              <th key={`${f.name}1`}>{f.name}, on the body</th>,
              <th key={`${f.name}0`}>held before</th>,
              <th key={`${f.name}2`} className="r">
                enter
              </th>,
              <th key={`${f.name}3`}>read back</th>,
              <th key={`${f.name}4`} />,
            ])}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row}>
              <td className="num">{row + 1}</td>
              {about.fields.flatMap((f, column) => {
                const word = view.words?.[row]?.[column] ?? "";
                return [
                  <td key={`${f.name}1`}>
                    <Input
                      disabled={viewer}
                      className="num"
                      inputMode="numeric"
                      maxLength={6}
                      style={{ width: 86 }}
                      value={codes[row][column]}
                      aria-label={`Cylinder ${row + 1} ${f.name} code`}
                      onChange={(e) => setCodes(set(codes, row, column, e.target.value))}
                    />
                  </td>,
                  <td key={`${f.name}0`}>
                    <Input
                      disabled={viewer}
                      className="num"
                      style={{ width: 86 }}
                      value={before[row]?.[column] ?? ""}
                      aria-label={`Cylinder ${row + 1} ${f.name} held before`}
                      onChange={(e) => setBefore(set(before, row, column, e.target.value))}
                    />
                  </td>,
                  <td key={`${f.name}2`} className="r">
                    <b>
                      <Num value={view.entry?.[row]?.[column] ?? null} />
                    </b>
                  </td>,
                  <td key={`${f.name}3`}>
                    <Input
                      disabled={viewer || !entered}
                      className="num"
                      style={{ width: 86 }}
                      value={read[row][column]}
                      aria-label={`Cylinder ${row + 1} ${f.name} read back`}
                      onChange={(e) => setRead(set(read, row, column, e.target.value))}
                    />
                  </td>,
                  <td key={`${f.name}4`}>
                    {word && (
                      <b style={{ color: word === "fine" ? "var(--moss)" : "var(--oxide)" }}>{word}</b>
                    )}
                  </td>,
                ];
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft" style={{ margin: "6px 0" }}>
        {about.fields.map((f) => `${f.name}: stored in steps of ${f.step}`).join(" · ")}; within half a step
        it is the computer's rounding.
      </p>
      {!viewer && (
        <Button type="primary" loading={busy} onClick={() => enter({ codes, before, read })}>
          {entered ? "Judge what was read back" : "Work out what to enter"}
        </Button>
      )}
    </>
  );
}
