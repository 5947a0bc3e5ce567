import { Button, Checkbox, Progress } from "antd";
import { useEffect, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useAct, useEvents } from "../../api/hooks";

type Event = { state: string; phase: string; done: number; total: number; sentence: string };

const PHASES: Record<string, string> = {
  erase: "erasing",
  write: "writing blocks",
  "read back": "reading back",
  check: "proving the checksum",
  done: "done",
};

/** A write under way: its phase, how far, time left, and a way to stop it. */
export function Writing({ load, viewer }: { load: Schemas["LoadOut"]; viewer: boolean }) {
  const client = useQueryClient();
  const latest = useEvents<Event>(`/api/loads/${load.id}/events`, true) ?? load;
  const stop = useAct(() =>
    take(api.POST("/api/loads/{load_id}/stop", { params: { path: { load_id: load.id } } })),
  );
  const [sure, setSure] = useState(false);
  const ended = latest.state !== "writing";
  useEffect(() => {
    if (ended) void client.invalidateQueries();
  }, [ended, client]);
  // Erase, write and read-back share the bar: half for the way in, half for the proof.
  const half = 50 * (latest.done / Math.max(latest.total, 1));
  const percent =
    latest.phase === "write"
      ? half
      : latest.phase === "read back"
        ? 50 + half
        : latest.phase === "erase"
          ? 0
          : 99;
  const seconds = (Date.now() - Date.parse(load.started_at)) / 1000;
  const left = percent > 5 ? Math.max(1, Math.round((seconds / percent) * (100 - percent))) : null;
  return (
    <div className="sheet">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>{PHASES[latest.phase] ?? latest.phase}</h2>
        <span className="num">{left ? `about ${left} s left` : ""}</span>
      </div>
      <Progress percent={Math.round(percent)} status="active" size={["100%", 18]} />
      <p>Nobody unplugs, starts or sleeps anything. Closing this page does not stop the write.</p>
      {!viewer && (
        <div className="row" style={{ marginTop: 10 }}>
          <Checkbox checked={sure} onChange={(event) => setSure(event.target.checked)}>
            I want to stop, though the computer then holds no map
          </Checkbox>
          <Button danger disabled={!sure} onClick={() => stop.mutate(undefined)}>
            Stop the write
          </Button>
        </div>
      )}
    </div>
  );
}
