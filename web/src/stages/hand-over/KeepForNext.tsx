import { Button, Checkbox } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";

/** What this job found out that the next one of its kind need not find out again: kept with one tap. */
export function KeepForNext({ job }: { job: Job }) {
  const viewer = useSession().data?.role === "viewer";
  const path = { params: { path: { number: job.plate.number } } };
  const offered = useQuery({
    queryKey: ["learned", job.plate.number, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/learned", path)),
  });
  const [left, setLeft] = useState<string[]>([]);
  const [kept, setKept] = useState(0);
  const chosen = (offered.data ?? []).filter((item) => !left.includes(item.id)).map((item) => item.id);
  const keep = useAct(
    () => take(api.POST("/api/jobs/{number}/learned", { ...path, body: { keep: chosen } })),
    () => setKept(chosen.length),
  );
  const known = job.steps.flatMap((step) => step.known);
  const told = new Set(known.map((one) => `${one.key}.${one.field}`)).size;
  return (
    <section className="sheet" aria-label="Keep for the next one">
      <h2>Keep for the next one</h2>
      <p className="soft">
        {told > 0
          ? `${told} answers given on this job stand on the shelf already, each with who, when and source.`
          : "What the steps asked is kept on the shelf as it is answered; this is what they read and measured."}
      </p>
      {kept > 0 && <p role="status">Kept: {kept}. The next one of its kind starts from there.</p>}
      {!kept && offered.data?.length === 0 && <p className="soft">Nothing new was read or measured yet.</p>}
      {!kept &&
        offered.data?.map((item) => (
          <div key={item.id} style={{ padding: "5px 0" }}>
            <Checkbox
              disabled={viewer}
              checked={!left.includes(item.id)}
              onChange={(event) =>
                setLeft(event.target.checked ? left.filter((id) => id !== item.id) : [...left, item.id])
              }
            >
              {item.title}: <b className="num">{item.shown}</b>{" "}
              <span className="soft">
                {item.why} · {item.name}
              </span>
            </Checkbox>
          </div>
        ))}
      {!kept && !viewer && (offered.data?.length ?? 0) > 0 && (
        <Button
          type="primary"
          size="large"
          style={{ marginTop: 8 }}
          disabled={!chosen.length}
          loading={keep.isPending}
          onClick={() => keep.mutate(undefined)}
        >
          Keep {chosen.length} for the next one
        </Button>
      )}
    </section>
  );
}
