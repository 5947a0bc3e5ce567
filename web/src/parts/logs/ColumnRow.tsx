import { Button, Input, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Sketch } from "./Sketch";

export type Said = Schemas["ColumnSaid"];

/** A column of the file: what it was taken for, how it looks, and what a person says it is. */
export function ColumnRow({
  read,
  choices,
  said,
  viewer,
  onSay,
}: {
  read: Schemas["ReadOut"];
  choices: Schemas["ChannelChoice"][];
  said: Said | undefined;
  viewer: boolean;
  onSay: (said: Said | null) => void;
}) {
  const now = said ?? {
    column: read.column,
    channel: read.channel,
    unit: "",
    factor: 1,
    offset: 0,
    pressure: "",
  };
  const [scaled, setScaled] = useState(now.factor !== 1 || now.offset !== 0);
  const choice = choices.find((one) => one.channel === now.channel);
  const likely = read.best.filter((name) => choices.some((one) => one.channel === name));
  const say = (change: Partial<Said>) => onSay({ ...now, ...change });
  const numbers = read.sketch.some((value) => value !== null);
  return (
    <tr className={said ? "said" : ""}>
      <td>
        <b className={`read ${read.status}`}>{said ? "said" : read.status}</b>
      </td>
      <td className="num column-name">{read.column}</td>
      <td>
        <Sketch values={read.sketch} />
      </td>
      <td className="num first-values">
        {numbers ? read.first.slice(0, 3).map(String).join(" · ") : read.words.join(" · ")}
        {read.unit && <span className="soft"> {read.unit}</span>}
      </td>
      <td>
        {viewer || !numbers ? (
          <span className={read.channel ? "" : "soft"}>{read.label || read.why}</span>
        ) : (
          <div className="row tight">
            <Select
              showSearch
              optionFilterProp="label"
              aria-label={`Channel of ${read.column}`}
              style={{ width: 190 }}
              value={now.channel}
              onChange={(channel) => say({ channel, unit: "", pressure: "" })}
              options={[
                { value: "", label: "its own name" },
                ...(likely.length
                  ? [{ label: "likely", options: likely.map((name) => option(choices, name)) }]
                  : []),
                {
                  label: "all channels",
                  options: choices.map((one) => ({ value: one.channel, label: one.label })),
                },
              ]}
            />
            {choice && choice.units.length > 1 && (
              <Select
                aria-label={`Unit of ${read.column}`}
                style={{ width: 104 }}
                value={now.unit}
                onChange={(unit) => say({ unit })}
                options={[
                  { value: "", label: "as read" },
                  ...choice.units.map((unit) => ({ value: unit, label: unit })),
                ]}
              />
            )}
            {choice && (choice.channel === "map" || choice.channel === "map_target") && (
              <Select
                aria-label={`Gauge or absolute, ${read.column}`}
                style={{ width: 116 }}
                value={now.pressure}
                onChange={(pressure) => say({ pressure })}
                options={[
                  { value: "", label: "as read" },
                  { value: "gauge", label: "gauge" },
                  { value: "absolute", label: "absolute" },
                ]}
              />
            )}
            {choice && !scaled && (
              <Button size="small" onClick={() => setScaled(true)}>
                Scale
              </Button>
            )}
            {choice && scaled && (
              <>
                <Input
                  aria-label={`Times, ${read.column}`}
                  prefix="×"
                  style={{ width: 88 }}
                  defaultValue={now.factor}
                  onBlur={(event) => say({ factor: number(event.target.value, 1) })}
                />
                <Input
                  aria-label={`Plus, ${read.column}`}
                  prefix="+"
                  style={{ width: 88 }}
                  defaultValue={now.offset}
                  onBlur={(event) => say({ offset: number(event.target.value, 0) })}
                />
              </>
            )}
            {said && (
              <Button size="small" onClick={() => onSay(null)}>
                As read
              </Button>
            )}
          </div>
        )}
        {!said && read.why && numbers && <div className="by">{read.why}</div>}
      </td>
    </tr>
  );
}

const option = (choices: Schemas["ChannelChoice"][], name: string) => ({
  value: name,
  label: choices.find((one) => one.channel === name)!.label,
});

function number(text: string, otherwise: number): number {
  const value = Number(text.replace(",", "."));
  return text.trim() && Number.isFinite(value) ? value : otherwise;
}
