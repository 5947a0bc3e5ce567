import { Button } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { CallCard } from "../ledger/CallCard";
import { Figure } from "../figures/Figure";
import { Num } from "../figures/Num";
import type { GridProps } from "./gridProps";

const FIELDS = ["read", "old", "new", "again", "high"] as const;
type Field = (typeof FIELDS)[number];

/** Base timing by light: read at idle, offset, read again, read faster; over the link or typed. */
export function BaseTiming({ grid, number, viewer, linked, busy, enter, brought }: GridProps) {
  const about = grid.about as unknown as { locked_deg: number; rpm: number };
  const view = grid.view as { offset?: number | null; off?: boolean };
  const data = grid.data as Partial<Record<Field, string | null>>;
  const [typed, setTyped] = useState<Record<Field, string>>(
    () => Object.fromEntries(FIELDS.map((name) => [name, data[name] ?? ""])) as Record<Field, string>,
  );
  const [seen, setSeen] = useState("");
  const got = (tried: Schemas["TriedOut"]) => {
    brought(tried.grid);
    setSeen(tried.seen);
  };
  const path = { params: { path: { number } } };
  const light = useAct<"idle" | "high", Schemas["TriedOut"]>(
    (speed) => take(api.POST("/api/jobs/{number}/timing/read", { ...path, body: { speed } })),
    got,
  );
  const offset = useAct<string, Schemas["TriedOut"]>(
    (value) => take(api.POST("/api/jobs/{number}/timing/offset", { ...path, body: { offset: value } })),
    got,
  );
  const off = view.off ?? false;
  const field = (name: Field, label: string) => (
    <Figure
      label={label}
      quantity="spark"
      unit="°"
      value={typed[name]}
      onChange={(value) => setTyped({ ...typed, [name]: value })}
      onEnter={() => enter(typed)}
    />
  );
  const lit = (speed: "idle" | "high", label: string) =>
    linked &&
    !viewer && (
      <Button
        size="large"
        loading={light.isPending && light.variables === speed}
        disabled={light.isPending || offset.isPending}
        onClick={() => light.mutate(speed)}
      >
        {label}
      </Button>
    );
  return (
    <>
      <p>
        Spark locked at <Num value={about.locked_deg} unit="°" />. New offset = old offset + (light − locked).
      </p>
      <div className="row" style={{ alignItems: "center" }}>
        {field("read", "light at idle")}
        {lit("idle", off && data.new ? "Read the light again" : "Read the light at idle")}
      </div>
      {(off || data.new) && (
        <>
          <div className="row" style={{ alignItems: "center" }}>
            {field("old", "trigger offset as it was")}
            {field("new", "trigger offset as set")}
            {linked && !viewer && view.offset != null && (
              <Button
                type="primary"
                size="large"
                loading={offset.isPending}
                disabled={light.isPending}
                onClick={() => offset.mutate(String(view.offset))}
              >
                Set <Num value={view.offset} unit="°" />
              </Button>
            )}
          </div>
          {view.offset != null && (
            <p>
              The reading asks for an offset of <Num value={view.offset} unit="°" />.
            </p>
          )}
          <div className="row" style={{ alignItems: "center" }}>
            {field("again", "light at idle, again")}
          </div>
        </>
      )}
      <div className="row" style={{ alignItems: "center" }}>
        {field("high", `light at ${about.rpm} rpm`)}
        {lit("high", `Read the light at ${about.rpm} rpm`)}
      </div>
      {seen && <p role="status">{seen}</p>}
      {!viewer && (
        <Button size="large" loading={busy} onClick={() => enter(typed)}>
          Judge what is typed
        </Button>
      )}
      {grid.calls.map((call) => (
        <CallCard
          key={`${call.rule}${call.title}`}
          verdict={call.verdict}
          title={call.title}
          because={call.because}
          next={call.do_next}
          source={call.source}
        />
      ))}
    </>
  );
}
