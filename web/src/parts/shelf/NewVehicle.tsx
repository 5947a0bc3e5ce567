import { Button, Input, Radio, Select } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../figures/said";

type Body = Schemas["NewVehicleIn"];
type Taps = Partial<Body>;

type Layout = { cylinders: number; banks?: number; stroke: 2 | 4; diesel?: boolean };
const KINDS = ["car", "van", "pickup", "motorcycle", "watercraft", "sled", "side-by-side", "quad"];
const UNKNOWN = "not known";
const ROTARY = "rotary";

/** Each tap: its field, what it is called, what can be chosen. */
const TAPS: [keyof Taps, string, (string | number)[]][] = [
  ["cylinders", "Cylinders, or rotors", [1, 2, 3, 4, 5, 6, 8, 10, 12]],
  ["stroke", "Stroke", [4, 2, ROTARY]],
  ["cooling", "Cooled by", ["coolant", "air"]],
  ["injection", "Fuel and injection", ["port", "direct", "both", "diesel"]],
  ["induction", "Induction", ["none", "turbo", "blower"]],
  ["throttle", "Throttle", ["cable", "electronic", UNKNOWN]],
  ["load_sensing", "Load by", ["pressure", "airflow", UNKNOWN]],
];
const WORDS: Record<string, string> = {
  port: "petrol, port",
  direct: "petrol, direct",
  both: "petrol, both",
  diesel: "diesel",
  none: "none",
  air: "air and oil",
  "4": "four-stroke",
  "2": "two-stroke",
};
const word = (field: string, value: string | number) =>
  field === "cylinders" ? String(value) : (WORDS[String(value)] ?? String(value));

/** A vehicle that no shelf has seen: kind, name and eight taps. Everything else is asked when a step needs it. */
export function NewVehicle({ onOpened }: { onOpened: (job: Schemas["JobRow"]) => void }) {
  const [taps, setTaps] = useState<Taps>({});
  const [wrong, setWrong] = useState<ApiError | null>(null);
  const open = useAct(
    () =>
      take(
        api.POST("/api/jobs/unknown", {
          body: {
            ...taps,
            throttle: (taps.throttle as string) === UNKNOWN ? null : taps.throttle,
            load_sensing: (taps.load_sensing as string) === UNKNOWN ? null : taps.load_sensing,
          } as Body,
        }),
      ).catch((error: ApiError) => {
        setWrong(error);
        throw error;
      }),
    onOpened,
  );
  const layouts = useQuery({
    queryKey: ["shelf", "layout"],
    queryFn: () => take(api.GET("/api/shelf-items", { params: { query: { kind: "layout" } } })),
  });
  const [layout, setLayout] = useState("");
  const choose = (key: string) => {
    const body = layouts.data?.find((item) => item.key === key)?.body as Layout | undefined;
    setLayout(key);
    if (body)
      setTaps({
        ...taps,
        cylinders: body.cylinders,
        banks: body.banks ?? 1,
        stroke: body.stroke,
        rotary: false,
        ...(body.diesel ? { injection: "diesel" as const } : {}),
      });
  };
  const set = (field: keyof Taps, value: unknown) =>
    // Other cylinders than the layout has: its banks are not known any more.
    setTaps({ ...taps, [field]: value, ...(field === "cylinders" ? { banks: null } : {}) });
  // A rotor works in four strokes; what comes with each turn of its shaft is told by the server.
  const turn = (value: number | string) =>
    setTaps({ ...taps, stroke: value === 2 ? 2 : 4, rotary: value === ROTARY });
  const ready =
    said(taps.name) &&
    !!taps.kind &&
    !!taps.cylinders &&
    !!taps.stroke &&
    !!taps.injection &&
    !!taps.induction;
  const group = (field: keyof Taps, label: string, values: (string | number)[]) => (
    <div key={field} className="tap" role="group" aria-label={label}>
      <span className="soft">{label}</span>
      <Radio.Group
        value={field === "stroke" && taps.rotary ? ROTARY : (taps[field] as string | number | undefined)}
        onChange={(event) => (field === "stroke" ? turn(event.target.value) : set(field, event.target.value))}
        optionType="button"
        buttonStyle="solid"
        options={values.map((value) => ({ value, label: word(field, value) }))}
      />
    </div>
  );
  const text = (field: keyof Taps, label: string, more: object = {}) => (
    <label className="tap">
      <span className="soft">{label}</span>
      <Input
        size="large"
        aria-label={label}
        value={(taps[field] as string | undefined) ?? ""}
        onChange={(event) => set(field, event.target.value)}
        status={wrong?.field === field ? "error" : undefined}
        {...more}
      />
    </label>
  );
  return (
    <div>
      <p className="soft" style={{ marginBottom: 8 }}>
        Kind, name and what can be seen at a glance. The rest is not known yet: each step asks for what it
        needs.
      </p>
      {group("kind", "Kind of vehicle", KINDS)}
      {text("name", "What is it called?", { autoFocus: true })}
      {(layouts.data?.length ?? 0) > 0 && (
        <label className="tap">
          <span className="soft">Engine layout, from the shelf; or tap cylinders and stroke below</span>
          <Select
            size="large"
            style={{ width: "100%" }}
            showSearch={{ optionFilterProp: "label" }}
            allowClear
            aria-label="Engine layout"
            value={layout || undefined}
            onChange={(key) => choose(key ?? "")}
            options={layouts.data?.map((item) => ({ value: item.key, label: item.name }))}
          />
        </label>
      )}
      {TAPS.map(([field, label, values]) => group(field, label, values))}
      {text("displacement", "Displacement, where it is known", { placeholder: "998 cm³", className: "num" })}
      <div className="cols">
        {text("registration", "Registration, when there is time")}
        {text("owner", "Owner, when there is time")}
      </div>
      {wrong && (
        <p role="alert" style={{ color: "var(--oxide)" }}>
          {wrong.message}
        </p>
      )}
      <Button
        type="primary"
        size="large"
        block
        style={{ marginTop: 10 }}
        disabled={!ready}
        loading={open.isPending}
        onClick={() => open.mutate(undefined)}
      >
        Open the job
      </Button>
    </div>
  );
}
