import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

export type Capturing = Schemas["CaptureOut"];
export type Wish = Omit<Schemas["CaptureIn"], "baseline">;

/** The capture that runs, or the last one; and how to start one, stock or on the map that is loaded. */
export function useCapture(number: string, baseline: boolean) {
  const client = useQueryClient();
  const path = { params: { path: { number } } };
  const current = useQuery({
    queryKey: ["capture", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/captures/current", path)),
    refetchInterval: (asked) => (asked.state.data?.state === "running" ? 2000 : false),
  });
  const start = useAct(
    (wish: Wish) => take(api.POST("/api/jobs/{number}/captures", { ...path, body: { ...wish, baseline } })),
    (got) => client.setQueryData(["capture", number], got),
  );
  return { capture: current.data ?? null, running: current.data?.state === "running", start };
}
