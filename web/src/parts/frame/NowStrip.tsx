import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { ring } from "./alarm";
import { Countdown } from "../figures/Countdown";

/** Waits that run on any job of the shop. */
function useRunning() {
  return (
    useQuery({ queryKey: ["timers"], queryFn: () => take(api.GET("/api/timers")), refetchInterval: 3000 })
      .data ?? []
  );
}

/** Along the bottom of every screen of a job: the next step, waits that run here and elsewhere, the link. */
export function NowStrip({ job }: { job: Job }) {
  const go = useNavigate();
  const number = job.plate.number;
  const elsewhere = useRunning().filter((timer) => timer.job !== number);
  const battery = job.ledger.find((entry) =>
    entry.evidence.some(
      (e) => e.unit === "V" && /^battery(,|$| at rest)/.test(e.label) && !/negative/.test(e.label),
    ),
  );
  const volts = battery?.evidence.find((e) => e.unit === "V" && e.label.startsWith("battery"))?.value;
  return (
    <footer className="now">
      {job.next ? (
        <button
          className="strip-next"
          onClick={() => void go(`/jobs/${number}/${job.next!.stage}?step=${job.next!.key}`)}
        >
          Next <b>{job.next.title}</b>
        </button>
      ) : (
        <span>Every step is done.</span>
      )}
      {job.timers.map((timer) => (
        <Wait key={timer.id} timer={timer} number={number} />
      ))}
      {elsewhere.map((timer) => (
        <Wait key={timer.id} timer={timer} number={timer.job} named small />
      ))}
      <span className="strip-link">
        Link{" "}
        <span className="num">
          {job.link}
          {volts !== undefined && ` · battery ${volts} V`}
        </span>
      </span>
      <span className="keys">
        <span>
          <kbd>n</kbd>next step
        </span>
        <span>
          <kbd>e</kbd>reading
        </span>
        <span>
          <kbd>t</kbd>timer
        </span>
        <span>
          <kbd>?</kbd>keys
        </span>
      </span>
    </footer>
  );
}

/** Along the bottom of the screens that belong to no job, while something runs. */
export function Waits() {
  const inJob = /^\/jobs\/[^/]+\/(?!labels)/.test(useLocation().pathname);
  return inJob ? null : <Running />;
}

function Running() {
  const running = useRunning();
  if (!running.length) return null;
  return (
    <footer className="now no-print">
      {running.map((timer) => (
        <Wait key={timer.id} timer={timer} number={timer.job} named />
      ))}
    </footer>
  );
}

/** A wait that runs: a tap shows its step; only one that is over is ended from here, so that no glove ends it early. */
function Wait({
  timer,
  number,
  named = false,
  small = false,
}: {
  timer: Schemas["TimerOut"];
  number: string;
  named?: boolean;
  /** Another job's: its number and the time that is left; what it waits for is said to who asks. */
  small?: boolean;
}) {
  const go = useNavigate();
  const [over, setOver] = useState(false);
  const end = useAct((id: number) =>
    take(api.POST("/api/timers/{timer_id}/end", { params: { path: { timer_id: id } } })),
  );
  return (
    <button
      onClick={() => (over ? end.mutate(timer.id) : void go(`/jobs/${number}/${timer.step.split(".")[0]}`))}
      title={over ? "Over: end this wait" : `To this step: ${timer.label}`}
      aria-label={small ? `${number} ${timer.label}` : undefined}
      className={small ? "strip-wait small" : "strip-wait"}
    >
      {named && <span className="num">{number} </span>}
      {!small && <span className="label">{timer.label} </span>}
      <Countdown
        endsAt={timer.ends_at}
        onEnd={() => {
          setOver(true);
          ring(timer.id, timer.ends_at);
        }}
      />
    </button>
  );
}
