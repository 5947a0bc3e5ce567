import { Button, Select } from "antd";
import { useEffect, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { Field } from "./Field";
import { Fitted } from "./Fitted";
import { SensorCurves } from "./SensorCurves";
import { KeepSheet } from "./KeepSheet";
import { SheetCalls } from "./SheetCalls";
import { SheetLists } from "./SheetList";
import { useSheet } from "./useSheet";

/** What is set in a map, in the order people work, each with its reason and what happens if it is wrong. */
export function SheetSettings({ number, part, viewer }: { number: string; part: string; viewer: boolean }) {
  const { sheet, edit, undo, put } = useSheet(number, part);
  const client = useQueryClient();
  const [added, setAdded] = useState("");
  const key = ["settings", number, part];
  const settings = useQuery({
    queryKey: [...key, sheet.data?.revision],
    enabled: sheet.data !== undefined,
    queryFn: () =>
      take(api.GET("/api/jobs/{number}/settings/{part}", { params: { path: { number, part } } })),
    placeholderData: (before) => before,
  });
  const data = sheet.data;
  if (!data || !settings.data) return <div className="wait" />;
  const scalars = new Map(data.scalars.map((one) => [one.name, one]));
  const options = new Map(
    (data.lists.find((one) => one.name === "options")?.rows ?? []).map((row) => [String(row.key), row]),
  );
  const set = (name: string, text: string) =>
    scalars.has(name)
      ? edit.mutate({ target: "scalars", name, amount: text })
      : edit.mutate({ target: "list:options", key: name, name: "wanted", value: text });
  // An option stands in its list, with its reason there.
  // Of another program only those figures are shown that somebody brought; the rest can be added.
  const elsewhere = data.form === "borrowed";
  const there = (name: string) =>
    scalars.has(name) && (!elsewhere || scalars.get(name)!.value !== null || name === added);
  const ownSection = settings.data.parameters.filter((one) => one.names.some(there));
  const reasons = new Map(
    settings.data.parameters.flatMap((one) => one.names.map((name) => [name, one] as const)),
  );
  const told = new Set(settings.data.parameters.flatMap((one) => one.names));
  const rest = data.scalars.filter(
    (one) => !told.has(one.name) && (one.value !== null || one.name === added),
  );
  return (
    <>
      <Fitted
        number={number}
        fitted={settings.data.fitted}
        viewer={viewer}
        onSaved={() => void client.invalidateQueries({ queryKey: key })}
      />
      {ownSection.map((parameter) => (
        <section className="sheet setting" key={parameter.key} aria-label={parameter.title}>
          <div>
            <b>{parameter.title}</b>
            <div className="soft">{parameter.reason}</div>
            <div className="soft">If it is wrong: {lower(parameter.wrong)}</div>
          </div>
          <div className="row" style={{ alignItems: "flex-start" }}>
            {parameter.names.filter(there).map((name) => (
              <Scalar
                key={name}
                scalar={scalars.get(name)!}
                viewer={viewer}
                onSet={(text) => set(name, text)}
              />
            ))}
          </div>
          {!viewer && (
            <div className="row">
              {settings
                .data!.advice.filter(
                  (one) =>
                    parameter.names.includes(one.name) && current(one.name, scalars, options) !== one.value,
                )
                .map((one) => (
                  <Button key={`${one.name}${one.school}`} onClick={() => set(one.name, String(one.value))}>
                    {scalars.get(one.name)?.text ?? String(options.get(one.name)?.name ?? one.name)}:{" "}
                    {one.value} {scalars.get(one.name)?.unit ?? String(options.get(one.name)?.unit ?? "")},{" "}
                    {one.reason}
                  </Button>
                ))}
            </div>
          )}
        </section>
      ))}
      {!viewer && settings.data.curves.length > 0 && (
        <SensorCurves
          number={number}
          part={part}
          curves={settings.data.curves}
          sensors={settings.data.sensors}
          have={data.tables.map((one) => one.name)}
          onSheet={put}
        />
      )}
      {rest.length > 0 && (
        <section className="sheet setting" aria-label="The engine">
          <b>The engine</b>
          <div className="row" style={{ alignItems: "flex-start" }}>
            {rest.map((one) => (
              <Scalar key={one.name} scalar={one} viewer={viewer} onSet={(text) => set(one.name, text)} />
            ))}
          </div>
        </section>
      )}
      {elsewhere && !viewer && (
        <label className="stacked sheet" style={{ maxWidth: 460 }}>
          A figure that is held against this vehicle's records
          <Select
            showSearch
            optionFilterProp="label"
            value={added || undefined}
            placeholder="choose one to type it"
            onChange={setAdded}
            options={data.scalars
              .filter((one) => one.value === null)
              .map((one) => ({ value: one.name, label: one.text }))}
          />
        </label>
      )}
      <SheetLists
        number={number}
        part={part}
        viewer={viewer}
        reasons={reasons}
        advice={settings.data.advice}
      />
      {!viewer && (data.undo ?? data.redo) && (
        <div className="row">
          <Button disabled={!data.undo} onClick={() => undo.mutate(true)}>
            Undo
          </Button>
          <Button disabled={!data.redo} onClick={() => undo.mutate(false)}>
            Redo
          </Button>
        </div>
      )}
      <SheetCalls calls={data.calls} effects={data.effects} />
      {!viewer && <KeepSheet number={number} part={part} sheet={data} />}
    </>
  );
}

const lower = (text: string) => text.slice(0, 1).toLowerCase() + text.slice(1);

function current(
  name: string,
  scalars: Map<string, Schemas["MapScalar"]>,
  options: Map<string, Schemas["MapList"]["rows"][number]>,
) {
  return scalars.has(name) ? scalars.get(name)!.value : options.get(name)?.wanted;
}

function Scalar({
  scalar,
  viewer,
  onSet,
}: {
  scalar: Schemas["MapScalar"];
  viewer: boolean;
  onSet: (text: string) => void;
}) {
  const figure = scalar.value === null ? "" : String(Number(scalar.value.toFixed(4)));
  const shown = scalar.quantity && figure ? `${figure} ${scalar.unit}` : figure;
  const [text, setText] = useState(shown);
  useEffect(() => setText(shown), [shown]);
  if (viewer)
    return (
      <span>
        {scalar.text}: <b className="num">{figure ? `${figure} ${scalar.unit}` : "not set"}</b>
      </span>
    );
  return (
    <span onBlur={() => text.trim() !== shown && onSet(text)}>
      <Field
        label={scalar.text}
        quantity={scalar.quantity}
        unit={scalar.unit}
        value={text}
        onChange={setText}
        onEnter={() => text.trim() !== shown && onSet(text)}
        hint={`${scalar.low} to ${scalar.high} ${scalar.unit}${scalar.kept !== scalar.value ? " · changed" : ""}`}
      />
    </span>
  );
}
