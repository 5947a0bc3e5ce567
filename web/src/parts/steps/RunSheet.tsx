import { Button, Drawer, Switch } from "antd";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { api, take, type Job, type Step } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { SlatGlyph } from "../figures/Glyphs";
import { Num } from "../figures/Num";
import { useHeld } from "../../away/held";
import { StepCard } from "./StepCard";
import { Help } from "../frame/Help";
import { when } from "../figures/when";

/** The steps of a stage, one at a time, with the whole sheet in a drawer. Steps that a screen does itself are left to it. */
export function RunSheet({
  job,
  stage,
  title,
  own = [],
}: {
  job: Job;
  stage: string;
  title?: string;
  own?: string[];
}) {
  const [whole, setWhole] = useState(false);
  const [asked, ask] = useSearchParams();
  const chosen = asked.get("step");
  const setChosen = (key: string) => ask({ step: key }, { replace: true });
  const steps = job.steps.filter(
    (step) => step.stage === stage && step.evidence !== "auto" && !own.includes(step.key),
  );
  const held = useHeld(job.plate.number);
  const open = steps.filter((step) => !step.done && !held.done(step));
  const current = steps.find((step) => step.key === chosen && !step.done) ?? open[0];
  const place = current ? steps.indexOf(current) + 1 : steps.length;
  const ahead = open.filter((step) => step.beware && step !== current);
  if (!steps.length) return null;
  return (
    <>
      <div className="title">
        {title ? (
          <h1>{current ? current.title : `${title}: all done`}</h1>
        ) : (
          <h2>{current ? current.title : "By hand: all done"}</h2>
        )}
        {current && (
          <span className="soft">
            step {place} of {steps.length}
          </span>
        )}
        <div className="end">
          <Help chapter={stage} about={title ?? stage} />
          <Button onClick={() => setWhole(true)}>Whole sheet</Button>
        </div>
      </div>
      {steps
        .filter((step) => !step.done && held.done(step))
        .map((step) => (
          <p key={step.key} className="sheet unsent">
            <b>Not sent yet{step.reading || step.answers.length ? ", so not judged" : ""}</b> {step.title}
          </p>
        ))}
      {current && <StepCard key={current.key} job={job} step={current} />}
      {!current && title && (
        <div className="sheet">
          {steps.map((step) => (
            <div key={step.key} style={{ padding: "4px 0" }}>
              {step.title}{" "}
              <span className="soft">
                {[step.set_aside || step.words, step.on && `on ${step.on}`, `${step.by}, ${when(step.at!)}`]
                  .filter(Boolean)
                  .join(" · ")}
              </span>
            </div>
          ))}
        </div>
      )}
      {title && current && (open.length > 1 || ahead.length > 0) && (
        <div className="cols">
          {open.length > 1 && (
            <div className="sheet">
              <span className="head">Next</span>
              {open
                .filter((step) => step !== current)
                .slice(0, 4)
                .map((step) => (
                  <div key={step.key} style={{ padding: "3px 0" }}>
                    <span className="num">{steps.indexOf(step) + 1}</span> {step.title}
                  </div>
                ))}
            </div>
          )}
          {ahead.length > 0 && (
            <div className="sheet">
              <span className="head">Look-alikes ahead</span>
              {ahead.map((step) => (
                <div key={step.key} style={{ padding: "3px 0" }}>
                  {step.beware}
                </div>
              ))}
            </div>
          )}
        </div>
      )}
      {whole && (
        <WholeSheet
          job={job}
          stage={stage}
          onOpen={(key) => (setChosen(key), setWhole(false))}
          onClose={() => setWhole(false)}
        />
      )}
    </>
  );
}

/** The sheet in a drawer: this slat or the whole job, what is done by whom, and what an earlier kit asked for. */
function WholeSheet({
  job,
  stage,
  onOpen,
  onClose,
}: {
  job: Job;
  stage: string;
  onOpen: (key: string) => void;
  onClose: () => void;
}) {
  const [all, setAll] = useState(false);
  const go = useNavigate();
  const stages = job.slats.filter((slat) => all || slat.key === stage);
  const kept = job.kept.filter((row) => all || row.key.startsWith(`${stage}.`));
  return (
    <Drawer
      open
      onClose={onClose}
      title="Whole sheet"
      size={620}
      extra={
        <label className="row" style={{ gap: 8 }}>
          <Switch checked={all} onChange={setAll} aria-label="All slats" />
          all slats
        </label>
      }
    >
      {stages.map((slat) => {
        const steps = job.steps.filter((step) => step.stage === slat.key);
        const minutes = steps.reduce((sum, step) => sum + step.minutes, 0);
        return (
          <section key={slat.key} style={{ marginBottom: 16 }}>
            <div className="row">
              <SlatGlyph state={slat.state} />
              <h2>{slat.label}</h2>
              <span className="soft">
                {slat.state} · {steps.filter((s) => s.done).length} of {steps.length} · about{" "}
                <Num value={minutes} unit="min" digits={0} />
              </span>
            </div>
            {steps.map((step, index) => (
              <SheetLine
                key={step.key}
                job={job}
                step={step}
                index={index + 1}
                onOpen={() =>
                  slat.key === stage
                    ? onOpen(step.key)
                    : void go(`/jobs/${job.plate.number}/${slat.key}?step=${step.key}`)
                }
              />
            ))}
          </section>
        );
      })}
      {kept.length > 0 && (
        <section>
          <span className="head">Done for an earlier kit; kept</span>
          {kept.map((row) => (
            <div key={row.key} style={{ padding: "6px 0", borderBottom: "1px solid var(--rule)" }}>
              {row.title}{" "}
              <div className="soft">
                {row.by}, {when(row.at)}
              </div>
            </div>
          ))}
        </section>
      )}
    </Drawer>
  );
}

function SheetLine({
  job,
  step,
  index,
  onOpen,
}: {
  job: Job;
  step: Step;
  index: number;
  onOpen: () => void;
}) {
  const viewer = useSession().data?.role === "viewer";
  const undo = useAct(() =>
    take(
      api.POST("/api/jobs/{number}/steps/{key}/undo", {
        params: { path: { number: job.plate.number, key: step.key } },
      }),
    ),
  );
  const label = step.answers.find((answer) => answer.key === step.answer)?.label;
  return (
    <div
      className="row"
      style={{
        justifyContent: "space-between",
        borderBottom: "1px solid var(--rule)",
        padding: "8px 0",
        flexWrap: "nowrap",
      }}
    >
      <span>
        <span className="num">{index}</span> {step.title}
        {step.done && (
          <div className="soft">
            {step.value !== null && step.reading ? (
              <>
                <Num value={step.value} unit={step.reading.unit} /> ·{" "}
              </>
            ) : label ? (
              `${label} · `
            ) : (
              ""
            )}
            {step.by}, {when(step.at!)}
          </div>
        )}
      </span>
      {!viewer &&
        step.evidence !== "auto" &&
        (step.done ? (
          <Button onClick={() => undo.mutate(undefined)}>Undo</Button>
        ) : (
          <Button onClick={onOpen}>Do this</Button>
        ))}
      {!step.done && step.evidence === "auto" && (
        <Button type="text" onClick={onOpen}>
          on its screen
        </Button>
      )}
    </div>
  );
}
