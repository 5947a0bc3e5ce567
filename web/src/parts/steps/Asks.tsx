import { Button } from "antd";
import { useState } from "react";
import type { Job, Schemas, Step } from "../../api/client";
import { useHeld } from "../../away/held";
import { useSession } from "../../api/hooks";
import { AskForm } from "./AskForm";

type Ask = Schemas["AskOut"];
const id = (ask: { key: string; field: string }) => `${ask.key}.${ask.field}`;

/** What a step hangs on, of vehicle, device and parts: it stands open before the step. */
export function AskedFirst({ job, step }: { job: Job; step: Step }) {
  const viewer = useSession().data?.role === "viewer";
  const held = useHeld(job.plate.number);
  const asks = step.asks.filter((ask) => ask.must && !held.answered(ask));
  const unsent = step.asks.filter((ask) => held.answered(ask));
  if (!asks.length && !unsent.length) return null;
  return (
    <section className="asks" aria-label={`Asked for: ${step.title}`}>
      {unsent.map((ask) => (
        <p key={id(ask)} className="sheet unsent">
          <b>Not sent yet</b> {ask.title} {ask.name}
        </p>
      ))}
      {asks.map((ask) => (
        <div key={id(ask)} className="caution ask-must">
          <span className="head">Asked first</span>
          <div className={ask.begin[0] ? "wide" : ""}>
            <Said ask={ask} />
            {!viewer && <AskForm number={job.plate.number} step={step.key} ask={ask} />}
          </div>
        </div>
      ))}
    </section>
  );
}

/** What can be passed over, and what is known already: after the step itself. */
export function AskedBesides({ job, step }: { job: Job; step: Step }) {
  const viewer = useSession().data?.role === "viewer";
  const [open, setOpen] = useState("");
  const held = useHeld(job.plate.number);
  const may = step.asks.filter((ask) => !ask.must && !held.answered(ask));
  if (!may.length && !step.known.length) return null;
  return (
    <section className="asks" aria-label={`Known for: ${step.title}`}>
      {may.length > 0 && (
        <div className="sheet">
          <span className="head">Not known yet; it goes on without</span>
          {may.map((ask) => (
            <div key={id(ask)} style={{ padding: "6px 0" }}>
              <div className="row" style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
                <Said ask={ask} whole={open === id(ask)} />
                {!viewer && (
                  <Button
                    aria-expanded={open === id(ask)}
                    aria-label={`Answer: ${ask.title} ${ask.name}`}
                    onClick={() => setOpen(open === id(ask) ? "" : id(ask))}
                  >
                    {open === id(ask) ? "Close" : "Answer"}
                  </Button>
                )}
              </div>
              {open === id(ask) && (
                <AskForm number={job.plate.number} step={step.key} ask={ask} onDone={() => setOpen("")} />
              )}
            </div>
          ))}
        </div>
      )}
      {step.known.length > 0 && (
        <details className="sheet">
          <summary>
            Known for this step: <span className="num">{step.known.length}</span>
          </summary>
          {step.known.map((known) => (
            <div key={id(known)} style={{ padding: "4px 0" }}>
              <div className="row" style={{ justifyContent: "space-between" }}>
                <span>
                  {known.title.replace(/\?$/, "")}: <b className="num">{known.value}</b>{" "}
                  <span className={known.source === "guessed" ? "guessed" : "soft"}>
                    {known.source} · {known.by}, {known.on}
                  </span>
                </span>
                {!viewer && known.field !== "fits" && (
                  <Button
                    type="text"
                    aria-label={`Change: ${known.title}`}
                    onClick={() => setOpen(open === `+${id(known)}` ? "" : `+${id(known)}`)}
                  >
                    {open === `+${id(known)}` ? "Close" : "Change"}
                  </Button>
                )}
              </div>
              {open === `+${id(known)}` && (
                <AskForm
                  number={job.plate.number}
                  step={step.key}
                  ask={known.ask}
                  onDone={() => setOpen("")}
                />
              )}
            </div>
          ))}
        </details>
      )}
    </section>
  );
}

/** A question, and where its answer is usually found; of one that can be passed over a line until it is opened. */
function Said({ ask, whole = true }: { ask: Ask; whole?: boolean }) {
  return (
    <div>
      <b style={{ fontSize: 17 }}>{ask.title}</b> <span className="soft">{ask.name}</span>
      {whole && (
        <div className="soft">
          <b>Usually found</b> {ask.found} <b>Without it</b> {ask.without}
        </div>
      )}
    </div>
  );
}

/** What the steps ask that are done on a screen of their own. */
export function ScreenAsks({ job, steps }: { job: Job; steps: string[] }) {
  return (
    <>
      {job.steps
        .filter((step) => steps.includes(step.key))
        .map((step) => (
          <div key={step.key}>
            <AskedFirst job={job} step={step} />
            <AskedBesides job={job} step={step} />
          </div>
        ))}
    </>
  );
}
