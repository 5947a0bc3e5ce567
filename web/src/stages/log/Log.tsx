import { Button, Progress, Select } from "antd";
import { useEffect, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct, useEvents, useSession } from "../../api/hooks";
import { DropLog } from "../../parts/DropLog";
import { Findings } from "../../parts/Findings";
import { LogView } from "../../parts/LogView";
import { Num } from "../../parts/Num";

type Event = Schemas["CaptureOut"];

/** Capture live or drop a file; then lanes, windows, findings. */
export default function Log({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const client = useQueryClient();
  const [chosen, setChosen] = useState<number | null>(null);
  const [focus, setFocus] = useState<[number, number] | null>(null);
  const path = { params: { path: { number } } };
  const current = useQuery({ queryKey: ["capture", number], queryFn: () => take(api.GET("/api/jobs/{number}/captures/current", path)) });
  const logs = useQuery({ queryKey: ["logs", number], queryFn: () => take(api.GET("/api/logs", { params: { query: { job: number } } })) });
  const id = chosen ?? logs.data?.[0]?.id;
  const log = useQuery({ queryKey: ["log", id], enabled: id !== undefined, queryFn: () => take(api.GET("/api/logs/{log_id}", { params: { path: { log_id: id! } } })), staleTime: Infinity });
  const start = useAct((watched: boolean) => take(api.POST("/api/jobs/{number}/captures", { ...path, body: { watched } })), (got) => client.setQueryData(["capture", number], got));
  const step = job.steps.find((s) => s.key === "log.review")!;
  const running = current.data?.state === "running";
  return (
    <>
      {running ? (
        <Live number={number} first={current.data!} viewer={viewer} onEnd={() => setChosen(null)} />
      ) : (
        <div className="sheet">
          {step.caution && !step.done && <div className="caution"><span className="head">Before this step</span><span>{step.caution}</span></div>}
          <div className="row">
            {!viewer && <Button type={id === undefined ? "primary" : "default"} loading={start.isPending} onClick={() => start.mutate(true)}>Capture and watch</Button>}
            {!viewer && <Button loading={start.isPending} onClick={() => start.mutate(false)}>Capture unwatched</Button>}
            <span className="soft" style={{ maxWidth: 330 }}>Idle, held speeds, two pulls, overrun: about 5 min in true time, seconds unwatched.</span>
            {(logs.data?.length ?? 0) > 1 && <Select style={{ marginLeft: "auto", minWidth: 190 }} value={id} onChange={setChosen} options={logs.data!.map((row) => ({ value: row.id, label: `${row.name}${row.map ? `, map ${row.map}` : ""}` }))} />}
          </div>
          {current.data?.state === "failed" && <p style={{ color: "var(--oxide)", marginTop: 8 }}>{current.data.sentence}</p>}
        </div>
      )}
      {log.data && !running && (
        <>
          <LogView log={log.data} focus={focus} />
          <h2 style={{ margin: "10px 0 8px" }}>Findings</h2>
          <Findings log={log.data} onShow={setFocus} />
          <div style={{ height: 14 }} />
        </>
      )}
      {!running && !viewer && <DropLog job={number} onRead={(read) => (setChosen(read.id), void client.invalidateQueries())} hint={id === undefined ? "Or drop a log made on the road" : "Or drop another log"} />}
    </>
  );
}

const METERS: [string, string, string, number][] = [
  ["rpm", "Engine speed", "rpm", 0], ["map", "Manifold", "kPa", 1], ["lambda", "Mixture", "lambda", 3], ["lambda_target", "Target", "lambda", 3], ["stft_1", "Short trim", "%", 1],
  ["pulse", "Pulse", "ms", 2], ["duty", "Duty", "%", 1], ["coolant", "Coolant", "°C", 0], ["iat", "Intake air", "°C", 0], ["battery", "Battery", "V", 2],
];

function Live({ number, first, viewer, onEnd }: { number: string; first: Event; viewer: boolean; onEnd: () => void }) {
  const client = useQueryClient();
  const now = useEvents<Event>(`/api/jobs/${number}/captures/current/events`, true) ?? first;
  const stop = useAct(() => take(api.DELETE("/api/jobs/{number}/captures/current", { params: { path: { number } } })));
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
        {!viewer && <Button danger size="large" loading={stop.isPending} onClick={() => stop.mutate(undefined)}>Stop and keep</Button>}
      </div>
      <Progress percent={Math.min(99, Math.round((100 * now.at_s) / Math.max(now.length_s, 1)))} status="active" size={["100%", 14]} />
      <p className="num soft">{now.at_s.toFixed(1)} s of about {Math.round(now.length_s)} s · {now.rows} rows · {now.rate_hz} per second, as the bus gives</p>
      <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fill, minmax(128px, 1fr))", marginTop: 10 }}>
        {METERS.map(([name, label, unit, digits]) => <div className="meter" key={name}><span className="soft">{label}</span><Num value={now.values[name]} unit={unit} digits={digits} /></div>)}
      </div>
    </div>
  );
}
