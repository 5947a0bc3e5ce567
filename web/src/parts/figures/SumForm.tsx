import { Alert, Button, Input, Select, Switch } from "antd";
import { useEffect, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { CallCard } from "../ledger/CallCard";
import { Drawing } from "./Drawing";
import { Num, useMoney } from "./Num";
import { SumCard } from "./SumCard";

export type Typed = Record<string, unknown>;
type Field = Schemas["FieldOut"];
type Row = Record<string, string>;

/** A sum by its fields: any unit, computed by the server as it is typed, every figure with its formula and source. */
export function SumForm({
  kind,
  start,
  onTyped,
  onKeep,
  keeping,
  kept,
}: {
  kind: Schemas["SumKindOut"];
  start: Typed;
  onTyped?: (typed: Typed) => void;
  onKeep?: (typed: Typed) => void;
  keeping?: boolean;
  kept?: boolean;
}) {
  const [typed, setTyped] = useState<Typed>(() => ({
    ...Object.fromEntries(kind.fields.map((field) => [field.name, field.default])),
    ...start,
  }));
  const [settled, setSettled] = useState(typed);
  useEffect(() => {
    const wait = setTimeout(() => setSettled(typed), 250);
    return () => clearTimeout(wait);
  }, [typed]);
  const result = useQuery({
    meta: { shown: true },
    queryKey: ["sum", kind.key, settled],
    queryFn: () =>
      take(
        api.POST("/api/sums/{key}/results", {
          params: { path: { key: kind.key } },
          body: { typed: settled },
        }),
      ),
    placeholderData: (old) => old,
    staleTime: Infinity,
  });
  const wrong = result.error as ApiError | null;
  const set = (name: string, value: unknown) => {
    const next = { ...typed, [name]: value };
    setTyped(next);
    onTyped?.(next);
  };
  const plainFields = kind.fields.filter((field) => field.kind !== "rows");
  const found = wrong ? undefined : result.data;
  return (
    <>
      {found?.cautions.map((text) => (
        <div className="caution" role="note" key={text}>
          <span className="head">Before you use it</span>
          <span>{text}</span>
        </div>
      ))}
      <div className="sheet">
        <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fill, minmax(196px, 1fr))" }}>
          {plainFields.map((field) => (
            <One
              key={field.name}
              field={field}
              value={typed[field.name]}
              wrong={wrong?.field === field.name ? wrong.message : ""}
              onChange={(value) => set(field.name, value)}
            />
          ))}
        </div>
        {kind.fields
          .filter((field) => field.kind === "rows")
          .map((field) => (
            <Rows
              key={field.name}
              field={field}
              rows={Array.isArray(typed[field.name]) ? (typed[field.name] as Row[]) : []}
              onChange={(rows) => set(field.name, rows)}
            />
          ))}
        {wrong && <Alert type="error" title={wrong.message} style={{ marginTop: 8 }} />}
        {onKeep && (
          <div className="row" style={{ marginTop: 10 }}>
            <Button type="primary" disabled={!!wrong} loading={keeping} onClick={() => onKeep(typed)}>
              {kept ? "Keep again with the job" : "Keep with the job"}
            </Button>
            <span className="soft">Its figures and judgements go into the ledger.</span>
          </div>
        )}
      </div>
      {found?.drawing && (
        <div className="sheet">
          <Drawing drawing={found.drawing} />
        </div>
      )}
      <div
        className="cols"
        style={{ marginBottom: 12, gridTemplateColumns: "repeat(auto-fit, minmax(270px, 1fr))" }}
      >
        {found?.sums.map((sum) => (
          <SumCard key={sum.title} sum={sum} />
        ))}
        {found?.calls.map((call) => (
          <CallCard
            key={call.title}
            verdict={call.verdict}
            title={call.title}
            because={call.because}
            next={call.do_next}
            source={call.source}
          />
        ))}
      </div>
      {found?.tables.map((table) => (
        <div className="sheet" key={table.title}>
          <span className="head">{table.title}</span>
          <div style={{ overflowX: "auto" }}>
            <table className="plain">
              <thead>
                <tr>
                  {table.columns.map((column) => (
                    <th key={column}>{column}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {table.rows.map((row, n) => (
                  <tr key={n}>
                    {row.map((cell, m) => (
                      <td key={m}>{typeof cell === "number" ? <Num value={cell} /> : cell}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      ))}
    </>
  );
}

function One({
  field,
  value,
  wrong,
  onChange,
}: {
  field: Field;
  value: unknown;
  wrong: string;
  onChange: (value: unknown) => void;
}) {
  const inMoney = useMoney();
  const text = value === undefined || value === null ? "" : String(value);
  if (field.kind === "flag")
    return (
      <label className="row" style={{ flexWrap: "nowrap", minHeight: 42, alignSelf: "end" }}>
        <Switch
          checked={text === "yes" || value === true}
          onChange={(on) => onChange(on ? "yes" : "no")}
          aria-label={field.label}
        />{" "}
        {field.label}
      </label>
    );
  return (
    <label style={{ display: "block" }}>
      <span className="soft">{field.label}</span>
      {field.kind === "choice" ? (
        <Select
          style={{ width: "100%" }}
          value={text}
          onChange={onChange}
          aria-label={field.label}
          options={field.choices.map((choice) => ({ value: choice, label: choice }))}
        />
      ) : (
        <Input
          className="num"
          value={text}
          status={wrong ? "error" : undefined}
          onChange={(event) => onChange(event.target.value)}
          suffix={<span className="soft">{inMoney(unitOf(field, text))}</span>}
          aria-label={field.label}
        />
      )}
    </label>
  );
}

/** The unit that is meant, unless one is typed. */
function unitOf(field: Field, text: string): string {
  if (/[a-zµ°Ω%/]/i.test(text)) return "";
  return field.unit || CANONICAL[field.quantity] || "";
}
const CANONICAL: Record<string, string> = {
  pressure: "kPa",
  temperature: "°C",
  injector_flow: "cm³/min",
  pump_flow: "l/h",
  pulse: "ms",
  power: "kW",
  torque: "N·m",
  length: "mm",
  voltage: "V",
  current: "A",
  engine_speed: "rpm",
  fraction: "fraction",
};

function Rows({ field, rows, onChange }: { field: Field; rows: Row[]; onChange: (rows: Row[]) => void }) {
  const set = (n: number, name: string, value: unknown) =>
    onChange(rows.map((row, m) => (m === n ? { ...row, [name]: String(value) } : row)));
  const blank = Object.fromEntries(
    field.columns.map((column) => [column.name, String(column.default ?? "")]),
  );
  return (
    <div style={{ marginTop: 12 }}>
      <span className="head">{field.label}</span>
      <div style={{ overflowX: "auto" }}>
        <table className="plain grid">
          <thead>
            <tr>
              {field.columns.map((column) => (
                <th key={column.name}>
                  {column.label}
                  {unitOf(column, "") && <span className="num"> {unitOf(column, "")}</span>}
                </th>
              ))}
              <th />
            </tr>
          </thead>
          <tbody>
            {rows.map((row, n) => (
              <tr key={n}>
                {field.columns.map((column) => (
                  <td key={column.name}>
                    {column.kind === "choice" ? (
                      <Select
                        style={{ minWidth: 150 }}
                        value={row[column.name]}
                        aria-label={`${column.label}, row ${n + 1}`}
                        onChange={(value) => set(n, column.name, value)}
                        options={column.choices.map((choice) => ({ value: choice, label: choice }))}
                      />
                    ) : (
                      <Input
                        className={column.kind === "text" ? "" : "num"}
                        style={{ width: column.kind === "text" ? 138 : 68 }}
                        value={row[column.name] ?? ""}
                        aria-label={`${column.label}, row ${n + 1}`}
                        onChange={(event) => set(n, column.name, event.target.value)}
                      />
                    )}
                  </td>
                ))}
                <td>
                  <Button
                    type="text"
                    aria-label={`Delete row ${n + 1}`}
                    onClick={() => onChange(rows.filter((_, m) => m !== n))}
                  >
                    ✕
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button style={{ marginTop: 6 }} onClick={() => onChange([...rows, blank])}>
        Another row
      </Button>
    </div>
  );
}
