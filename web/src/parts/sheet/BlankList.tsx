import { Alert, Button, Input, Select } from "antd";
import { useState } from "react";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../figures/said";

export type Rows = Record<string, string>[];

/** A list of a map as it is typed: a row by its fields, or many lines pasted at once. */
export function BlankList({
  path,
  list,
  rows,
  onRows,
}: {
  path: { number: string; part: string };
  list: Schemas["BlankList"];
  rows: Rows;
  onRows: (rows: Rows) => void;
}) {
  const [text, setText] = useState("");
  const read = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/map-parts/{part}/blank/read", {
          params: { path },
          body: { list: list.name, text },
        }),
      ),
    (found) => (setText(""), onRows([...rows, ...found.rows])),
  );
  const put = (at: number, key: string, value: string) =>
    onRows(rows.map((row, n) => (n === at ? { ...row, [key]: value } : row)));
  return (
    <fieldset className="blank">
      <legend>{list.text}</legend>
      {rows.map((row, at) => (
        <div className="blank-row" key={at} role="group" aria-label={`${list.text}, row ${at + 1}`}>
          {list.columns.map((column) => (
            <label key={column.key} className="stacked">
              {column.text}
              {column.unit && `, ${column.unit}`}
              {column.form === "choice" || column.form === "yes" ? (
                <Select
                  aria-label={`${column.text}, row ${at + 1}`}
                  value={row[column.key] || (column.form === "yes" ? "no" : undefined)}
                  onChange={(value) => put(at, column.key, value)}
                  options={(column.form === "yes" ? ["no", "yes"] : column.choices).map((value) => ({
                    value,
                    label: value,
                  }))}
                />
              ) : (
                <Input
                  className={column.form === "text" ? "" : "num"}
                  aria-label={`${column.text}, row ${at + 1}`}
                  value={row[column.key] ?? ""}
                  onChange={(event) => put(at, column.key, event.target.value)}
                />
              )}
            </label>
          ))}
          <Button type="text" onClick={() => onRows(rows.filter((_, n) => n !== at))}>
            Take off
          </Button>
        </div>
      ))}
      <div className="row">
        <Button onClick={() => onRows([...rows, {}])}>Another row</Button>
        <details style={{ flex: "1 1 420px" }}>
          <summary>Paste many lines</summary>
          <p className="soft">
            A line each, cells by tab or semicolon: {list.columns.map((column) => column.text).join(", ")}.
            Other columns or another order: their names in the first line.
          </p>
          <Input.TextArea
            rows={5}
            aria-label={`${list.text}, pasted`}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          {read.error && <Alert type="warning" title={(read.error as ApiError).message} />}
          <Button
            style={{ marginTop: 6 }}
            disabled={!said(text)}
            loading={read.isPending}
            onClick={() => read.mutate(undefined)}
          >
            Take these lines
          </Button>
        </details>
      </div>
    </fieldset>
  );
}
