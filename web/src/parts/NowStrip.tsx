import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take, type Job } from "../api/client";
import { useAct } from "../api/hooks";
import { Countdown } from "./Countdown";

/** Along the bottom of every screen of a job: the next step, waits that run, the link. */
export function NowStrip({ job }: { job: Job }) {
  const go = useNavigate();
  const end = useAct((id: number) => take(api.POST("/api/timers/{timer_id}/end", { params: { path: { timer_id: id } } })));
  const battery = job.ledger.find((entry) => entry.evidence.some((e) => e.unit === "V" && e.label.startsWith("battery")));
  const volts = battery?.evidence.find((e) => e.unit === "V")?.value;
  return (
    <footer className="now">
      {job.next ? (
        <button onClick={() => void go(`/jobs/${job.plate.number}/${job.next!.stage}`)}>Next <b>{job.next.title}</b></button>
      ) : (
        <span>Every step is done.</span>
      )}
      {job.timers.map((timer) => (
        <Wait key={timer.id} timer={timer} onSee={() => void go(`/jobs/${job.plate.number}/${timer.step.split(".")[0]}`)} onEnd={() => end.mutate(timer.id)} />
      ))}
      <span>Link <span className="num">{job.link}{volts !== undefined && ` · ${volts} V`}</span></span>
      <span className="keys">
        <span><kbd>n</kbd>next step</span><span><kbd>e</kbd>reading</span><span><kbd>t</kbd>timer</span><span><kbd>?</kbd>keys</span>
      </span>
    </footer>
  );
}

/** A wait that runs: a tap shows its step; only one that is over is ended from here, so that no glove ends it early. */
function Wait({ timer, onSee, onEnd }: { timer: Job["timers"][number]; onSee: () => void; onEnd: () => void }) {
  const [over, setOver] = useState(false);
  return (
    <button onClick={over ? onEnd : onSee} title={over ? "Over: end this wait" : "To this step"}>
      {timer.label} <Countdown endsAt={timer.ends_at} onEnd={() => setOver(true)} />
    </button>
  );
}
