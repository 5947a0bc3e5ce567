import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, ApiError, csrf, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { CallCard } from "../../parts/ledger/CallCard";
import { KeepForNext } from "./KeepForNext";
import { Num } from "../../parts/figures/Num";
import { RunSheet } from "../../parts/steps/RunSheet";
import { ReportTables } from "./ReportTables";

/** What was done, what it gained, how to go back, what to watch; as page and PDF. */
export default function HandOver({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const report = useQuery({
    meta: { shown: true },
    queryKey: ["report", number, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/report", { params: { path: { number } } })),
  });
  const print = useAct(
    () => fetchPdf(number),
    (blob) => {
      const link = document.createElement("a");
      link.href = URL.createObjectURL(blob);
      link.download = `job-${number}.pdf`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
    },
  );
  const r = report.data;
  if (!r) return <p className="soft">{report.error?.message ?? "Gathering the record…"}</p>;
  return (
    <>
      <div className="title">
        <h1>Hand-over report</h1>
        <span className="soft">
          {[r.house, r.town].filter(Boolean).join(", ")} · {r.made_at}
        </span>
        {!viewer && (
          <div className="end no-print">
            <Button
              type="primary"
              size="large"
              loading={print.isPending}
              onClick={() => print.mutate(undefined)}
            >
              Print as PDF
            </Button>
          </div>
        )}
      </div>
      <div className="no-print">
        <RunSheet job={job} stage="hand-over" />
        <KeepForNext job={job} />
      </div>
      <div className="cols" style={{ marginBottom: 12 }}>
        {r.gain ? (
          <div className="sheet" style={{ margin: 0 }}>
            <b>{r.gain.claimed ? "The gain is claimed." : `Shown, not claimed: ${r.no_gain}.`}</b>
            <div>
              mean at the wheels <Num value={r.gain.mean_kw} unit="kW" digits={2} />
              {r.gain.scatter_kw !== null && (
                <>
                  {" "}
                  ± <Num value={r.gain.scatter_kw} unit="kW" digits={2} />
                </>
              )}
            </div>
            <div>
              peak <Num value={r.gain.before_kw} unit="kW" digits={1} /> before,{" "}
              <Num value={r.gain.after_kw} unit="kW" digits={1} /> after; correction {r.gain.standard}
            </div>
          </div>
        ) : (
          <div className="sheet" style={{ margin: 0 }}>
            <b>No gain is claimed.</b> {r.no_gain}
          </div>
        )}
        {r.gain?.calls.map((call) => (
          <CallCard
            key={call.rule}
            verdict={call.verdict}
            title={call.title}
            because={call.because}
            next={call.do_next}
            source={call.source}
          />
        ))}
        <div className="sheet" style={{ margin: 0 }}>
          <span className="head">Fitted</span>
          {r.parts.map((part) => (
            <div key={part}>{part}</div>
          ))}
          <div className="soft">{r.inside}</div>
          <span className="head">What to feed it</span>
          {r.feed.map((text) => (
            <div key={text}>{text}</div>
          ))}
        </div>
      </div>
      <ReportTables r={r} />
    </>
  );
}

async function fetchPdf(number: string): Promise<Blob> {
  const answer = await fetch(`/api/jobs/${number}/report`, {
    method: "POST",
    headers: { "X-CSRFToken": csrf() },
  });
  if (!answer.ok) {
    const told = await answer.json();
    throw new ApiError(told.sentence, told.field, answer.status);
  }
  return answer.blob();
}
