import { Alert, Button, Input, Select } from "antd";
import { useEffect, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { BlankList, type Rows } from "./BlankList";

type Axes = Schemas["AxesIn"];

/** A map of a device that nobody knows, begun from nothing: its list typed, pasted or taken over, its axes typed. */
export function BeginMap({ number, part, onBegun }: { number: string; part: string; onBegun: () => void }) {
  const path = { number, part };
  const [copy, setCopy] = useState("");
  const [lists, setLists] = useState<Record<string, Rows>>({});
  const [tables, setTables] = useState<Record<string, Axes>>({});
  const [scalars, setScalars] = useState<Record<string, string>>({});
  const blank = useQuery({
    meta: { shown: true },
    queryKey: ["blank", number, part, copy],
    queryFn: () =>
      take(api.GET("/api/jobs/{number}/map-parts/{part}/blank", { params: { path, query: { like: copy } } })),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const came = blank.data;
  useEffect(() => {
    if (!came) return;
    setLists(Object.fromEntries(came.lists.map((list) => [list.name, list.rows])));
    setTables(Object.fromEntries(came.tables.map(({ name, x, y }) => [name, { x, y, whole: "" }])));
  }, [came]);
  const begin = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/map-parts/{part}/begun", {
          params: { path },
          body: { lists, tables, scalars },
        }),
      ),
    onBegun,
  );
  if (!came) return null;
  const typed = (name: string) => tables[name] ?? { x: "", y: "", whole: "" };
  const type = (name: string, change: Partial<Axes>) =>
    setTables({ ...tables, [name]: { ...typed(name), ...change } });
  return (
    <div className="sheet">
      <span className="head">Begun here: {came.title}</span>
      <p className="soft">
        It holds {came.holds}. Read it off the device, its card or its maker's sheet. What is wanted begins as
        stock; where no bounds are given, only stock lies within. Keep it on the shelf afterwards, and the
        next one asks nothing.
      </p>
      {came.alike.length > 0 && (
        <label className="stacked" style={{ maxWidth: 420, margin: "8px 0" }}>
          Take over list and axes of
          <Select
            value={copy || undefined}
            placeholder="nothing: begin empty"
            allowClear
            onChange={(key) => setCopy(key ?? "")}
            options={came.alike.map((one) => ({ value: one.key, label: one.name }))}
          />
        </label>
      )}
      {came.lists.map((list) => (
        <BlankList
          key={list.name}
          path={path}
          list={list}
          rows={lists[list.name] ?? []}
          onRows={(rows) => setLists({ ...lists, [list.name]: rows })}
        />
      ))}
      {came.tables.map((table) => (
        <fieldset key={table.name} className="blank">
          <legend>
            {table.text}, {table.unit}
          </legend>
          {table.whole ? (
            <Input.TextArea
              rows={6}
              aria-label={`${table.text}, pasted with its axes`}
              placeholder={`Paste it whole: ${table.x_text} [${table.x_unit}] across, ${table.y_text} [${table.y_unit}] down`}
              value={typed(table.name).whole}
              onChange={(event) => type(table.name, { whole: event.target.value })}
            />
          ) : (
            <div className="row" style={{ alignItems: "flex-end" }}>
              <label className="stacked" style={{ flex: "1 1 300px" }}>
                {table.x_text}, {table.x_unit}: its points
                <Input
                  className="num"
                  value={typed(table.name).x}
                  onChange={(event) => type(table.name, { x: event.target.value })}
                />
              </label>
              {table.y_typed && (
                <label className="stacked" style={{ flex: "1 1 300px" }}>
                  {table.y_text}, {table.y_unit}: its points
                  <Input
                    className="num"
                    value={typed(table.name).y}
                    onChange={(event) => type(table.name, { y: event.target.value })}
                  />
                </label>
              )}
            </div>
          )}
        </fieldset>
      ))}
      {came.scalars.length > 0 && (
        <div className="row" style={{ alignItems: "flex-end", margin: "10px 0" }}>
          {came.scalars.map((scalar) => (
            <label key={scalar.name} className="stacked" style={{ flex: "0 1 260px" }}>
              {scalar.text}
              {scalar.unit && `, ${scalar.unit}`}
              <Input
                className="num"
                value={scalars[scalar.name] ?? ""}
                onChange={(event) => setScalars({ ...scalars, [scalar.name]: event.target.value })}
              />
            </label>
          ))}
        </div>
      )}
      {begin.error && (
        <Alert type="error" title={(begin.error as ApiError).message} style={{ margin: "8px 0" }} />
      )}
      <Button type="primary" size="large" loading={begin.isPending} onClick={() => begin.mutate(undefined)}>
        Begin with these
      </Button>
    </div>
  );
}
