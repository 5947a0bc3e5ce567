import type { Schemas } from "../../api/client";
import { NextDrive } from "./NextDrive";
import { Answered, StoryCauses } from "./StoryCauses";
import { EvidenceLine } from "../figures/EvidenceLine";
import { Num } from "../figures/Num";
import { VerdictGlyph } from "../figures/Glyphs";

type Found = Schemas["FindingOut"];

/** Findings, and under them what is still to be driven. */
export function FindingsRail(props: Parameters<typeof Findings>[0]) {
  return (
    <div>
      <Findings {...props} />
      <NextDrive log={props.log} />
    </div>
  );
}

/** Findings beside the lanes, worst story first: what leads, what follows from it, and what is likely behind. */
function Findings({
  log,
  touched,
  onTouch,
}: {
  log: Schemas["LogOut"];
  touched: Found | null;
  onTouch: (finding: Found | null) => void;
}) {
  if (!log.findings.length)
    return (
      <section className="rail call go" aria-label="go: Nothing found">
        <div className="word">
          <VerdictGlyph verdict="go" /> GO
        </div>
        <div className="what">Nothing found</div>
        <div className="line">
          <span>checks passed</span>
          <Num value={log.checked.length} />
        </div>
        {log.not_checkable.length > 0 && (
          <details>
            <summary>
              Not checkable: <span className="num">{log.not_checkable.length}</span>
            </summary>
            {log.not_checkable.map((one) => (
              <div className="by" key={one.kind}>
                {one.kind.replaceAll("_", " ")}
                {one.perhaps.length > 0 && `: say what “${one.perhaps[0]}” is`}
              </div>
            ))}
          </details>
        )}
      </section>
    );
  return (
    <section className="rail" aria-label="Findings">
      {log.stories.map((story) => (
        <div className="story" key={story.lead}>
          <Card finding={log.findings[story.lead]} touched={touched} onTouch={onTouch} />
          {story.follows.map((at) => (
            <div className="follows" key={at}>
              <span className="soft">what follows from it</span>
              <Card finding={log.findings[at]} touched={touched} onTouch={onTouch} />
            </div>
          ))}
          <StoryCauses log={log} story={story} />
        </div>
      ))}
      <Answered log={log} />
    </section>
  );
}

interface CardProps {
  finding: Found;
  touched: Found | null;
  onTouch: (finding: Found | null) => void;
}

/** A finding: a line until it is touched, then its numbers and what to do. */
function Card({ finding, touched, onTouch }: CardProps) {
  const open = finding === touched;
  return (
    <section className={`call ${finding.verdict}`} aria-label={`${finding.verdict}: ${finding.title}`}>
      <button className="rail-head" aria-expanded={open} onClick={() => onTouch(open ? null : finding)}>
        <span className="word">
          <VerdictGlyph verdict={finding.verdict} /> {finding.verdict.toUpperCase()}
          <span className="num soft">
            {" "}
            {finding.from_s.toFixed(0)}–{finding.to_s.toFixed(0)} s
          </span>
        </span>
        <span className="what">{finding.title}</span>
      </button>
      {finding.evidence.slice(0, open ? undefined : 1).map((one, n) => (
        <EvidenceLine key={n} one={one} />
      ))}
      {open && (
        <>
          <div className="next">
            <b>Next</b> {finding.next}
          </div>
          <div className="by">Likely: {finding.causes.join(", ")}.</div>
          <div className="by">Tell apart: {finding.check}.</div>
        </>
      )}
    </section>
  );
}
