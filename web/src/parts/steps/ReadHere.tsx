import { Button } from "antd";
import { api, take, type Job, type Schemas, type Step } from "../../api/client";
import { useAct } from "../../api/hooks";

/** A reading from the computer that runs this engine; what comes is still entered by a person. */
export function ReadHere({ job, step, onRead }: { job: Job; step: Step; onRead: (typed: string) => void }) {
  const live = useAct<void, Schemas["LiveReadOut"]>(
    () =>
      take(
        api.GET("/api/jobs/{number}/steps/{key}/live", {
          params: { path: { number: job.plate.number, key: step.key } },
        }),
      ),
    (read) => onRead(`${read.value} ${read.unit}`),
  );
  if (step.live !== "reading") return null;
  return (
    <Button size="large" loading={live.isPending} onClick={() => live.mutate(undefined)}>
      Read it over the link
    </Button>
  );
}
