import { Button } from "antd";
import { useState, type ReactNode } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { ScreenAsks } from "../../parts/steps/Asks";
import { VerdictGlyph } from "../../parts/figures/Glyphs";
import { Num } from "../../parts/figures/Num";
import { RunSheet } from "../../parts/steps/RunSheet";
import { SumCard } from "../../parts/figures/SumCard";
import { useSettled } from "../../parts/frame/useSettled";
import { Besides } from "./Besides";
import { JobSums } from "./JobSums";
import { Kit } from "./Kit";
import { NewInjectors } from "./NewInjectors";
import { Parts } from "./Parts";

/** Injectors for the goal, with the sum in view. */
function Injectors({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const plan = useQuery({
    queryKey: ["plan", number, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/plan", { params: { path: { number } } })),
  });
  const choose = useAct((injectors: string) =>
    take(api.PUT("/api/jobs/{number}/plan", { params: { path: { number } }, body: { injectors } })),
  );
  const [all, setAll] = useState(false);
  const choices = plan.data?.choices ?? [];
  const others = choices.filter((choice) => !choice.at_hand);
  return (
    <>
      <div className="title">
        <h1>
          Injectors{" "}
          {job.plate.power_goal_kw == null ? (
            ": the goal power is not set yet"
          ) : (
            <>
              for <Num value={job.plate.power_goal_kw} unit="kW" />
            </>
          )}
        </h1>
        <span className="soft">{plan.data?.calls[0]?.do_next}</span>
      </div>
      <div className="sheet">
        <table className="plain">
          <thead>
            <tr>
              <th>on the shelf</th>
              <th className="r">flow here</th>
              <th className="r">supports</th>
              <th className="r">duty there</th>
              <th style={{ paddingLeft: 14 }}>call</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {choices
              .filter((choice) => all || !others.includes(choice))
              .map((choice) => (
                <Row key={choice.key} choice={choice}>
                  {choice.chosen ? (
                    <b>chosen</b>
                  ) : (
                    !viewer && (
                      <Button
                        disabled={choice.call.verdict === "stop"}
                        loading={choose.isPending && choose.variables === choice.key}
                        onClick={() => choose.mutate(choice.key)}
                      >
                        Choose
                      </Button>
                    )
                  )}
                </Row>
              ))}
          </tbody>
        </table>
        {!viewer && <NewInjectors job={job} />}
        {others.length > 0 && (
          <Button style={{ marginTop: 8 }} onClick={() => setAll(!all)}>
            {all ? "Only what goes in as it is" : `Others on the shelf (${others.length})`}
          </Button>
        )}
      </div>
      <div className="cols" style={{ marginBottom: 14 }}>
        {plan.data?.sums.map((sum) => (
          <SumCard key={sum.title} sum={sum} />
        ))}
      </div>
    </>
  );
}

type Choice = Schemas["InjectorChoiceOut"];

/** An injector held against the need; on demand, how it goes in, reason by reason. */
function Row({ choice, children }: { choice: Choice; children: ReactNode }) {
  const [shown, setShown] = useState(false);
  const plain = { border: 0, borderBottom: shown ? 0 : "1px solid var(--rule)" };
  return (
    <>
      <tr>
        <td style={{ ...plain, minWidth: 150 }}>
          <b>{choice.name}</b>
        </td>
        <td className="r" style={plain}>
          <Num value={choice.flow} unit="cm³/min" digits={0} />
        </td>
        <td className="r" style={plain}>
          <Num value={choice.supports_kw} unit="kW" digits={0} />
        </td>
        <td className="r" style={plain}>
          <Num value={choice.duty_at_goal === null ? null : 100 * choice.duty_at_goal} unit="%" digits={0} />
        </td>
        <td className={`call ${choice.call.verdict}`} style={{ ...plain, padding: "6px 10px 6px 14px" }}>
          <div className="row" style={{ gap: 10, flexWrap: "nowrap" }}>
            <span className="word">
              <VerdictGlyph verdict={choice.call.verdict} />
              {choice.call.verdict.toUpperCase()}
            </span>
            <Button
              type="text"
              style={{ padding: "0 6px" }}
              aria-expanded={shown}
              aria-label={`${choice.name}: ${choice.result}`}
              onClick={() => setShown(!shown)}
            >
              {choice.result} {shown ? "▴" : "▾"}
            </Button>
          </div>
          <div className="soft" style={{ fontSize: 14 }}>
            {choice.call.do_next}
          </div>
        </td>
        <td className="r" style={plain}>
          {children}
        </td>
      </tr>
      {shown && (
        <tr>
          <td colSpan={6} className="soft">
            {choice.fit.map((reason) => (
              <div key={reason.what}>
                <b>{reason.what}</b> {reason.why}
                {reason.work && <> · {reason.work}</>}
              </div>
            ))}
          </td>
        </tr>
      )}
    </>
  );
}

/** Does it fit, is it enough, what is needed: device, injectors, sums, parts and tools. */
export default function Plan({ job }: { job: Job }) {
  const viewer = useSession().data?.role === "viewer";
  const settled = useSettled();
  return (
    <>
      <ScreenAsks job={job} steps={["plan.fit"]} />
      <Kit job={job} viewer={viewer} />
      {settled && (
        <>
          <ScreenAsks job={job} steps={["plan.injectors"]} />
          {job.plate.petrol && job.steps.some((step) => step.key === "plan.injectors") && (
            <Injectors job={job} />
          )}
          <ScreenAsks job={job} steps={["plan.pump"]} />
          <JobSums job={job} viewer={viewer} />
          <Besides job={job} />
          <Parts job={job} />
          <RunSheet job={job} stage="plan" />
        </>
      )}
    </>
  );
}
