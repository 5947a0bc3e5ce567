import { Button, Select } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useSession } from "../../api/hooks";
import { useCapture } from "../../parts/logs/Capture";
import { CapturePlan } from "../../parts/logs/CapturePlan";
import { DropLog } from "../../parts/logs/DropLog";
import { Live } from "../../parts/logs/Live";
import { LogView } from "../../parts/logs/LogView";
import { viewOf } from "../../parts/logs/useSpan";

/** Capture live or drop a file; then lanes, windows, findings. */
export default function Log({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const client = useQueryClient();
  const [asked] = useSearchParams();
  const [chosen, setChosen] = useState<number | null>(viewOf(asked) ?? null);
  const { capture, running, start } = useCapture(number, false);
  const logs = useQuery({
    queryKey: ["logs", number, capture?.log_id],
    queryFn: () => take(api.GET("/api/logs", { params: { query: { job: number } } })),
    placeholderData: (old, asked) => (asked?.queryKey[1] === number ? old : undefined),
  });
  const id = chosen ?? logs.data?.[0]?.id;
  const log = useQuery({
    queryKey: ["log", id],
    enabled: id !== undefined,
    queryFn: () => take(api.GET("/api/logs/{log_id}", { params: { path: { log_id: id! } } })),
    staleTime: Infinity,
  });
  const step = job.steps.find((s) => s.key === "log.review");
  return (
    <>
      {!log.data && (
        <div className="title">
          <h1>A log of what it does now</h1>
        </div>
      )}
      {log.data && !running && (
        <LogView
          key={log.data.id}
          log={log.data}
          choose={
            (logs.data?.length ?? 0) > 1 && (
              <Select
                aria-label="Which log"
                style={{ minWidth: 190 }}
                value={id}
                onChange={setChosen}
                options={logs.data!.map((row) => ({
                  value: row.id,
                  label: `${row.name}${row.map ? `, map ${row.map}` : ""}`,
                }))}
              />
            )
          }
        />
      )}
      {running ? (
        <Live number={number} first={capture!} viewer={viewer} onEnd={() => setChosen(null)} />
      ) : (
        <div className="sheet">
          {step?.caution && !step.done && (
            <div className="caution">
              <span className="head">Before this step</span>
              <span>{step.caution}</span>
            </div>
          )}
          {!viewer && (
            <CapturePlan
              number={number}
              vehicle={job.plate.vehicle_key}
              baseline={false}
              here={job.plate.runs_here}
              start={start}
              buttons={(go) => (
                <>
                  <Button
                    type={id === undefined ? "primary" : "default"}
                    loading={start.isPending}
                    onClick={() => go(true)}
                  >
                    Capture and watch
                  </Button>
                  <Button loading={start.isPending} onClick={() => go(false)}>
                    Capture unwatched
                  </Button>
                </>
              )}
            />
          )}
          <p className="soft">
            {job.plate.runs_here
              ? "Idle, held speeds, two pulls, overrun: about 5 min in true time, seconds unwatched."
              : "This kit is not run from here: log these channels with its own logger, and drop the file."}
          </p>
          {capture?.sentence && <p className="wrong">{capture.sentence}</p>}
        </div>
      )}
      {!running && !viewer && (
        <DropLog
          job={number}
          onRead={(read) => (setChosen(read.id), void client.invalidateQueries())}
          hint={
            id === undefined
              ? job.plate.runs_here
                ? "Or drop a log that was made elsewhere"
                : "Drop a log"
              : "Or drop another log"
          }
        />
      )}
    </>
  );
}
