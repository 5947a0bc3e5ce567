import { Button, Progress } from "antd";
import { useEffect, useRef } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct, useEvents } from "../../api/hooks";
import { sounds } from "../frame/alarm";
import { useKeys } from "../frame/keys";
import { Alarms } from "./Alarms";
import type { Capturing } from "./Capture";
import { Gauges } from "./Gauges";
import { LiveCells } from "./LiveCells";
import { LiveLanes } from "./LiveLanes";
import { Drives } from "./NextDrive";

interface Props {
  number: string;
  first: Capturing;
  viewer: boolean;
  onEnd: () => void;
}

/** A capture as it runs: what sounds, large gauges, the last minute as lanes, what is still to be driven. */
export function Live({ number, first, viewer, onEnd }: Props) {
  const client = useQueryClient();
  const now = useEvents<Capturing>(`/api/jobs/${number}/captures/current/events`, true) ?? first;
  const path = { params: { path: { number } } };
  const stop = useAct(() => take(api.DELETE("/api/jobs/{number}/captures/current", path)));
  const pause = useAct((paused: boolean) =>
    take(api.PUT("/api/jobs/{number}/captures/current", { ...path, body: { paused } })),
  );
  const mark = useAct(() =>
    take(api.POST("/api/jobs/{number}/captures/current/marks", { ...path, body: { word: "" } })),
  );
  const ended = now.state !== "running";
  useEffect(() => {
    if (ended) {
      onEnd();
      void client.invalidateQueries();
    }
  }, [ended, client]); // eslint-disable-line
  useKeys(viewer ? {} : { m: () => mark.mutate(undefined) });
  useHeard(now);
  return (
    <div className="sheet live">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h1>{heading(now)}</h1>
        {!viewer && (
          <span className="row">
            <Button size="large" onClick={() => mark.mutate(undefined)}>
              Mark <kbd>m</kbd>
            </Button>
            <Button size="large" aria-pressed={now.paused} onClick={() => pause.mutate(!now.paused)}>
              {now.paused ? "Go on" : "Pause"}
            </Button>
            <Button danger size="large" loading={stop.isPending} onClick={() => stop.mutate(undefined)}>
              Stop and keep
            </Button>
          </span>
        )}
      </div>
      <Alarms now={now} />
      <Gauges now={now} />
      {now.unheard.length > 0 && (
        <details className="unheard">
          <summary>
            Cannot be heard now: <span className="num">{now.unheard.length}</span>
          </summary>
          {now.unheard.map((one) => (
            <div className="by" key={one}>
              {one}
            </div>
          ))}
        </details>
      )}
      <Progress
        percent={Math.min(99, Math.round((100 * now.at_s) / Math.max(now.length_s, 1)))}
        status="active"
        size={["100%", 10]}
      />
      <p className="num soft">
        {now.at_s.toFixed(1)} s of about {Math.round(now.length_s)} s · {now.rows} rows kept · {now.rate_hz}{" "}
        per second, as the bus gives
        {now.marks.length > 0 && ` · marks: ${now.marks.map((one) => one.word).join(", ")}`}
      </p>
      {now.drives.length > 0 && (
        <ul className="drive-next live" aria-label="Still to drive" aria-live="polite">
          <Drives drives={now.drives} live />
        </ul>
      )}
      {now.cells && <LiveCells cells={now.cells} />}
      <LiveLanes now={now} />
    </div>
  );
}

function heading(now: Capturing): string {
  if (now.paused) return now.alarms.length ? "Paused, but what sounds is kept" : "Paused: nothing is kept";
  if (now.waits) return `Waiting for a pull: ${now.doing || "starting"}`;
  return `Capturing: ${now.doing || "starting"}`;
}

const AGAIN_MS = 2000;

/** Who drives hears it: an alarm when it comes, a stop until it is over, and when there is enough of something. */
function useHeard(now: Capturing) {
  const before = useRef<{ kinds: string[]; enough: number | null }>({ kinds: [], enough: null });
  const kinds = now.alarms.map((one) => `${one.verdict} ${one.kind}`);
  const stopped = now.alarms.some((one) => one.verdict === "stop") && now.state === "running";
  useEffect(() => {
    const fresh = kinds.filter((kind) => !before.current.kinds.includes(kind));
    before.current.kinds = kinds;
    if (fresh.some((kind) => !kind.startsWith("stop"))) sounds("hold");
  }, [kinds.join()]); // eslint-disable-line
  useEffect(() => {
    if (!stopped) return;
    sounds("stop");
    const again = setInterval(() => sounds("stop"), AGAIN_MS);
    return () => clearInterval(again);
  }, [stopped]);
  // A stop that came and went between two looks is heard all the same.
  useEffect(() => {
    if (now.lifted && !stopped) sounds("stop");
  }, [now.lifted]); // eslint-disable-line
  const enough = now.drives.filter((one) => one.enough).length;
  const here = now.cells?.enough_here ?? false;
  useEffect(() => {
    if (here) sounds("enough");
  }, [here, now.cells?.at?.join()]); // eslint-disable-line
  useEffect(() => {
    if (before.current.enough !== null && enough > before.current.enough) sounds("enough");
    before.current.enough = enough;
  }, [enough]);
}
