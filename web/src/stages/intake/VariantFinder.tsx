import { Button } from "antd";
import { useEffect, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

/** Which variant of the model stands here: only the tell-tales that split what is left, the best first. */
export function VariantFinder({ job, viewer }: { job: Job; viewer: boolean }) {
  const number = job.plate.number;
  const path = { params: { path: { number } } };
  const known = useQuery({
    queryKey: ["variants", number, job.plate.vehicle_key],
    queryFn: () => take(api.GET("/api/jobs/{number}/variants", path)),
  });
  const [found, setFound] = useState<Schemas["VariantsOut"] | null>(null);
  useEffect(() => setFound(null), [job.plate.vehicle_key]);
  const now = found ?? known.data;
  const done = job.steps.find((step) => step.key === "intake.variant")?.done;
  const ask = useAct(
    (answers: Record<string, string>) =>
      take(
        api.POST("/api/models/{model}/variants", {
          params: { path: { model: now!.model } },
          body: { answers },
        }),
      ),
    setFound,
  );
  const settle = useAct(
    (vehicle: string) =>
      take(api.PUT("/api/jobs/{number}/vehicle", { ...path, body: { vehicle, answers: now!.answers } })),
    setFound,
  );
  if (!now || now.candidates.length <= 1) return null;
  const answered = Object.entries(now.answers);
  const left = now.candidates.filter((candidate) => candidate.left);
  return (
    <div className="sheet">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>
          Which {now.model} is it? {done && <span className="soft">{job.plate.vehicle}</span>}
        </h2>
        {!viewer && answered.length > 0 && <Button onClick={() => ask.mutate({})}>Start over</Button>}
      </div>
      {answered.map(([tale, answer]) => (
        <span key={tale} className="soft" style={{ marginRight: 16 }}>
          {tale}: <b>{answer || "could not see"}</b>
        </span>
      ))}
      {now.settled ? (
        <div className="row" style={{ marginTop: 8 }}>
          <b style={{ fontSize: 17 }}>{left[0].name}</b>
          {!viewer && !(done && now.settled === job.plate.vehicle_key) && (
            <Button type="primary" loading={settle.isPending} onClick={() => settle.mutate(now.settled)}>
              This is it
            </Button>
          )}
        </div>
      ) : now.question ? (
        <>
          <p style={{ margin: "8px 0", fontSize: 17 }}>
            Look at the <b>{now.question.tell_tale}</b>:
          </p>
          {!viewer && (
            <div className="row">
              {now.question.options.map((option) => (
                <Button
                  key={option}
                  size="large"
                  loading={ask.isPending}
                  onClick={() => ask.mutate({ ...now.answers, [now.question!.tell_tale]: option })}
                >
                  {option}
                </Button>
              ))}
              <Button
                size="large"
                type="text"
                onClick={() => ask.mutate({ ...now.answers, [now.question!.tell_tale]: "" })}
              >
                Cannot see it
              </Button>
            </div>
          )}
        </>
      ) : (
        <div className="row" style={{ marginTop: 8 }}>
          <span>No tell-tale splits these; the plate decides:</span>
          {!viewer &&
            left.map((candidate) => (
              <Button key={candidate.key} onClick={() => settle.mutate(candidate.key)}>
                {candidate.name}
              </Button>
            ))}
        </div>
      )}
      {!now.settled && (
        <p className="soft" style={{ marginTop: 8 }}>
          Left: {left.map((candidate) => candidate.name).join(", ")}
        </p>
      )}
    </div>
  );
}
