import type { Job } from "../../api/client";
import { useSession } from "../../api/hooks";
import { SetAside } from "./SetAside";

/** Steps that the screen itself does, for a shop without a logger or a drum: set aside with a reason, and told. */
export function Aside({ job, stage }: { job: Job; stage: string }) {
  const lead = useSession().data?.role === "lead";
  const steps = job.steps
    .filter((step) => step.stage === stage && step.evidence === "auto")
    .filter((step) => step.set_aside || (!step.done && lead && step.aside));
  if (!steps.length) return null;
  return (
    <div className="sheet" style={{ marginTop: 14 }}>
      {steps.map((step) => (
        <div className="row" key={step.key} style={{ justifyContent: "space-between" }}>
          <span className="soft">{step.title}</span>
          {step.set_aside ? (
            <span className="soft">
              does not apply: {step.set_aside} · {step.by}
            </span>
          ) : (
            <SetAside number={job.plate.number} step={step} />
          )}
        </div>
      ))}
    </div>
  );
}
