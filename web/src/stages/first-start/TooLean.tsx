import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Num } from "../../parts/figures/Num";

/** Global trim in steps, where a first start is too lean to live: on for the warm log, never for good. */
export function TooLean({ job, viewer }: { job: Job; viewer: boolean }) {
  const path = { params: { path: { number: job.plate.number } } };
  const trim = useQuery({
    queryKey: ["global-trim", job.plate.number],
    queryFn: () => take(api.GET("/api/jobs/{number}/global-trim", path)),
  });
  const step = useAct<number, Schemas["TrimOut"]>((steps) =>
    take(api.POST("/api/jobs/{number}/global-trim", { ...path, body: { steps } })),
  );
  if (!trim.data) return null;
  const { percent, step: size } = trim.data;
  return (
    <div className="sheet">
      <h2>Too lean to idle, or too rich</h2>
      <p className="soft" style={{ margin: "4px 0 10px" }}>
        Global trim keeps it alive until it is warm; it is never the answer. Then log idle and load: Correct
        splits the fuel error into flow and dead time, and the next write takes the trim off.
      </p>
      <div className="row">
        <b>
          Global trim <Num value={percent} unit="%" />
        </b>
        {!viewer &&
          ([1, -1, 0] as const).map((steps) => (
            <Button
              key={steps}
              size="large"
              disabled={step.isPending || (steps === 0 && percent === 0)}
              loading={step.isPending && step.variables === steps}
              onClick={() => step.mutate(steps)}
            >
              {steps === 0 ? "Take it off" : `${steps > 0 ? "+" : "−"}${size} %`}
            </Button>
          ))}
      </div>
    </div>
  );
}
