import { Alert, Segmented, Select, type InputRef } from "antd";
import { useRef, useState, type KeyboardEvent } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { CellStory } from "./CellStory";
import { Heights } from "./Heights";
import { KeepSheet } from "./KeepSheet";
import { SheetCalls } from "./SheetCalls";
import { SheetGrid } from "./SheetGrid";
import { SheetTools, type Operation } from "./SheetTools";
import { onKeys } from "./sheetKeys";
import { Slice } from "./Slice";
import { asText, fromText, sides, type Range } from "./range";
import { useSheet, type Table } from "./useSheet";

type View = "sheet" | "slice" | "heights";
const START: Range = { from: [0, 0], to: [0, 0] };

/** A map's tables, edited like a sheet. */
export function MapSheet({ number, part, viewer }: { number: string; part: string; viewer: boolean }) {
  const { sheet, edit, undo } = useSheet(number, part);
  const [name, setName] = useState<string | null>(null);
  const data = sheet.data;
  const table = data?.tables.find((one) => one.name === name) ?? data?.tables[0];
  if (sheet.error) return <Alert type="warning" title={sheet.error.message} />;
  if (!data) return <div className="wait" />;
  if (!table) return <Alert type="info" title="This map has no tables: its settings are a list." />;
  return (
    <>
      <div className="row" style={{ marginBottom: 8 }}>
        <Select
          value={table.name}
          onChange={setName}
          style={{ minWidth: 300 }}
          aria-label="Table"
          options={data.tables.map((one) => ({
            value: one.name,
            label: `${one.title} [${one.unit}]${one.changed?.flat().some(Boolean) ? " · changed" : ""}`,
          }))}
        />
        <span className="soft">
          {data.name} {data.version}
          {data.edits > 0 && ` · ${data.edits} ${data.edits === 1 ? "edit" : "edits"} not kept yet`}
        </span>
      </div>
      <OneTable
        key={table.name}
        number={number}
        part={part}
        viewer={viewer}
        table={table}
        sheet={data}
        edit={edit}
        undo={undo}
      />
      <SheetCalls calls={data.calls} effects={data.effects} />
      {!viewer && <KeepSheet number={number} part={part} sheet={data} />}
    </>
  );
}

interface TableProps extends Pick<ReturnType<typeof useSheet>, "edit" | "undo"> {
  number: string;
  part: string;
  viewer: boolean;
  table: Table;
  sheet: NonNullable<ReturnType<typeof useSheet>["sheet"]["data"]>;
}

function OneTable({ number, part, viewer, table, sheet, edit, undo }: TableProps) {
  const [range, setRange] = useState<Range>(START);
  const [operation, setOperation] = useState<Operation>("set");
  const [amount, setAmount] = useState("");
  const [view, setView] = useState<View>("sheet");
  const [against, setAgainst] = useState<number | null>(null);
  const entry = useRef<InputRef>(null);
  const grid = useRef<HTMLDivElement>(null);
  const path = { number, part };
  const evidence = useQuery({
    queryKey: ["evidence", number, part, table.name, sheet.version],
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/sheets/{part}/evidence", {
          params: { path, query: { table: table.name } },
        }),
      ),
  });
  const difference = useQuery({
    queryKey: ["difference", number, part, table.name, against, sheet.revision],
    enabled: against !== null,
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/sheets/{part}/difference", {
          params: { path, query: { table: table.name, version: against ?? 0 } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const back = () => grid.current?.querySelector<HTMLElement>("[role=grid]")?.focus();
  const enter = () => {
    if (!amount.trim() || viewer) return;
    edit.mutate({ target: table.name, operation, amount, ...sides(range) });
    setAmount("");
    back();
  };
  const paste = (text: string) => {
    if (viewer || !text.trim()) return;
    const block = fromText(text, range);
    edit.mutate({
      ...sides(range),
      target: table.name,
      operation: "paste",
      text: block.text,
      ...(text.trim().split(/\s+/).length > 1
        ? { top: block.top, left: block.left, bottom: block.top, right: block.left }
        : {}),
    });
  };
  const key = (event: KeyboardEvent) => {
    const done = onKeys(event, {
      range,
      table,
      setRange,
      undo: (one) => undo.mutate(one),
      type: (chosen, text) => {
        if (chosen) setOperation(chosen);
        if (text) setAmount(text);
        entry.current?.focus();
      },
    });
    if (!done) return;
    event.preventDefault();
    event.stopPropagation();
  };
  const [row, column] = [
    Math.min(range.to[0], table.y.length - 1),
    Math.min(range.to[1], table.x.length - 1),
  ];
  const where = `${table.x[column]} ${table.x_unit}${table.y_text ? `, ${table.y[row]} ${table.y_unit || table.y_text}` : ""}`;
  return (
    <div ref={grid}>
      {!viewer && (
        <SheetTools
          entry={entry}
          operation={operation}
          amount={amount}
          unit={table.unit}
          where={where}
          busy={edit.isPending}
          undo={sheet.undo}
          redo={sheet.redo}
          onOperation={setOperation}
          onAmount={setAmount}
          onEnter={enter}
          onLeave={() => (setAmount(""), back())}
          ticked={evidence.data?.ticks != null}
          onDo={(what, over) =>
            edit.mutate({ target: table.name, operation: what, over_measured: over, ...sides(range) })
          }
          onUndo={(one) => undo.mutate(one)}
        />
      )}
      <SheetGrid
        table={table}
        shown={against !== null ? (difference.data?.cells ?? null) : null}
        ticks={evidence.data?.ticks ?? null}
        range={range}
        onRange={setRange}
        onKey={key}
        onPaste={paste}
        onCopy={() => asText(table.values, range)}
      />
      <div className="row" style={{ justifyContent: "space-between", margin: "6px 0" }}>
        <span className="soft" aria-live="polite">
          <b>{where}</b> · {table.title}, {table.unit}
          {against !== null &&
            (difference.data?.cells
              ? ` · shown: ${difference.data.what}, ${difference.data.unit}, against that version`
              : " · that version has no such table")}
        </span>
        <span className="row">
          <Select
            value={against}
            onChange={setAgainst}
            style={{ minWidth: 190 }}
            aria-label="Difference to a version"
            options={[
              { value: null, label: "values" },
              ...sheet.versions.map((one) => ({ value: one.id, label: `difference to ${one.version}` })),
            ]}
          />
          <Segmented
            value={view}
            onChange={setView}
            aria-label="View"
            options={[
              { value: "sheet", label: "Story" },
              { value: "slice", label: "Slice" },
              { value: "heights", label: "Heights" },
            ]}
          />
        </span>
      </div>
      <Under view={view} number={number} part={part} table={table} row={row} column={column} sheet={sheet} />
    </div>
  );
}

/** Under the grid: the cell's story, a slice, or the surface. */
function Under(p: {
  view: View;
  number: string;
  part: string;
  table: Table;
  row: number;
  column: number;
  sheet: { revision: number };
}) {
  const { number, part, table, row, column } = p;
  const { revision } = p.sheet;
  const at = { number, part, row, column, revision };
  if (p.view === "slice") return <Slice {...at} table={table} />;
  if (p.view === "heights") return <Heights number={number} part={part} table={table} revision={revision} />;
  return <CellStory {...at} target={table.name} unit={table.unit} />;
}
