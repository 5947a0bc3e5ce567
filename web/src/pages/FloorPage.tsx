import { Button } from "antd";
import { useEffect, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { api, take, type Schemas } from "../api/client";
import { useSession } from "../api/hooks";
import { EmptyFloor } from "../parts/frame/EmptyFloor";
import { FollowUps } from "../parts/logs/ColdStarts";
import { OpenJob } from "../parts/frame/OpenJob";
import { DropLog } from "../parts/logs/DropLog";
import { SlatGlyph } from "../parts/figures/Glyphs";
import { Countdown } from "../parts/figures/Countdown";
import { Num } from "../parts/figures/Num";

/** The floor: what each job needs next, and a place to drop any log. */
export function FloorPage({ all = false }: { all?: boolean }) {
  const session = useSession().data;
  const go = useNavigate();
  const jobs = useQuery({
    queryKey: ["jobs"],
    queryFn: () => take(api.GET("/api/jobs")),
    refetchInterval: 3000,
  });
  const [opening, setOpening] = useState(false);
  useEffect(() => {
    document.title = `${all ? "Jobs" : "Floor"} · Vent Map`;
  }, [all]);
  return (
    <main className="floor" id="work">
      <div className="title">
        <h1>{all ? "Jobs" : "On the floor"}</h1>
        <span className="soft">
          {[session?.house, session?.town].filter(Boolean).join(", ")} ·{" "}
          <Num value={session?.altitude_m} unit="m" />
        </span>
        <div className="end">
          {session?.role !== "viewer" && (
            <Button type="primary" onClick={() => setOpening(true)}>
              Open a job
            </Button>
          )}
        </div>
      </div>
      {jobs.data?.length === 0 && (
        <EmptyFloor viewer={session?.role === "viewer"} onOpen={() => setOpening(true)} />
      )}
      {!all && <FollowUps />}
      {jobs.data?.map((job) => (
        <JobLine key={job.number} job={job} />
      ))}
      {!all && (
        <>
          <h2 style={{ margin: "18px 0 8px" }}>A look at any log</h2>
          <DropLog
            onRead={(log) => void go(`/look/${log.id}`)}
            hint="Drop a datalog here, or choose a file: it is read and judged without a job."
          />
        </>
      )}
      {opening && <OpenJob onClose={() => setOpening(false)} />}
    </main>
  );
}

function JobLine({ job }: { job: Schemas["JobRow"] }) {
  return (
    <article className="sheet jobline">
      <Link
        to={`/jobs/${job.number}/${job.stage}`}
        style={{ font: "600 24px 'Barlow Condensed'", textDecoration: "none" }}
      >
        {job.number}
      </Link>
      <div>
        <b>{job.vehicle}</b> {job.practice && <span className="practice">practice</span>}
        <div className="soft">{[job.registration, job.owner].filter(Boolean).join(" · ")}</div>
        <div className="soft">
          {job.kit} · {job.goal}
        </div>
      </div>
      <div>
        <div
          className="mini"
          role="img"
          aria-label={job.slats.map((s) => `${s.label} ${s.state}`).join(", ")}
        >
          {job.slats.map((slat) => (
            <i key={slat.key} className={slat.state} title={`${slat.label}: ${slat.state}`} />
          ))}
        </div>
        <div className="soft" style={{ marginTop: 5, display: "flex", gap: 12 }}>
          <span>{job.stage_label}</span>
          {job.holds > 0 && (
            <span style={{ color: "var(--ochre)" }}>
              <SlatGlyph state="held" /> {job.holds} held
            </span>
          )}
          {job.stops > 0 && (
            <span style={{ color: "var(--oxide)" }}>
              <SlatGlyph state="stopped" /> {job.stops} stopped
            </span>
          )}
        </div>
      </div>
      <div>
        <span className="soft">Next</span> <b>{job.next}</b>
        {job.timers.map((timer) => (
          <div key={timer.id}>
            {timer.label} <Countdown endsAt={timer.ends_at} />
          </div>
        ))}
      </div>
      <Link to={`/jobs/${job.number}/${job.stage}`}>
        <Button type="primary">Go on</Button>
      </Link>
    </article>
  );
}
