import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { VerdictGlyph } from "../../parts/Glyphs";
import { Num } from "../../parts/Num";
import { RunSheet } from "../../parts/RunSheet";
import { SumCard } from "../../parts/SumCard";
import { useSettled } from "../../parts/useSettled";
import { JobSums } from "./JobSums";
import { Kit } from "./Kit";
import { Parts } from "./Parts";

/** Injectors for the goal, with the sum in view. */
function Injectors({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const plan = useQuery({ queryKey: ["plan", number, job.plate.power_goal_kw, job.plate.ethanol, job.plate.altitude_m], queryFn: () => take(api.GET("/api/jobs/{number}/plan", { params: { path: { number } } })) });
  const choose = useAct((injectors: string) => take(api.PUT("/api/jobs/{number}/plan", { params: { path: { number } }, body: { injectors } })));
  return (
    <>
      <div className="title">
        <h1>Injectors for <Num value={job.plate.power_goal_kw} unit="kW" /></h1>
        <span className="soft">{plan.data?.calls[0]?.do_next}</span>
      </div>
      <div className="sheet">
        <table className="plain">
          <thead><tr><th>on the shelf</th><th className="r">flow here</th><th className="r">supports</th><th className="r">duty there</th><th style={{ paddingLeft: 14 }}>call</th><th /></tr></thead>
          <tbody>
            {plan.data?.choices.map((choice) => (
              <tr key={choice.key}>
                <td><b>{choice.name}</b></td>
                <td className="r"><Num value={choice.flow} unit="cm³/min" digits={0} /></td>
                <td className="r"><Num value={choice.supports_kw} unit="kW" digits={0} /></td>
                <td className="r"><Num value={100 * choice.duty_at_goal} unit="%" digits={0} /></td>
                <td className={`call ${choice.call.verdict}`} style={{ border: 0, borderBottom: "1px solid var(--rule)", padding: "6px 10px 6px 14px" }}>
                  <span className="word"><VerdictGlyph verdict={choice.call.verdict} />{choice.call.verdict.toUpperCase()}</span>
                  <div className="soft" style={{ fontSize: 14 }}>{choice.call.do_next}</div>
                </td>
                <td className="r">
                  {choice.chosen ? <b>chosen</b> : !viewer && <Button disabled={choice.call.verdict === "stop"} loading={choose.isPending && choose.variables === choice.key} onClick={() => choose.mutate(choice.key)}>Choose</Button>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="cols" style={{ marginBottom: 14 }}>{plan.data?.sums.map((sum) => <SumCard key={sum.title} sum={sum} />)}</div>
    </>
  );
}

/** Does it fit, is it enough, what is needed: device, injectors, sums, parts and tools. */
export default function Plan({ job }: { job: Job }) {
  const viewer = useSession().data?.role === "viewer";
  const settled = useSettled();
  return (
    <>
      <Kit job={job} viewer={viewer} />
      {settled && (
        <>
          {job.plate.petrol && <Injectors job={job} />}
          <JobSums job={job} viewer={viewer} />
          <Parts job={job} />
          <RunSheet job={job} stage="plan" />
        </>
      )}
    </>
  );
}
