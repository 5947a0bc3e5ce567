import { Button } from "antd";
import type { ReactNode } from "react";
import type { Evidence } from "../../api/client";
import { EvidenceLine } from "../figures/EvidenceLine";
import { VerdictGlyph } from "../figures/Glyphs";
import { Help } from "../frame/Help";

interface Props {
  verdict: string;
  title: string;
  because: Evidence[];
  next: string;
  source?: string;
  by?: string;
  children?: ReactNode;
  onOverrule?: () => void;
  aside?: string;
  /** Chapter of the guide that tells of it. */
  help?: string;
}

/** A judgement: word and shape, its numbers against their limits, what to do next, and where the rule comes from. */
export function CallCard({
  verdict,
  title,
  because,
  next,
  source,
  by,
  children,
  onOverrule,
  aside,
  help,
}: Props) {
  return (
    <section className={`call ${aside ? "" : verdict}`} aria-label={`${verdict}: ${title}`}>
      <div className="word">
        <VerdictGlyph verdict={verdict} /> {verdict.toUpperCase()}
        {aside && " · OVERRULED"}
        {help && <Help chapter={help} about={title} />}
      </div>
      <div className="what">{title}</div>
      {because.map((one, index) => (
        <EvidenceLine key={index} one={one} />
      ))}
      {next && (
        <div className="next">
          <b>Next</b> {next}
        </div>
      )}
      {aside && <div className="by">{aside}</div>}
      {(source || by) && <div className="by">{[by, source].filter(Boolean).join(" · ")}</div>}
      {children}
      {onOverrule && (
        <Button size="small" style={{ marginTop: 6, minHeight: 36 }} onClick={onOverrule}>
          Overrule with a reason
        </Button>
      )}
    </section>
  );
}
