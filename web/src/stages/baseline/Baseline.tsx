import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { DrumRuns } from "../../parts/DrumRuns";

const NAMES: Record<string, string> = { VIN: "VIN", computer: "computer", calibration: "calibration" };

/** Codes and stock runs, before anything is touched. */
export default function Baseline({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const read = useQuery({ queryKey: ["baseline", number], queryFn: () => take(api.GET("/api/jobs/{number}/baseline", { params: { path: { number } } })) });
  const ask = useAct(() => take(api.POST("/api/jobs/{number}/baseline", { params: { path: { number } } })));
  const was = read.data?.read_at;
  return (
    <>
      <div className="title">
        <h1>Before anything is touched</h1>
        <span className="soft">without a baseline no gain is claimed</span>
      </div>
      <div className="sheet">
        <div className="row" style={{ justifyContent: "space-between" }}>
          <h2>Stock computer: identity and codes</h2>
          {!viewer && <Button type={was ? "default" : "primary"} loading={ask.isPending} onClick={() => ask.mutate(undefined)}>{was ? "Read again" : "Read identity and codes"}</Button>}
        </div>
        {was && (
          <table className="plain" style={{ marginTop: 8 }}>
            <tbody>
              {Object.entries(read.data!.identity).map(([name, value]) => <tr key={name}><td className="soft">{NAMES[name] ?? name}</td><td className="num">{value}</td></tr>)}
              {read.data!.codes.map((code) => <tr key={code.code}><td className="num">{code.code}</td><td>{code.status}{code.status === "pending" && ": seen once, not yet confirmed"}</td></tr>)}
              {!read.data!.codes.length && <tr><td className="soft">codes</td><td>none</td></tr>}
            </tbody>
          </table>
        )}
        {!was && <p className="soft" style={{ marginTop: 6 }}>Plug the tester in, ignition on. Codes that are there now are not yours.</p>}
      </div>
      <DrumRuns job={job} when="before" />
    </>
  );
}
