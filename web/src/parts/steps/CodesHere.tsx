import { Button } from "antd";
import { api, take, type Job, type Schemas, type Step } from "../../api/client";
import { useAct } from "../../api/hooks";

const words = (codes: string[]) => codes.join(", ") || "none";

/** The engine computer's codes over the link: recorded, cleared, read again. Lamps and other modules stay a person's answer. */
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
        Engine computer: read, clear, read again
      </Button>
      {read.data && (
        <span role="status">
          Engine computer, before: <b>{words(read.data.before)}</b>. Came back:{" "}
          <b>{words(read.data.after)}</b>. Lamps and other modules: your answer.
        </span>
      )}
    </>
  );
}
