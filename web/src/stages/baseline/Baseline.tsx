import { Button } from "antd";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { ScreenAsks } from "../../parts/steps/Asks";
import { DrumRuns } from "../../parts/drum/DrumRuns";
import { ByHand } from "./ByHand";
import { StockLog } from "./StockLog";

const NAMES: Record<string, string> = { VIN: "VIN", computer: "computer", calibration: "calibration" };

/** Codes, a stock log and stock runs, before anything is touched. */
export default function Baseline({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const client = useQueryClient();
  const [typing, setTyping] = useState(false);
  const path = { params: { path: { number } } };
  const read = useQuery({
    queryKey: ["baseline", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/baseline", path)),
  });
  const ask = useAct(() => take(api.POST("/api/jobs/{number}/baseline", path)));
  const was = read.data?.read_at;
  const missing = job.steps.filter((step) => step.stage === "baseline" && !step.done);
  return (
    <>
      <ScreenAsks job={job} steps={["baseline.runs"]} />
      <div className="title">
        <h1>Before anything is touched</h1>
        <span className="soft">
          {missing.length
            ? `still open: ${missing.map((step) => step.title.toLowerCase()).join(", ")}. Without them no gain is claimed`
            : "the before is complete"}
        </span>
      </div>
      <div className="sheet">
        <div className="row" style={{ justifyContent: "space-between" }}>
          <h2>Stock computer: identity and codes</h2>
          {!viewer && (
            <span className="row">
              <Button onClick={() => setTyping(!typing)}>{typing ? "Close" : "Enter by hand"}</Button>
              <Button
                type={was ? "default" : "primary"}
                loading={ask.isPending}
                onClick={() => ask.mutate(undefined)}
              >
                {was ? "Read again" : "Read identity and codes"}
              </Button>
            </span>
          )}
        </div>
        {typing && (
          <ByHand
            number={number}
            vin={job.plate.vin}
            onDone={() => (setTyping(false), void client.invalidateQueries())}
          />
        )}
        {was && (
          <table className="plain" style={{ marginTop: 8 }}>
            <tbody>
              {Object.entries(read.data!.identity).map(([name, value]) => (
                <tr key={name}>
                  <td className="soft">{NAMES[name] ?? name}</td>
                  <td className="num">{value}</td>
                </tr>
              ))}
              {read.data!.codes.map((code) => (
                <tr key={code.code}>
                  <td className="num">{code.code}</td>
                  <td>
                    {code.status}
                    {code.status === "pending" && ": seen once, not yet confirmed"}
                  </td>
                </tr>
              ))}
              {!read.data!.codes.length && (
                <tr>
                  <td className="soft">codes</td>
                  <td>{read.data!.codes_read ? "none" : "not read"}</td>
                </tr>
              )}
            </tbody>
          </table>
        )}
        {!was && !typing && (
          <p className="soft" style={{ marginTop: 6 }}>
            Plug the tester in, ignition on. Codes that are there now are not yours.
          </p>
        )}
      </div>
      <StockLog job={job} viewer={viewer} />
      <DrumRuns job={job} when="before" />
    </>
  );
}
