import { Button } from "antd";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useCapture } from "../../parts/logs/Capture";
import { CapturePlan } from "../../parts/logs/CapturePlan";
import { DropLog } from "../../parts/logs/DropLog";
import { Live } from "../../parts/logs/Live";
import { LogView } from "../../parts/logs/LogView";

/** The stock log: captured on the stock computer, or a file; what it shows was there before. */
export function StockLog({ job, viewer }: { job: Job; viewer: boolean }) {
  const number = job.plate.number;
  const client = useQueryClient();
  const [shown, setShown] = useState(false);
  const { capture, running, start } = useCapture(number, true);
  const logs = useQuery({
    queryKey: ["logs", number, "baseline", capture?.log_id],
    queryFn: () => take(api.GET("/api/logs", { params: { query: { job: number, baseline: true } } })),
    placeholderData: (old, asked) => (asked?.queryKey[1] === number ? old : undefined),
  });
  const id = logs.data?.[0]?.id;
  const log = useQuery({
    queryKey: ["log", id],
    enabled: shown && id !== undefined,
    queryFn: () => take(api.GET("/api/logs/{log_id}", { params: { path: { log_id: id! } } })),
    staleTime: Infinity,
  });
  const step = job.steps.find((s) => s.key === "baseline.log");
  if (running) return <Live number={number} first={capture!} viewer={viewer} onEnd={() => setShown(false)} />;
  return (
    <div className="sheet">
      {step?.caution && !step.done && (
        <div className="caution">
          <span className="head">Before this step</span>
          <span>{step.caution}</span>
        </div>
      )}
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>Stock log: idle, cruise and a pull{step?.done && ", done"}</h2>
        <span className="row">
          {id !== undefined && (
            <Button onClick={() => setShown(!shown)}>
              {shown ? "Close" : `Look at ${logs.data![0].name}`}
            </Button>
          )}
        </span>
      </div>
      {!viewer && (
        <CapturePlan
          number={number}
          vehicle={job.plate.vehicle_key}
          baseline
          here={job.plate.bench_engine}
          start={start}
          buttons={(go) => (
            <Button
              type={step?.done ? "default" : "primary"}
              loading={start.isPending}
              onClick={() => go(false)}
            >
              Capture it stock
            </Button>
          )}
        />
      )}
      {capture?.sentence && <p className="wrong">{capture.sentence}</p>}
      {shown && log.data && (
        <div style={{ marginTop: 10 }}>
          <LogView key={log.data.id} log={log.data} />
        </div>
      )}
      {!viewer && !shown && (
        <div style={{ marginTop: 10 }}>
          <DropLog
            job={number}
            baseline
            onRead={() => void client.invalidateQueries()}
            hint={job.plate.bench_engine ? "Or drop a stock log that was made elsewhere" : "Drop a stock log"}
          />
        </div>
      )}
    </div>
  );
}
