import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Alert, Segmented, Select } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { Cloud } from "./Cloud";
import { Driven } from "./Driven";

const LOADS = ["map", "airflow", "load", "pedal", "throttle", "pulse"];

/** One channel over another: its samples with a third as ink, or where the engine was driven. */
export function OverAnother({ log, span }: { log: Schemas["LogOut"]; span: [number, number] }) {
  const names = log.columns.map((column) => column.name);
  const first = (...wanted: string[]) => wanted.find((name) => names.includes(name));
  const [x, setX] = useState(first("rpm") ?? names[0]);
  const [y, setY] = useState(first(...LOADS) ?? names[1] ?? names[0]);
  const [ink, setInk] = useState(first("lambda", "stft_1", "knock") ?? "");
  const [as, setAs] = useState<"samples" | "seconds" | "mean">("samples");
  const column = (name: string) => log.columns.find((one) => one.name === name);
  const within = { start: span[0], stop: span[1] };
  const cloud = useQuery({
    queryKey: ["cloud", log.id, x, y, ink, ...span],
    enabled: as === "samples",
    queryFn: () =>
      take(
        api.GET("/api/logs/{log_id}/cloud", {
          params: { path: { log_id: log.id }, query: { x, y, ink, ...within } },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const of = as === "mean" ? ink : "";
  const driven = useQuery({
    queryKey: ["driven", log.id, x, y, of, ...span],
    enabled: as !== "samples",
    queryFn: () =>
      take(
        api.GET("/api/logs/{log_id}/driven", {
          params: { path: { log_id: log.id }, query: { x, y, of, ...within } },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const wrong = as === "samples" ? cloud.error : driven.error;
  const options = log.columns.map((one) => ({ value: one.name, label: one.label }));
  const choice = (label: string, value: string, set: (name: string) => void) => (
    <label className="row" style={{ gap: 6 }}>
      <span className="soft">{label}</span>
      <Select
        aria-label={label}
        showSearch={{ optionFilterProp: "label" }}
        value={value}
        onChange={set}
        style={{ width: 138 }}
        options={options}
      />
    </label>
  );
  return (
    <div className="sheet">
      <div className="row" style={{ gap: 10, marginBottom: 8 }}>
        {choice("Up", y, setY)}
        {choice("Along", x, setX)}
        {as !== "seconds" && choice(as === "mean" ? "Mean of" : "Ink", ink, setInk)}
        <Segmented
          aria-label="Shown as"
          value={as}
          onChange={(value) => setAs(value as typeof as)}
          options={[
            { value: "samples", label: "samples" },
            { value: "seconds", label: "seconds driven" },
            { value: "mean", label: "mean of" },
          ]}
        />
      </div>
      {wrong && <Alert type="warning" showIcon title={wrong.message} />}
      {as === "samples"
        ? cloud.data && !wrong && <Cloud told={cloud.data} x={column(x)} y={column(y)} ink={column(ink)} />
        : driven.data &&
          !wrong && (
            <Driven told={driven.data} x={column(x)} y={column(y)} of={of ? column(of) : undefined} />
          )}
    </div>
  );
}
