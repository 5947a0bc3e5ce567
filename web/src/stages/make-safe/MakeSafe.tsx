import type { Job } from "../../api/client";
import { RunSheet } from "../../parts/steps/RunSheet";

/** Cool, relieve, power down: the caution stands before each step. */
export default function MakeSafe({ job }: { job: Job }) {
  return <RunSheet job={job} stage="make-safe" title="Make safe" />;
}
