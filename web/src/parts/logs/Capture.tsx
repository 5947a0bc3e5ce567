import { Button, Progress } from "antd";
import { useEffect } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useAct, useEvents } from "../../api/hooks";
import { Drives } from "./NextDrive";
import { Num } from "../figures/Num";

type Event = Schemas["CaptureOut"];

/** The capture that runs, or the last one; and how to start one, stock or on the map that is loaded. */
export function useCapture(number: string, baseline: boolean) {
  const client = useQueryClient();
  const path = { params: { path: { number } } };
  const current = useQuery({
    queryKey: ["capture", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/captures/current", path)),
    refetchInterval: (asked) => (asked.state.data?.state === "running" ? 2000 : false),
  });
  const start = useAct(
    (watched: boolean) =>
      take(api.POST("/api/jobs/{number}/captures", { ...path, body: { watched, baseline } })),
    (got) => client.setQueryData(["capture", number], got),
  );
  return { capture: current.data ?? null, running: current.data?.state === "running", start };
}

const METERS: [string, string, string, number][] = [
  ["rpm", "Engine speed", "rpm", 0],
  ["map", "Manifold", "kPa", 1],
  ["lambda", "Mixture", "lambda", 3],
  ["lambda_target", "Target", "lambda", 3],
  ["stft_1", "Short trim", "%", 1],
  ["pulse", "Pulse", "ms", 2],
  ["duty", "Duty", "%", 1],
  ["coolant", "Coolant", "°C", 0],
  ["iat", "Intake air", "°C", 0],
  ["battery", "Battery", "V", 2],
];

/** A capture as it runs: what is driven, progress, the newest values, a way to stop. */
export function Live({
  number,
  first,
  viewer,
  onEnd,
}: {
  number: string;
  first: Event;
  viewer: boolean;
  onEnd: () => void;
}) {
  const client = useQueryClient();
  const now = useEvents<Event>(`/api/jobs/${number}/captures/current/events`, true) ?? first;
  const stop = useAct(() =>
    take(api.DELETE("/api/jobs/{number}/captures/current", { params: { path: { number } } })),
  );
  const ended = now.state !== "running";
  useEffect(() => {
    if (ended) {
      onEnd();
      void client.invalidateQueries();
    }
  }, [ended, client]); // eslint-disable-line
  return (
    <div className="sheet">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h1>Capturing: {now.doing || "starting"}</h1>
        {!viewer && (
          <Button danger size="large" loading={stop.isPending} onClick={() => stop.mutate(undefined)}>
            Stop and keep
          </Button>
        )}
      </div>
      <Progress
        percent={Math.min(99, Math.round((100 * now.at_s) / Math.max(now.length_s, 1)))}
        status="active"
        size={["100%", 14]}
      />
      <p className="num soft">
        {now.at_s.toFixed(1)} s of about {Math.round(now.length_s)} s · {now.rows} rows · {now.rate_hz} per
        second, as the bus gives
      </p>
      <div
        className="cols"
        style={{ gridTemplateColumns: "repeat(auto-fill, minmax(160px, 1fr))", marginTop: 10 }}
      >
        {METERS.map(([name, label, unit, digits]) => (
          <div className="meter" key={name}>
            <span className="soft">{label}</span>
            <Num value={now.values[name]} unit={unit} digits={digits} />
          </div>
        ))}
      </div>
      {now.drives.length > 0 && (
        <ul className="drive-next live" aria-label="Still to drive" aria-live="polite">
          <Drives drives={now.drives} live />
        </ul>
      )}
    </div>
  );
}
