import { Button } from "antd";
import { useRef, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, sendFile, take, type ApiError, type Job, type Schemas } from "../api/client";
import { useAct, useSession } from "../api/hooks";
import { Num } from "./Num";
import { Plot } from "./Plot";

/** Runs of one side, before or after: making them, leaving one out, and their curves. */
export function DrumRuns({ job, when }: { job: Job; when: "before" | "after" }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const runs = useQuery({ queryKey: ["runs", number], queryFn: () => take(api.GET("/api/jobs/{number}/runs", { params: { path: { number } } })) });
  const make = useAct(() => take(api.POST("/api/jobs/{number}/runs", { params: { path: { number } }, body: { when } })));
  const count = useAct(({ id, counts }: { id: number; counts: boolean }) => take(api.PUT("/api/jobs/{number}/runs/{run_id}", { params: { path: { number, run_id: id } }, body: { counts } })));
  const chooser = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState("");
  const bring = useAct((file: File) => sendFile<Schemas["RunsOut"]>(`/api/jobs/${number}/run-files?when=${when}&name=${encodeURIComponent(file.name)}`, file, () => undefined).done.catch((error: ApiError) => {
    setWrong(`${file.name}: ${error.message}`);
    throw error;
  }), () => setWrong(""));
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
            <Button loading={bring.isPending} onClick={() => chooser.current?.click()}>Bring a run, CSV</Button>
            {job.plate.bench_engine && <Button type={good < wanted ? "primary" : "default"} loading={make.isPending} onClick={() => make.mutate(undefined)}>Make run {mine.length + 1}</Button>}
          </span>
        )}
      </div>
      <input ref={chooser} hidden type="file" accept=".csv,text/csv" aria-label={`Run file ${when}`} onChange={(event) => (event.target.files?.[0] && bring.mutate(event.target.files[0]), (event.target.value = ""))} />
      {wrong && <p role="alert" style={{ color: "var(--oxide)", marginTop: 6 }}>{wrong}</p>}
      {!mine.length && <p className="soft" style={{ marginTop: 6 }}>Same gear, ramp, straps and tyre pressure for every run. The scatter of {wanted} runs decides what may be claimed.</p>}
      {mine.length > 0 && (
        <>
          <table className="plain">
            <thead><tr><th>run</th><th>map</th><th className="r">peak at the wheels</th><th className="r">at</th><th className="r">torque from it</th><th className="r">intake air</th><th className="r">barometer</th><th /></tr></thead>
            <tbody>
              {mine.map((run, index) => (
                <tr key={run.id} style={{ opacity: run.counts ? 1 : 0.55 }}>
                  <td className="num">{index + 1}</td><td>{run.map}</td>
                  <td className="r"><Num value={run.peak_kw} unit="kW" digits={1} /></td><td className="r"><Num value={run.peak_kw_rpm} unit="rpm" /></td>
                  <td className="r"><Num value={run.peak_nm} unit="N·m" digits={0} /></td><td className="r"><Num value={run.intake_c} unit="°C" digits={0} /></td>
                  <td className="r"><Num value={run.pressure_kpa} unit="kPa" digits={1} /></td>
                  <td className="r">{!viewer && <Button onClick={() => count.mutate({ id: run.id, counts: !run.counts })}>{run.counts ? "Leave out" : "Count again"}</Button>}</td>
                </tr>
              ))}
            </tbody>
          </table>
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
