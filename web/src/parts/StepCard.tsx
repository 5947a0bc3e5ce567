import { Button } from "antd";
import { useRef, useState } from "react";
import { api, take, type Job, type Step } from "../api/client";
import { useAct, useSession } from "../api/hooks";
import { Countdown } from "./Countdown";
import { Figure, type FigureHandle } from "./Figure";
import { useKeys } from "./keys";

/** One step: the caution before it, what to do, its evidence, how you know it is right, what goes wrong. */
export function StepCard({ job, step }: { job: Job; step: Step }) {
  const [typed, setTyped] = useState("");
  const field = useRef<FigureHandle>(null);
  const viewer = useSession().data?.role === "viewer";
  const timer = job.timers.find((t) => t.step === step.key);
  const act = useAct((anyway: boolean) =>
    take(api.POST("/api/jobs/{number}/steps/{key}/done", { params: { path: { number: job.plate.number, key: step.key } }, body: { reading: typed || null, unit: field.current?.unit ?? null, anyway } })),
  );
  const done = () => act.mutate(step.evidence === "timer" && timer !== undefined);
  useKeys(viewer ? {} : { Enter: done, e: () => field.current?.focus(), t: step.evidence === "timer" && !timer ? done : undefined });
  const limits = step.reading && [step.reading.low, step.reading.high].filter((v) => v !== null && v !== undefined).join("–");
  return (
    <>
      {step.caution && <div className="caution" role="note"><span className="head">Before this step</span><span>{step.caution}</span></div>}
      <div className="sheet">
        {step.do && <p style={{ fontSize: 17, marginBottom: 12 }}>{step.do}</p>}
        <div className="row">
          {step.reading && (
            <Figure ref={field} label={step.reading.label} quantity={step.reading.quantity} unit={step.reading.unit} value={typed} onChange={setTyped} onEnter={done} hint={`limits ${limits} ${step.reading.unit}`} />
          )}
          {timer && <span style={{ fontSize: 18 }}>Running <Countdown endsAt={timer.ends_at} /></span>}
          {!viewer && (
            <Button type="primary" size="large" onClick={done} loading={act.isPending}>
              {step.evidence === "timer" ? (timer ? "Enough, go on" : `Start the wait, ${Math.round(step.seconds / 60)} min`) : step.reading ? "Enter, next step" : "Done, next step"} <kbd style={{ marginLeft: 8 }}>↵</kbd>
            </Button>
          )}
          {!viewer && step.evidence === "timer" && !timer && <Button size="large" onClick={() => act.mutate(true)}>It is cool already</Button>}
        </div>
        {(step.know || step.wrong) && (
          <p className="soft" style={{ marginTop: 12 }}>
            {step.know && <><b>How you know</b> {step.know} </>}
            {step.wrong && <><b>Goes wrong</b> {step.wrong}</>}
          </p>
        )}
      </div>
    </>
  );
}
