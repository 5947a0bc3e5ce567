import { useEffect, useRef } from "react";
import { NavLink } from "react-router";
import type { Job } from "../../api/client";
import { SlatGlyph } from "../figures/Glyphs";

/** The stages as the louvres of a vent. */
export function Slats({ job, stage }: { job: Job; stage: string }) {
  const strip = useRef<HTMLElement>(null);
  // On an upright tablet the strip is wider than the screen: the slat that is worked stays in sight.
  useEffect(() => {
    void strip.current?.querySelector(".here")?.scrollIntoView({ inline: "center", block: "nearest" });
  }, [stage]);
  return (
    <nav className="slats" aria-label="Stages" ref={strip}>
      {job.slats.map((slat) => (
        <NavLink
          key={slat.key}
          to={`/jobs/${job.plate.number}/${slat.key}`}
          className={`slat ${slat.state} ${slat.key === stage ? "here" : ""}`}
          aria-label={`${slat.label}: ${slat.state}`}
          title={`${slat.label}: ${slat.state}, ${Math.round(100 * slat.share)} % of its steps`}
        >
          <span>
            <SlatGlyph state={slat.state} />
            {slat.label}
          </span>
        </NavLink>
      ))}
    </nav>
  );
}
