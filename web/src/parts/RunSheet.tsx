import { Button, Drawer } from "antd";
import { useState } from "react";
import { api, take, type Job, type Step } from "../api/client";
import { useAct, useSession } from "../api/hooks";
import { StepCard } from "./StepCard";

/** The steps of a stage, one at a time, with the whole sheet in a drawer. Steps that a screen does itself are left to it. */
export function RunSheet({ job, stage, title, own = [] }: { job: Job; stage: string; title?: string; own?: string[] }) {
  const [whole, setWhole] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  const steps = job.steps.filter((step) => step.stage === stage && step.evidence !== "auto" && !own.includes(step.key));
  const open = steps.filter((step) => !step.done);
  const current = steps.find((step) => step.key === chosen && !step.done) ?? open[0];
  const place = current ? steps.indexOf(current) + 1 : steps.length;
  if (!steps.length) return null;
  return (
    <>
      <div className="title">
        {title ? <h1>{current ? current.title : `${title}: all done`}</h1> : <h2>{current ? current.title : "By hand: all done"}</h2>}
        {current && <span className="soft">step {place} of {steps.length}</span>}
        <div className="end"><Button onClick={() => setWhole(true)}>Whole sheet</Button></div>
      </div>
      {current && <StepCard key={current.key} job={job} step={current} />}
      {title && open.length > 1 && current && (
        <div className="sheet">
          <span className="head">Next</span>
          {open.filter((step) => step !== current).slice(0, 4).map((step) => <div key={step.key}>{steps.indexOf(step) + 1} {step.title}</div>)}
        </div>
      )}
      <Drawer open={whole} onClose={() => setWhole(false)} title="Whole sheet" size={560}>
        {steps.map((step, index) => <SheetLine key={step.key} job={job} step={step} index={index + 1} onOpen={() => (setChosen(step.key), setWhole(false))} />)}
      </Drawer>
    </>
  );
}

function SheetLine({ job, step, index, onOpen }: { job: Job; step: Step; index: number; onOpen: () => void }) {
  const viewer = useSession().data?.role === "viewer";
  const undo = useAct(() => take(api.POST("/api/jobs/{number}/steps/{key}/undo", { params: { path: { number: job.plate.number, key: step.key } } })));
  return (
    <div className="row" style={{ justifyContent: "space-between", borderBottom: "1px solid var(--rule)", padding: "8px 0", flexWrap: "nowrap" }}>
      <span>
        <span className="num">{index}</span> {step.title}
        {step.done && <div className="soft">{step.value !== null && step.reading ? `${step.value} ${step.reading.unit} · ` : ""}{step.by}, {new Date(step.at!).toLocaleString([], { dateStyle: "short", timeStyle: "short" })}</div>}
      </span>
      {!viewer && (step.done ? <Button onClick={() => undo.mutate(undefined)}>Undo</Button> : <Button onClick={onOpen}>Do this</Button>)}
    </div>
  );
}
