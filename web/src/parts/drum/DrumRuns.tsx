import { Button } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { BringRun } from "./BringRun";
import { Plot } from "../figures/Plot";
import { RunPlan, useRunPlan } from "./RunPlan";
import { RunTable } from "./RunTable";

/** Runs of one side, before or after: making them, leaving one out, and their curves. */
export function DrumRuns({ job, when }: { job: Job; when: "before" | "after" }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const runs = useQuery({
    queryKey: ["runs", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/runs", { params: { path: { number } } })),
  });
  const make = useAct(() =>
    take(api.POST("/api/jobs/{number}/runs", { params: { path: { number } }, body: { when } })),
  );
  const count = useAct(({ id, counts }: { id: number; counts: boolean }) =>
    take(
      api.PUT("/api/jobs/{number}/runs/{run_id}", {
        params: { path: { number, run_id: id } },
        body: { counts },
      }),
    ),
  );
  const marks = runs.data?.runs.map((run) => `${run.id}${run.counts}`).join();
  const plan = useRunPlan(job, when === "before" ? marks : undefined);
  const [bringing, setBringing] = useState(false);
  const mine = runs.data?.runs.filter((run) => run.when === when) ?? [];
  const wanted = runs.data?.repeats ?? 3;
  const step = job.steps.find((s) => s.key === (when === "before" ? "baseline.runs" : "prove.runs"));
  const good = mine.filter((run) => run.counts).length;
  return (
    <div className="sheet">
      {step?.caution && !step.done && (
        <div className="caution">
          <span className="head">Before this step</span>
          <span>{step.caution}</span>
        </div>
      )}
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>
          Drum runs {when}: {good} of {wanted}
        </h2>
        {!viewer && (
          <span className="row">
            <Button onClick={() => setBringing(!bringing)}>{bringing ? "Close" : "Bring a run, CSV"}</Button>
            {(when === "before" ? job.plate.bench_engine : job.plate.runs_here) && (
              <Button
                type={good < wanted ? "primary" : "default"}
                loading={make.isPending}
                onClick={() => make.mutate(undefined)}
              >
                Make run {mine.length + 1}
              </Button>
            )}
          </span>
        )}
      </div>
      {bringing && runs.data && (
        <BringRun
          key={runs.data.runs.length}
          number={number}
          when={when}
          last={mine.at(-1) ?? runs.data.runs.at(-1)}
          fuel={runs.data.fuel}
          onDone={() => good + 1 >= wanted && setBringing(false)}
        />
      )}
      {!mine.length && !bringing && (
        <p className="soft" style={{ marginTop: 6 }}>
          Every run made alike: gear, ramp and how it is held. The scatter of {wanted} runs decides what may
          be claimed.
        </p>
      )}
      {mine.length > 0 && (
        <>
          <RunTable runs={mine} viewer={viewer} onCount={(id, counts) => count.mutate({ id, counts })} />
          <Plot
            height={200}
            x={mine[0].rpm}
            xLabel="engine speed, rpm"
            series={mine
              .filter((run) => run.counts)
              .map((run, index) => ({
                label: `run ${index + 1}, kW`,
                x: run.rpm,
                values: run.kw,
                dash: index ? [6 - 2 * index, 4] : undefined,
              }))}
            yLabel="kW at the wheels"
          />
        </>
      )}
      {plan && <RunPlan plan={plan} />}
    </div>
  );
}
