import { Button } from "antd";
import { useRef } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, sendFile, take, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { CallCard } from "../ledger/CallCard";
import { VerdictGlyph } from "../figures/Glyphs";

type ColdStarts = Schemas["ColdStartsOut"];

/** A day as the shop's calendar writes it. */
const day = (at: string) =>
  new Date(`${at}T12:00`).toLocaleDateString([], { weekday: "short", day: "numeric", month: "short" });

/** The cold starts of the next days: when each is due, its short log, and how it was judged. */
export function ColdStarts({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const picked = useRef<HTMLInputElement>(null);
  const path = { params: { path: { number } } };
  const found = useQuery({
    queryKey: ["cold-starts", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/cold-starts", path)),
  });
  const log = useAct<void, ColdStarts>(() => take(api.POST("/api/jobs/{number}/cold-starts", path)));
  const bring = useAct<File, ColdStarts>(
    (file) =>
      sendFile<ColdStarts>(
        `/api/jobs/${number}/cold-starts?name=${encodeURIComponent(file.name)}`,
        file,
        () => undefined,
      ).done,
  );
  if (!found.data?.starts.length) return null;
  const { starts, captured } = found.data;
  const due = starts.find((start) => start.state === "due");
  const last = [...starts].reverse().find((start) => start.state === "done");
  return (
    <section className="sheet" aria-label="Cold starts">
      <h2>Cold starts of the next days</h2>
      <p className="soft" style={{ margin: "4px 0 10px" }}>
        One a day, after a night: log from key on until half a minute after it caught.
      </p>
      {starts.map((start) => (
        <div key={start.number} className="row" style={{ padding: "6px 0", minHeight: 40 }}>
          <b>Cold start {start.number}</b>
          <span className="num">{day(start.due)}</span>
          {start.state === "done" ? (
            <span className={`call ${start.verdict}`} style={{ border: 0, padding: 0 }}>
              <span className="word">
                <VerdictGlyph verdict={start.verdict} /> {start.verdict.toUpperCase()}
              </span>{" "}
              <a href={`/api/jobs/${number}/cold-starts/${start.number}/file`}>{start.name}</a>
              <span className="soft"> {start.by}</span>
            </span>
          ) : (
            <span className="soft">{start.state === "due" ? "due" : "not yet"}</span>
          )}
        </div>
      ))}
      {!viewer && due && (
        <div className="row" style={{ marginTop: 10 }}>
          {captured && (
            <Button type="primary" size="large" loading={log.isPending} onClick={() => log.mutate(undefined)}>
              Start it cold and log
            </Button>
          )}
          <Button size="large" loading={bring.isPending} onClick={() => picked.current?.click()}>
            Bring the log of cold start {due.number}
          </Button>
          <input
            ref={picked}
            type="file"
            hidden
            aria-label="Log of the cold start"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) bring.mutate(file);
              e.target.value = "";
            }}
          />
        </div>
      )}
      {last?.calls.map((call) => (
        <CallCard
          key={call.rule}
          verdict={call.verdict}
          title={`${last.number}: ${call.title}`}
          because={call.because}
          next={call.do_next}
        />
      ))}
    </section>
  );
}

/** What is due over all jobs, on the floor. */
export function FollowUps() {
  const due = useQuery({ queryKey: ["follow-ups"], queryFn: () => take(api.GET("/api/follow-ups")) });
  if (!due.data?.length) return null;
  return (
    <section className="sheet row" aria-label="Follow-ups" style={{ gap: 18 }}>
      <b>Follow-ups due</b>
      {due.data.map((one) => (
        <Link key={one.job} to={`/jobs/${one.job}/first-start`} style={{ padding: "8px 0" }}>
          <span className="num">{one.job}</span> {one.vehicle}, cold start {one.number}
        </Link>
      ))}
    </section>
  );
}
