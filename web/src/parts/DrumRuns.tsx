import { Button } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../api/client";
import { useAct, useSession } from "../api/hooks";
import { BringRun } from "./BringRun";
import { Num } from "./Num";
import { Plot } from "./Plot";

/** Runs of one side, before or after: making them, leaving one out, and their curves. */
export function DrumRuns({ job, when }: { job: Job; when: "before" | "after" }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const runs = useQuery({ queryKey: ["runs", number], queryFn: () => take(api.GET("/api/jobs/{number}/runs", { params: { path: { number } } })) });
  const make = useAct(() => take(api.POST("/api/jobs/{number}/runs", { params: { path: { number } }, body: { when } })));
  const count = useAct(({ id, counts }: { id: number; counts: boolean }) => take(api.PUT("/api/jobs/{number}/runs/{run_id}", { params: { path: { number, run_id: id } }, body: { counts } })));
  const [bringing, setBringing] = useState(false);
  const mine = runs.data?.runs.filter((run) => run.when === when) ?? [];
  const wanted = runs.data?.repeats ?? 3;
  const step = job.steps.find((s) => s.key === (when === "before" ? "baseline.runs" : "prove.runs"));
  const good = mine.filter((run) => run.counts).length;
  return (
    <div className="sheet">
      {step?.caution && !step.done && <div className="caution"><span className="head">Before this step</span><span>{step.caution}</span></div>}
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>Drum runs {when}: {good} of {wanted}</h2>
        {!viewer && (
          <span className="row">
            <Button onClick={() => setBringing(!bringing)}>{bringing ? "Close" : "Bring a run, CSV"}</Button>
            {job.plate.bench_engine && <Button type={good < wanted ? "primary" : "default"} loading={make.isPending} onClick={() => make.mutate(undefined)}>Make run {mine.length + 1}</Button>}
          </span>
        )}
      </div>
      {bringing && runs.data && <BringRun key={runs.data.runs.length} number={number} when={when} last={mine.at(-1) ?? runs.data.runs.at(-1)} fuel={runs.data.fuel} onDone={() => good + 1 >= wanted && setBringing(false)} />}
      {!mine.length && !bringing && <p className="soft" style={{ marginTop: 6 }}>Same gear, ramp, straps and tyre pressure for every run. The scatter of {wanted} runs decides what may be claimed.</p>}
      {mine.length > 0 && (
        <>
          <table className="plain">
            <thead><tr><th>run</th><th>map</th><th className="r">peak at the wheels</th><th className="r">at</th><th className="r">torque from it</th><th className="r">gear</th><th className="r">intake air</th><th className="r">barometer</th><th /></tr></thead>
            <tbody>
              {mine.map((run, index) => (
                <tr key={run.id} style={{ opacity: run.counts ? 1 : 0.55 }}>
                  <td className="num">{index + 1}</td><td>{run.map}</td>
                  <td className="r"><Num value={run.peak_kw} unit="kW" digits={1} /></td><td className="r"><Num value={run.peak_kw_rpm} unit="rpm" /></td>
                  <td className="r"><Num value={run.peak_nm} unit="N·m" digits={0} /></td><td className="r num">{run.gear}</td><td className="r"><Num value={run.intake_c} unit="°C" digits={0} /></td>
                  <td className="r"><Num value={run.pressure_kpa} unit="kPa" digits={1} />{run.taken.includes("barometer") && <div className="soft" style={{ fontSize: 14 }}>by altitude</div>}</td>
                  <td className="r">{!viewer && <Button onClick={() => count.mutate({ id: run.id, counts: !run.counts })}>{run.counts ? "Leave out" : "Count again"}</Button>}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="soft" style={{ fontSize: 14 }}>
            {[...new Set(mine.map((run) => run.drum))].join(" / ")}, {[...new Set(mine.map((run) => run.fuel))].join(" / ")}; ramp and straps {[...new Set(mine.map((run) => run.ramp || "not written down"))].join(" / ")}; tyres{" "}
            {mine.some((run) => run.tyre_kpa) ? mine.filter((run) => run.tyre_kpa).map((run, index) => <span key={run.id}>{index > 0 && ", "}<Num value={run.tyre_kpa} unit="kPa" digits={0} /></span>) : "not written down"}.
          </p>
          <Plot
            height={200}
            x={mine[0].rpm}
            xLabel="engine speed, rpm"
            series={mine.filter((run) => run.counts).map((run, index) => ({ label: `run ${index + 1}, kW`, x: run.rpm, values: run.kw, dash: index ? [6 - 2 * index, 4] : undefined }))}
            yLabel="kW at the wheels"
          />
        </>
      )}
    </div>
  );
}
