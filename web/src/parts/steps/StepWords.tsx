import type { Step } from "../../api/client";

/** What is said before a step is touched: its gate, its caution, its look-alike. */
export function Cautions({ step }: { step: Step }) {
  return (
    <>
      {step.waits_for && (
        <div className="caution" role="note">
          <span className="head">Not yet</span>
          <span>First: {step.waits_for}. This step needs it.</span>
        </div>
      )}
      {step.shows.length > 0 && (
        <div className="sheet" role="note">
          <span className="head">Found before</span> {step.shows.join(" · ")}
        </div>
      )}
      {step.caution && (
        <div className="caution" role="note">
          <span className="head">Before this step</span>
          <span>{step.caution}</span>
        </div>
      )}
      {step.beware && (
        <div className="caution beware" role="note">
          <span className="head">Before you touch it</span>
          <span>{step.beware}</span>
        </div>
      )}
    </>
  );
}

/** How one knows that a step is right, what goes wrong, and what lies at hand. */
export function Knowing({ step }: { step: Step }) {
  return (
    <>
      {(step.know || step.wrong) && (
        <p className="soft" style={{ marginTop: 12 }}>
          {step.know && (
            <>
              <b>How you know</b> {step.know}{" "}
            </>
          )}
          {step.wrong && (
            <>
              <b>Goes wrong</b> {step.wrong}
            </>
          )}
        </p>
      )}
      {step.because && (
        <p className="soft" style={{ marginTop: 6 }}>
          <b>Asked because</b> {step.because}
        </p>
      )}
      {step.tools.length + step.consumables.length > 0 && (
        <p className="soft" style={{ marginTop: 6 }}>
          <b>At hand</b> {[...step.tools, ...step.consumables].join(", ")} · about{" "}
          <span className="num">{step.minutes} min</span>
        </p>
      )}
    </>
  );
}
