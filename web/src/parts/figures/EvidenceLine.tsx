import type { Evidence } from "../../api/client";
import { Num } from "./Num";

/** A number of a call beside what it measures, against its limit. */
export function EvidenceLine({ one }: { one: Evidence }) {
  return (
    <div className="line">
      <span>{one.label}</span>
      <span className={typeof one.value === "number" ? "figure" : ""}>
        <Num value={one.value} unit={one.unit} />
        {one.limit !== null && one.limit !== undefined && (
          <span className="soft">
            {" "}
            / <Num value={one.limit} unit={typeof one.limit === "string" ? "" : one.unit} />
          </span>
        )}
      </span>
    </div>
  );
}
