import { Alert, Segmented, Select } from "antd";
import { memo, useCallback, useRef, useState, type KeyboardEvent } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { CellStory } from "./CellStory";
import { Heights } from "./Heights";
import { KeepSheet } from "./KeepSheet";
import { SheetCalls } from "./SheetCalls";
import { SheetGrid } from "./SheetGrid";
import { SheetTools, type Entry } from "./SheetTools";
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
  const labels = (data?.tables ?? [])
    .map((one) => {
      const changed = one.changed?.flat().some(Boolean) ? " · changed" : "";
      return `${one.name}\t${one.title} [${one.unit}]${changed}`;
    })
    .join("\n");
  if (sheet.error) return <Alert type="warning" title={sheet.error.message} />;
  if (!data) return <div className="wait" />;
  if (!table) return <Alert type="info" title="This map has no tables: its settings are a list." />;
  return (
    <>
      <div className="row" style={{ marginBottom: 8 }}>
        <Which name={table.name} onName={setName} labels={labels} />
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

/** The tables of the map by name; as one text, so that it is drawn again only where that changes. */
const Which = memo(function Which(p: { name: string; onName: (name: string) => void; labels: string }) {
  const options = p.labels.split("\n").map((line) => {
    const [value, label] = line.split("\t");
    return { value, label };
  });
  return (
    <Select
      value={p.name}
      onChange={p.onName}
      style={{ minWidth: 300 }}
      aria-label="Table"
      options={options}
    />
  );
});

interface TableProps extends Pick<ReturnType<typeof useSheet>, "edit" | "undo"> {
  number: string;
  part: string;
  viewer: boolean;
  table: Table;
  sheet: NonNullable<ReturnType<typeof useSheet>["sheet"]["data"]>;
}

function OneTable({ number, part, viewer, table, sheet, edit, undo }: TableProps) {
  const [range, setRange] = useState<Range>(START);
  const [view, setView] = useState<View>("sheet");
  const [against, setAgainst] = useState<number | null>(null);
  const entry = useRef<Entry>(null);
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
  const { mutate: change } = edit;
  const { mutate: step } = undo;
  const back = useCallback(() => grid.current?.querySelector<HTMLElement>("[role=grid]")?.focus(), []);
  const did = useCallback(
    (body: Omit<Parameters<typeof change>[0], "target">) =>
      change({ target: table.name, ...body, ...sides(range) }),
    [change, table.name, range],
  );
  const enter = useCallback(
    (operation: "set" | "add" | "multiply" | "percent", amount: string) => {
      did({ operation, amount });
      back();
    },
    [did, back],
  );
  const onDo = useCallback(
    (operation: "equal" | "fill" | "smooth", over: boolean) => did({ operation, over_measured: over }),
    [did],
  );
  const paste = (text: string) => {
    if (viewer || !text.trim()) return;
    const block = fromText(text, range);
    change({
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
      undo: step,
      type: (chosen, text) => entry.current?.type(chosen, text),
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
          unit={table.unit}
          where={where}
          undo={sheet.undo}
          redo={sheet.redo}
          onEnter={enter}
          onLeave={back}
          ticked={evidence.data?.ticks != null}
          onDo={onDo}
          onUndo={step}
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
        <Shown
          view={view}
          onView={setView}
          against={against}
          onAgainst={setAgainst}
          versions={sheet.versions}
        />
      </div>
      <Under view={view} number={number} part={part} table={table} row={row} column={column} sheet={sheet} />
    </div>
  );
}

interface ShownProps {
  view: View;
  onView: (view: View) => void;
  against: number | null;
  onAgainst: (version: number | null) => void;
  versions: { id: number; version: string }[];
}

/** Values or the difference to a version, and what stands under the grid. */
const Shown = memo(function Shown({ view, onView, against, onAgainst, versions }: ShownProps) {
  return (
    <span className="row">
      <Select
        value={against}
        onChange={onAgainst}
        style={{ minWidth: 190 }}
        aria-label="Difference to a version"
        options={[
          { value: null, label: "values" },
          ...versions.map((one) => ({ value: one.id, label: `difference to ${one.version}` })),
        ]}
      />
      <Segmented value={view} onChange={onView} aria-label="View" options={VIEWS} />
    </span>
  );
});

const VIEWS: { value: View; label: string }[] = [
  { value: "sheet", label: "Story" },
  { value: "slice", label: "Slice" },
  { value: "heights", label: "Heights" },
];

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
