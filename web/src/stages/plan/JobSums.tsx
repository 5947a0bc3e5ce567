import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useAct } from "../../api/hooks";
import { SumForm, type Typed } from "../../parts/figures/SumForm";

/** The sums this job asks for, with its own figures in them. */
export function JobSums({ job, viewer }: { job: Job; viewer: boolean }) {
  const number = job.plate.number;
  const [open, setOpen] = useState("");
  const kinds = useQuery({
    queryKey: ["sums"],
    queryFn: () => take(api.GET("/api/sums")),
    staleTime: Infinity,
  });
  const mine = useQuery({
    queryKey: ["sums", number, job.plate.kit, job.plate.power_goal_kw, job.plate.ethanol],
    queryFn: () => take(api.GET("/api/jobs/{number}/sums", { params: { path: { number } } })),
  });
  const keep = useAct((typed: Typed) =>
    take(
      api.PUT("/api/jobs/{number}/sums/{key}", { params: { path: { number, key: open } }, body: { typed } }),
    ),
  );
  const kind = kinds.data?.find((item) => item.key === open);
  const sum = mine.data?.find((item) => item.key === open);
  return (
    <>
      <div className="title" style={{ marginTop: 16 }}>
        <h1>Sums for this job</h1>
        <span className="soft">the job's figures stand in them already; any unit may be typed</span>
      </div>
      <div className="row" style={{ marginBottom: 12, gap: 8 }}>
        {mine.data?.map((item) => (
          <button
            key={item.key}
            className={`chip ${item.key === open ? "here" : ""}`}
            aria-pressed={item.key === open}
            onClick={() => setOpen(item.key === open ? "" : item.key)}
          >
            {item.title}
            {item.kept && <span aria-label="kept"> ✓</span>}
          </button>
        ))}
      </div>
      {kind && sum && (
        <SumForm
          key={kind.key}
          kind={kind}
          start={sum.typed}
          onKeep={viewer ? undefined : (typed) => keep.mutate(typed)}
          keeping={keep.isPending}
          kept={sum.kept}
        />
      )}
    </>
  );
}
