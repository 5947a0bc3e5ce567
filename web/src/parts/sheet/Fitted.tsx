import { Button } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { CallCard } from "../ledger/CallCard";
import { Field } from "./Field";

const shown = (value: number | null, unit: string) => (value === null ? "" : `${value} ${unit}`);

/** What is on this one vehicle and a map is held against: tyres, thermostat, airflow meter. */
export function Fitted({
  number,
  fitted,
  viewer,
  onSaved,
}: {
  number: string;
  fitted: Schemas["FittedOut"];
  viewer: boolean;
  onSaved: () => void;
}) {
  const [entered, setEntered] = useState({
    tyre_size: fitted.tyre_size,
    tyre_mm: shown(fitted.tyre_mm, "mm"),
    tyre_rating: fitted.tyre_rating,
    thermostat: shown(fitted.thermostat_c, "°C"),
    stock_thermostat: shown(fitted.stock_thermostat_c, "°C"),
    stock_fan: shown(fitted.stock_fan_c, "°C"),
    meter: fitted.meter_g_s === null ? "" : String(fitted.meter_g_s),
  });
  const save = useAct(
    () => take(api.PUT("/api/jobs/{number}/fitted", { params: { path: { number } }, body: entered })),
    onSaved,
  );
  const field = (name: keyof typeof entered, label: string, quantity: string, unit: string, hint: string) => (
    <Field
      key={name}
      label={label}
      quantity={quantity}
      unit={unit}
      value={entered[name]}
      onChange={(text) => setEntered({ ...entered, [name]: text })}
      hint={hint}
    />
  );
  if (viewer) return null;
  return (
    <details className="sheet" open={fitted.sentences.length > 0}>
      <summary className="head">What is on this vehicle</summary>
      <div className="row" style={{ alignItems: "flex-start", marginTop: 8 }}>
        {fitted.on_tyres && [
          field(
            "tyre_size",
            "Tyre, size code",
            "",
            "",
            fitted.stock_tyre ? `stock ${fitted.stock_tyre}` : "225/45R17",
          ),
          field("tyre_mm", "Rolling diameter, measured", "length", "mm", "wins over the code"),
          field("tyre_rating", "Lowest speed rating", "", "", "last letter of 91V"),
        ]}
        {field("thermostat", "Thermostat opens at", "temperature", "°C", "as stamped on it")}
        {field(
          "stock_thermostat",
          "Stock thermostat opens at",
          "temperature",
          "°C",
          "for the second school of the fan",
        )}
        {field("stock_fan", "Stock fan on", "temperature", "°C", "as it came")}
        {field("meter", "Airflow meter reads up to", "", "g/s", "where load by airflow is kept")}
      </div>
      <Button
        type="primary"
        style={{ marginTop: 10 }}
        loading={save.isPending}
        onClick={() => save.mutate(undefined)}
      >
        Keep what is on it
      </Button>
      {fitted.sentences.map((line) => (
        <div key={line} style={{ marginTop: 4 }}>
          {line}
        </div>
      ))}
      {fitted.calls.map((call) => (
        <div key={call.rule} style={{ marginTop: 8 }}>
          <CallCard
            verdict={call.verdict}
            title={call.title}
            because={call.because}
            next={call.do_next}
            source={call.source}
          />
        </div>
      ))}
    </details>
  );
}
