import { Button } from "antd";
import { api, take, type Job, type Schemas, type Step } from "../api/client";
import { useAct } from "../api/hooks";

const words = (codes: string[]) => codes.join(", ") || "none";

/** Codes over the link, where it reads this vehicle: recorded, cleared, read again; what comes back answers the step. */
export function CodesHere({ job, step }: { job: Job; step: Step }) {
  const read = useAct<void, Schemas["CodesReadOut"]>(() =>
    take(
      api.POST("/api/jobs/{number}/steps/{key}/codes", {
        params: { path: { number: job.plate.number, key: step.key } },
      }),
    ),
  );
  if (step.live !== "codes") return null;
  return (
    <>
      <Button size="large" type="primary" loading={read.isPending} onClick={() => read.mutate(undefined)}>
        Read, clear and read again over the link
      </Button>
      {read.data && (
        <span role="status">
          Before: <b>{words(read.data.before)}</b>. Came back: <b>{words(read.data.after)}</b>.
        </span>
      )}
    </>
  );
}
