import { Button, Input, Radio } from "antd";
import { useRef, useState } from "react";
import { sendFile, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Figure } from "../figures/Figure";
import { plain, useConvert } from "../figures/Num";

type Typed = {
  drum: string;
  gear: string;
  intake: string;
  barometer: string;
  humidity: string;
  tyres: string;
  fuel: string;
  ramp: string;
  measured: "" | "wheels" | "hubs" | "engine";
};
const MEASURED = [
  { value: "", label: "as the file says" },
  { value: "wheels", label: "wheels" },
  { value: "hubs", label: "hubs" },
  { value: "engine", label: "engine" },
];
const FIGURES: [keyof Typed, string, string, string, string][] = [
  ["intake", "Intake air", "temperature", "°C", "at the start of the pull"],
  ["barometer", "Barometer", "pressure", "kPa", "empty: by altitude"],
  ["humidity", "Humidity", "fraction", "%", "empty: 40 % is taken"],
  ["tyres", "Tyre pressure, driven wheels", "pressure", "kPa", "gauge"],
];

/** A run from another drum: how it was made first, then its file. Runs made otherwise are not held against each other. */
export function BringRun({
  number,
  when,
  last,
  fuel,
  onDone,
}: {
  number: string;
  when: string;
  last?: Schemas["RunOut"];
  fuel: string;
  onDone: () => void;
}) {
  const convert = useConvert();
  const chooser = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState<ApiError | null>(null);
  // What seldom changes between two runs stands there already; the air of this run does not.
  const [typed, setTyped] = useState<Typed>({
    drum: last?.drum ?? "",
    gear: last ? String(last.gear) : "",
    intake: "",
    barometer: "",
    humidity: "",
    tyres: last?.tyre_kpa ? plain(convert(last.tyre_kpa, "kPa")[0], 1) : "",
    fuel: last?.fuel ?? fuel,
    ramp: last?.ramp ?? "",
    measured: "",
  });
  const bring = useAct((file: File) => {
    const told = { ...typed };
    for (const [name, , , unit] of FIGURES)
      if (/\d\s*$/.test(told[name])) told[name] += ` ${convert(0, unit)[1]}`;
    const asked = new URLSearchParams({ when, name: file.name, ...told });
    return sendFile<Schemas["RunsOut"]>(
      `/api/jobs/${number}/run-files?${asked}`,
      file,
      () => undefined,
    ).done.catch((error: ApiError) => {
      setWrong(error);
      throw error;
    });
  }, onDone);
  const text = (name: keyof Typed, label: string, hint: string) => (
    <label style={{ display: "block" }}>
      <span className="soft">{label}</span>
      <Input
        aria-label={label}
        value={typed[name]}
        status={wrong?.field === name ? "error" : undefined}
        onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      />
      <span className="soft" style={{ fontSize: 14 }}>
        {hint}
      </span>
    </label>
  );
  return (
    <div style={{ marginTop: 10 }}>
      <p className="soft">
        How it was made, then its file: runs made otherwise are not held against each other.
      </p>
      <div
        className="cols"
        style={{ gridTemplateColumns: "repeat(auto-fit, minmax(210px, 1fr))", margin: "8px 0 12px" }}
      >
        {text("drum", "Drum", "its name or place")}
        {text("gear", "Gear", "as for every other run")}
        {FIGURES.map(([name, label, quantity, unit, hint]) => (
          <Figure
            key={name}
            wide
            label={label}
            quantity={quantity}
            unit={unit}
            value={typed[name]}
            onChange={(value) => setTyped({ ...typed, [name]: value })}
            hint={hint}
            wrong={wrong?.field === name ? wrong.message : ""}
          />
        ))}
        {text("fuel", "Fuel in the tank", "when it was run")}
        {text("ramp", "Ramp and straps", "like 8 s, four straps")}
        <div role="group" aria-label="Power is measured at">
          <span className="soft">Power is measured at</span>
          <Radio.Group
            value={typed.measured}
            optionType="button"
            options={MEASURED}
            onChange={(event) => setTyped({ ...typed, measured: event.target.value })}
          />
        </div>
      </div>
      {wrong && (
        <p role="alert" style={{ color: "var(--oxide)", marginBottom: 8 }}>
          {wrong.field === "file" && "The file: "}
          {wrong.message}
        </p>
      )}
      <Button type="primary" loading={bring.isPending} onClick={() => chooser.current?.click()}>
        Choose its file, CSV
      </Button>
      <input
        ref={chooser}
        hidden
        type="file"
        accept=".csv,text/csv"
        aria-label={`Run file ${when}`}
        onChange={(event) => (
          event.target.files?.[0] && (setWrong(null), bring.mutate(event.target.files[0])),
          (event.target.value = "")
        )}
      />
    </div>
  );
}
