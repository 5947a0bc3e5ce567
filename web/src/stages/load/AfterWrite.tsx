import { Button } from "antd";
import { useEffect, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { VerdictGlyph } from "../../parts/figures/Glyphs";

/** Ignition off, wait, on; identity read back; codes read, recorded, cleared, read again. */
export function AfterWrite({
  job,
  board,
  viewer,
}: {
  job: Job;
  board: Schemas["BoardOut"];
  viewer: boolean;
}) {
  const number = job.plate.number;
  const client = useQueryClient();
  const keep = (got: Schemas["BoardOut"]) => client.setQueryData(["board", number], got);
  const key = useAct(
    (on: boolean) =>
      take(api.POST("/api/jobs/{number}/ignition", { params: { path: { number } }, body: { on } })),
    keep,
  );
  const clear = useAct(
    () => take(api.POST("/api/jobs/{number}/codes/clear", { params: { path: { number } } })),
    keep,
  );
  const offAt = (board.answers as { off_at?: number }).off_at;
  const cleared = job.steps.find((step) => step.key === "load.codes")?.done;
  return (
    <>
      <div className="sheet">
        <p className="call go" style={{ border: 0, padding: 0 }}>
          <span className="word">
            <VerdictGlyph verdict="go" />
            VERIFIED
          </span>{" "}
          Map {board.version.version}: {board.load?.sentence}
        </p>
      </div>
      <div className="sheet">
        <h2>Ignition off, wait, on</h2>
        <p className="soft" style={{ margin: "4px 0 10px" }}>
          This computer stores its memory for {board.off_s} s after the ignition goes off.
        </p>
        {board.cycled ? (
          <p>Done: identity read back after the restart.</p>
        ) : viewer ? null : offAt === undefined ? (
          <Button type="primary" size="large" loading={key.isPending} onClick={() => key.mutate(false)}>
            Ignition is off
          </Button>
        ) : (
          <Rest until={offAt + board.off_s} onReady={() => key.mutate(true)} busy={key.isPending} />
        )}
      </div>
      {board.cycled && (
        <div className="sheet">
          <h2>Codes</h2>
          <p className="soft" style={{ margin: "4px 0 10px" }}>
            Unplugged connectors leave codes behind. They are recorded before they are cleared.
          </p>
          {cleared ? (
            <p>
              Read, recorded, cleared; none came back.
              {board.codes.length > 0 && ` Still there: ${board.codes.join(", ")}`}
            </p>
          ) : (
            !viewer && (
              <Button
                type="primary"
                size="large"
                loading={clear.isPending}
                onClick={() => clear.mutate(undefined)}
              >
                Read, record and clear codes
              </Button>
            )
          )}
        </div>
      )}
    </>
  );
}

function Rest({ until, onReady, busy }: { until: number; onReady: () => void; busy: boolean }) {
  const [now, setNow] = useState(() => Date.now() / 1000);
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now() / 1000), 200);
    return () => clearInterval(tick);
  }, []);
  const left = Math.ceil(until - now);
  return (
    <div className="row">
      {left > 0 && (
        <span className="num" style={{ fontSize: 26 }}>
          {left} s
        </span>
      )}
      <Button type="primary" size="large" disabled={left > 0} loading={busy} onClick={onReady}>
        Ignition is on again
      </Button>
    </div>
  );
}
