import { Button, Input, Segmented, Select } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

const CURVES: Record<string, { label: string; signal: string; value: string; points: number }> = {
  pressure_sensor: { label: "Pressure", signal: "V", value: "kPa", points: 2 },
  coolant_sensor: { label: "Coolant", signal: "Ω", value: "°C", points: 3 },
  intake_sensor: { label: "Intake air", signal: "Ω", value: "°C", points: 3 },
};

/** A sensor's curve: two points, three points, or one of the shelf; it goes into the sheet as one edit. */
export function SensorCurves({
  number,
  part,
  curves,
  sensors,
  have,
  onSheet,
}: {
  number: string;
  part: string;
  curves: string[];
  sensors: Schemas["SensorChoice"][];
  /** Curves that the map holds now. */
  have: string[];
  onSheet: (sheet: Schemas["SheetOut"]) => void;
}) {
  const [table, setTable] = useState(curves[0]);
  const [points, setPoints] = useState<string[][]>([]);
  const [sensor, setSensor] = useState("");
  const about = CURVES[table];
  const rows = Array.from({ length: about.points }, (_, n) => points[n] ?? ["", ""]);
  const send = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/sheets/{part}/sensor-curve", {
          params: { path: { number, part } },
          body: { table, sensor, points: sensor ? [] : rows },
        }),
      ),
    onSheet,
  );
  const type = (row: number, side: number, text: string) =>
    setPoints(rows.map((one, n) => (n === row ? one.map((old, k) => (k === side ? text : old)) : one)));
  const fitting = sensors.filter((one) => one.table === table);
  return (
    <section className="sheet" aria-label="Sensor curves">
      <b>Sensor curves</b>
      <div className="soft">
        A pressure sensor by two points, a thermistor by three. If it is wrong: every sum that reads it is
        wrong alike.
      </div>
      <div className="row" style={{ alignItems: "flex-end", marginTop: 8 }}>
        <Segmented
          value={table}
          onChange={(next) => (setTable(next), setPoints([]), setSensor(""))}
          aria-label="Which sensor"
          options={curves.map((one) => ({
            value: one,
            label: `${CURVES[one].label}${have.includes(one) ? " · set" : ""}`,
          }))}
        />
        <Select
          value={sensor}
          onChange={setSensor}
          aria-label="From the shelf"
          style={{ minWidth: 230 }}
          options={[
            { value: "", label: "by points" },
            ...fitting.map((one) => ({ value: one.key, label: one.name })),
          ]}
        />
        {!sensor &&
          rows.map((row, n) => (
            <span key={n} className="row" style={{ gap: 4 }}>
              {[about.signal, about.value].map((unit, side) => (
                <Input
                  key={unit}
                  value={row[side]}
                  onChange={(event) => type(n, side, event.target.value)}
                  suffix={unit}
                  aria-label={`Point ${n + 1}, ${unit}`}
                  style={{ width: 104 }}
                  inputMode="decimal"
                />
              ))}
            </span>
          ))}
        <Button
          loading={send.isPending}
          disabled={!sensor && rows.some((row) => row.some((cell) => !cell.trim()))}
          onClick={() => send.mutate(undefined)}
        >
          Take this curve
        </Button>
      </div>
    </section>
  );
}
