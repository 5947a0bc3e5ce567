import { Button, Checkbox, Input, Select } from "antd";
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { Sign } from "./Sign";
import { useSheet } from "./useSheet";

type List = Schemas["MapList"];
type Column = Schemas["MapColumn"];
type Value = string | number | boolean | null | undefined;
/** What a map's maker says of a setting, not what is chosen. */
const GIVEN = new Set([
  "low",
  "high",
  "stock",
  "closed_course",
  "coding",
  "fixed",
  "before",
  "on_shows",
  "off_shows",
]);
const HIDDEN = new Set(["low", "high", "unit", "closed_course"]);

/** The lists of a map: options with what is wanted and why, levels, modes, positions, presets, entries. */
export function SheetLists({
  number,
  part,
  viewer,
  reasons,
  advice,
}: {
  number: string;
  part: string;
  viewer: boolean;
  /** What is said of an option, by its key. */
  reasons: Map<string, Schemas["MapParameter"]>;
  advice: Schemas["MapAdvice"][];
}) {
  const { sheet, edit } = useSheet(number, part);
  const data = sheet.data;
  if (!data) return null;
  return (
    <>
      {data.lists.map((list) => (
        <div className="sheet" key={list.name} style={{ overflowX: "auto" }}>
          <span className="head">{list.text}</span>
          <table className="plain listed">
            <thead>
              <tr>
                {shownColumns(list).map((column) => (
                  <th key={column.name}>{column.text}</th>
                ))}
                <th />
              </tr>
            </thead>
            <tbody>
              {list.rows.map((row) => {
                const key = String(row[list.key]);
                const asks = data.unsigned[key];
                return (
                  <tr key={key}>
                    {shownColumns(list).map((column) => (
                      <td key={column.name}>
                        <Place
                          column={column}
                          row={row}
                          fixed={viewer || given(list, column, row)}
                          onSet={(value) =>
                            edit.mutate({
                              target: `list:${list.name}`,
                              key,
                              name: column.name,
                              value: value ?? null,
                            })
                          }
                        />
                        {column.name === "name" && reasons.has(key) && (
                          <div className="soft" style={{ maxWidth: 260 }}>
                            {reasons.get(key)?.reason} {reasons.get(key)?.wrong}
                          </div>
                        )}
                        {column.name === "wanted" &&
                          !viewer &&
                          advice
                            .filter((one) => one.name === key && one.value !== row.wanted)
                            .map((one) => (
                              <Button
                                key={one.reason}
                                onClick={() =>
                                  edit.mutate({
                                    target: `list:${list.name}`,
                                    key,
                                    name: "wanted",
                                    value: one.value,
                                  })
                                }
                              >
                                {one.value}: {one.reason}
                              </Button>
                            ))}
                      </td>
                    ))}
                    <td>
                      {data.typed && !viewer && (
                        <Button
                          type="text"
                          aria-label={`Take off ${String(row.name ?? key)}`}
                          onClick={() =>
                            edit.mutate({ target: `list:${list.name}`, operation: "take off", key })
                          }
                        >
                          Take off
                        </Button>
                      )}
                      {row.closed_course === true && <span className="mark">closed course only</span>}
                      {asks && !viewer && <Sign number={number} part={part} setting={key} what={asks} />}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          {data.typed && !viewer && (
            <AddRow
              list={list}
              onAdd={(row) => edit.mutate({ target: `list:${list.name}`, operation: "add", row })}
            />
          )}
        </div>
      ))}
    </>
  );
}

/** A row more of a list that is typed here. */
function AddRow({ list, onAdd }: { list: List; onAdd: (row: Record<string, string>) => void }) {
  const [row, setRow] = useState<Record<string, string> | null>(null);
  if (!row)
    return (
      <Button style={{ marginTop: 6 }} onClick={() => setRow({})}>
        Another row
      </Button>
    );
  return (
    <div className="blank-row" role="group" aria-label={`${list.text}, another row`}>
      {list.columns
        .filter((column) => column.name !== "key")
        .map((column) => (
          <label key={column.name} className="stacked">
            {column.text}
            {column.unit && `, ${column.unit}`}
            {column.form === "choice" || column.form === "yes" ? (
              <Select
                aria-label={column.text}
                value={row[column.name] || (column.form === "yes" ? "no" : undefined)}
                onChange={(value) => setRow({ ...row, [column.name]: value })}
                options={(column.form === "yes" ? ["no", "yes"] : column.choices).map((value) => ({
                  value,
                  label: value,
                }))}
              />
            ) : (
              <Input
                className={column.form === "text" ? "" : "num"}
                aria-label={column.text}
                value={row[column.name] ?? ""}
                onChange={(event) => setRow({ ...row, [column.name]: event.target.value })}
              />
            )}
          </label>
        ))}
      <Button type="primary" onClick={() => (onAdd(row), setRow(null))}>
        Add it
      </Button>
      <Button type="text" onClick={() => setRow(null)}>
        Leave it
      </Button>
    </div>
  );
}

/** What its maker gives is read, not typed. */
function given(list: List, column: Column, row: Record<string, Value>): boolean {
  const named = column.name === "name" && (list.name === "options" || list.name === "entries");
  return named || column.name === list.key || GIVEN.has(column.name) || row.fixed === true;
}

function shownColumns(list: List): Column[] {
  return list.columns.filter(
    (column) =>
      !HIDDEN.has(column.name) &&
      !(
        column.name === list.key &&
        list.columns.some((one) => one.name === "name") &&
        list.name === "options"
      ) &&
      list.rows.some((row) => row[column.name] !== undefined),
  );
}

function Place({
  column,
  row,
  fixed,
  onSet,
}: {
  column: Column;
  row: Record<string, Value>;
  fixed: boolean;
  onSet: (value: Value) => void;
}) {
  const value = row[column.name];
  const unit = column.name === "wanted" || column.name === "stock" ? String(row.unit ?? "") : column.unit;
  const [text, setText] = useState(show(value));
  useEffect(() => setText(show(value)), [value]);
  const bounds =
    column.name === "wanted" && row.low !== undefined ? `${show(row.low)} to ${show(row.high)} ${unit}` : "";
  if (column.form === "yes")
    return fixed ? (
      <>{value ? "yes" : "no"}</>
    ) : (
      <Checkbox
        checked={value === true}
        onChange={(event) => onSet(event.target.checked)}
        aria-label={column.text}
      />
    );
  if (fixed)
    return (
      <span className={typeof value === "number" ? "num" : ""}>
        {show(value)} {typeof value === "number" ? unit : ""}
      </span>
    );
  if (column.choices.length)
    return (
      <Select
        value={String(value ?? "")}
        onChange={onSet}
        aria-label={column.text}
        options={column.choices.map((one) => ({ value: one, label: one }))}
        style={{ minWidth: 130 }}
      />
    );
  return (
    <>
      <Input
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text !== show(value) && onSet(text)}
        onPressEnter={(event) => event.currentTarget.blur()}
        suffix={column.form === "text" ? undefined : unit}
        aria-label={`${column.text}, ${String(row.name ?? row[Object.keys(row)[0]])}`}
        style={{ minWidth: column.form === "text" ? 170 : 120 }}
      />
      {bounds && <div className="soft">{bounds}</div>}
    </>
  );
}

const show = (value: Value): string =>
  value === null || value === undefined ? "" : typeof value === "number" ? String(value) : String(value);
