import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";

type Part = Schemas["BesideIn"];

/** Parts that are fitted beside the kit: each gets a step to fit it and one to prove it at two points. */
export function Besides({ job }: { job: Job }) {
  const number = job.plate.number;
  const path = { params: { path: { number } } };
  const viewer = useSession().data?.role === "viewer";
  const kept = useQuery({
    queryKey: ["besides", number, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/besides", path)),
  });
  const [typed, setTyped] = useState<Part[] | null>(null);
  const keep = useAct(
    (parts: Part[]) => take(api.PUT("/api/jobs/{number}/besides", { ...path, body: { parts } })),
    () => setTyped(null),
  );
  if (!kept.data) return null;
  const { kinds, opens, parts: stands } = kept.data;
  const usual = (kind: string) => kinds.find((one) => one.key === kind)?.opens ?? "";
  const parts = typed ?? stands;
  const set = (at: number, change: Partial<Part>) =>
    setTyped(parts.map((part, n) => (n === at ? { ...part, ...change } : part)));
  return (
    <section className="sheet" aria-label="Fitted besides">
      <h2>Fitted besides</h2>
      <p className="soft">
        Probes, sensors, relays, parts of fuel, cooling, oil, intake and exhaust, injectors that only go out
        and in again: each gets a step to fit it and one to prove it at two points. What is opened for it is
        made safe first.
      </p>
      {parts.map((part, at) => (
        <div className="row" key={at} style={{ marginBottom: 6 }}>
          <Select
            size="large"
            disabled={viewer}
            style={{ width: 280 }}
            aria-label={`Part ${at + 1}, kind`}
            value={part.kind || undefined}
            placeholder="kind"
            listHeight={520}
            onChange={(kind) => set(at, { kind, opens: "" })}
            options={kinds.map((kind) => ({ value: kind.key, label: kind.title }))}
          />
          <Input
            size="large"
            disabled={viewer}
            style={{ width: 260 }}
            aria-label={`Part ${at + 1}, what it is called`}
            placeholder="oil pressure, at the filter"
            value={part.name}
            onChange={(event) => set(at, { name: event.target.value })}
          />
          <Select
            size="large"
            disabled={viewer || usual(part.kind) !== ""}
            style={{ width: 190 }}
            aria-label={`Part ${at + 1}, opens`}
            value={usual(part.kind) || part.opens}
            onChange={(opens) => set(at, { opens })}
            options={[
              { value: "", label: "opens nothing" },
              ...opens.map((what) => ({ value: what, label: `opens ${what}` })),
            ]}
          />
          {!viewer && (
            <Button
              size="large"
              aria-label={`Take part ${at + 1} off the list`}
              onClick={() => setTyped(parts.filter((_, n) => n !== at))}
            >
              Off
            </Button>
          )}
        </div>
      ))}
      {keep.error && (
        <p role="alert" style={{ color: "var(--oxide)" }}>
          {(keep.error as ApiError).message}
        </p>
      )}
      {!viewer && (
        <div className="row">
          <Button
            size="large"
            onClick={() => setTyped([...parts, { kind: "", name: "", opens: "", number: 0 }])}
          >
            Another part
          </Button>
          {typed && (
            <Button
              type="primary"
              size="large"
              disabled={typed.some((part) => !part.kind)}
              loading={keep.isPending}
              onClick={() => keep.mutate(typed)}
            >
              Keep the list
            </Button>
          )}
        </div>
      )}
    </section>
  );
}
