import { Alert } from "antd";
import { useEffect, useRef, useState, type ComponentType } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError, type Job, type Step } from "../../api/client";
import { useAct } from "../../api/hooks";
import { gridRefused, keptGrid, useKept } from "../../away/outbox";
import { Access } from "./Access";
import { Board } from "./Board";
import { BodyCodes } from "./BodyCodes";
import { Continuity } from "./Continuity";
import type { Grid, GridProps } from "./gridProps";
import { Grounds } from "./Grounds";
import { InjectorSet, Compression } from "./ByCylinder";
import { BaseTiming } from "./BaseTiming";
import { Outputs } from "./Outputs";
import { PinPlan } from "./PinPlan";
import { Plugs } from "./Plugs";
import { Refit } from "./Refit";
import { SealTimers } from "./SealTimers";
import { Torque } from "./Torque";
import { useTaps } from "./useTaps";

const GRIDS: Record<string, ComponentType<GridProps>> = {
  compression: Compression,
  injector_set: InjectorSet,
  body_codes: BodyCodes,
  seal_timers: SealTimers,
  common_side: Continuity,
  pin_plan: PinPlan,
  grounds: Grounds,
  torque: Torque,
  access: Access,
  refit: Refit,
  checks: Board,
  plugs: Plugs,
  board: Board,
  outputs: Outputs,
  base_timing: BaseTiming,
};

/** Grids that enter each tap at once: nothing typed waits in them, so they need not start anew from a merged state. */
const DRAFTLESS = new Set(["access", "common_side", "seal_timers", "outputs", "board", "checks"]);

/** Evidence that is more than one reading: entered here, judged by the server, drawn from its answer. */
export function StepGrid({ job, step, viewer }: { job: Job; step: Step; viewer: boolean }) {
  const client = useQueryClient();
  const number = job.plate.number;
  const path = { params: { path: { number, key: step.key } } };
  const grid = useQuery({
    meta: { shown: true },
    queryKey: ["grid", number, step.key],
    queryFn: () => take(api.GET("/api/jobs/{number}/steps/{key}/grid", path)),
  });
  // What is typed here stays until it is entered, whatever another tablet enters meanwhile; the server merges both.
  const [seen, setSeen] = useState<number | null>(null);
  const brought = (got: Grid) => {
    client.setQueryData(["grid", number, step.key], got);
    setSeen(got.revision);
  };
  const enter = useAct<Record<string, unknown>, Grid>(
    (data) =>
      take(
        api.PUT("/api/jobs/{number}/steps/{key}/grid", {
          ...path,
          body: { data, revision: seen ?? grid.data?.revision ?? 0 },
        }),
      ),
    brought,
  );
  // What waits on this tablet is what stands here: the next entry is made upon it.
  useKept();
  const waits = keptGrid(number, step.key) !== null;
  const standing = () =>
    keptGrid(number, step.key) ?? client.getQueryData<Grid>(["grid", number, step.key])?.data ?? {};
  const taps = useTaps(standing, (data) => enter.mutateAsync(data));
  // Sent at last: the grid starts anew from what the server made of it and of what others entered meanwhile.
  const waited = useRef(waits);
  const { reset } = enter;
  const { refetch } = grid;
  useEffect(() => {
    if (waited.current && !waits && !gridRefused(number, step.key)) {
      reset();
      void refetch().then(({ data }) => data && setSeen(data.revision));
    }
    waited.current = waits;
  }, [waits, number, step.key, reset, refetch]);
  const first = grid.data?.revision;
  useEffect(() => {
    if (first !== undefined) setSeen((now) => now ?? first);
  }, [first]);
  if (grid.error) return <Alert type="error" title={grid.error.message} />;
  if (!grid.data) return null;
  const Shown = GRIDS[grid.data.name];
  const wrong = enter.error as ApiError | null;
  return (
    <div style={{ marginBottom: 12 }}>
      {grid.data.unfit && (
        <Alert type="warning" title={grid.data.unfit} style={{ marginBottom: 8 }} role="status" />
      )}
      <Shown
        key={DRAFTLESS.has(grid.data.name) ? "" : (seen ?? grid.data.revision)}
        grid={{ ...grid.data, data: taps.made(standing()) }}
        number={number}
        step={step.key}
        linked={job.plate.linked}
        viewer={viewer}
        busy={enter.isPending || taps.waiting}
        enter={(data) => enter.mutate(data)}
        tap={(change) => void taps.tap(change)}
        brought={brought}
      />
      {wrong && (
        <p style={{ color: "var(--oxide)", marginTop: 8 }} role="alert">
          {wrong.message}
        </p>
      )}
      {grid.data.by && (
        <p className="soft" style={{ fontSize: 14, marginTop: 6 }}>
          Entered by {grid.data.by}
          {grid.data.complete ? "" : "; not complete yet"}
        </p>
      )}
    </div>
  );
}
