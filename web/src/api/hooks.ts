import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { useEffect, useState } from "react";
import { api, KeptHere, take, type ApiError, type Job } from "./client";

export { useSession } from "./session";

/** A job; fetched again as soon as anybody changes it. */
export function useJob(number: string) {
  const client = useQueryClient();
  const job = useQuery({
    meta: { shown: true },
    queryKey: ["job", number],
    queryFn: () => take(api.GET("/api/jobs/{number}", { params: { path: { number } } })),
  });
  const revision = useQuery({
    meta: { shown: true },
    queryKey: ["revision", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/revision", { params: { path: { number } } })),
    refetchInterval: 1500,
  });
  const seen = job.data?.plate.revision;
  useEffect(() => {
    if (seen !== undefined && revision.data !== undefined && revision.data !== seen) {
      void client.invalidateQueries({ queryKey: ["job", number] });
    }
  }, [client, number, revision.data, seen]);
  return job;
}

/** An action on a job: says what went wrong, and fetches what it changed. `kept` where it waits on this tablet. */
export function useAct<A, R>(
  action: (input: A) => Promise<R>,
  after?: (result: R) => void,
  kept?: () => void,
) {
  const client = useQueryClient();
  const { message } = App.useApp();
  return useMutation<R, ApiError, A>({
    mutationFn: action,
    onSuccess: (result) => {
      // An answer that is the whole job stands at once; everything else that hangs on it is fetched again.
      const job =
        result && typeof result === "object" && "plate" in result ? (result as unknown as Job) : null;
      if (job) client.setQueryData(["job", job.plate.number], job);
      void client.invalidateQueries(job ? { predicate: (query) => query.queryKey[0] !== "job" } : undefined);
      after?.(result);
    },
    onError: (error) => {
      if (!(error instanceof KeptHere)) return void message.error(error.message, 7);
      kept?.();
      void message.info(error.message, 4);
    },
  });
}

/** Server-sent events of an address while `on`; the newest one. */
export function useEvents<T>(address: string, on: boolean): T | null {
  const [latest, setLatest] = useState<T | null>(null);
  useEffect(() => {
    if (!on) return;
    setLatest(null);
    const source = new EventSource(address);
    source.onmessage = (event) => {
      const told = JSON.parse(event.data) as T & { state?: string };
      setLatest(told);
      // A stream that breaks is made again by the browser; one that has come to its end is not.
      if (told.state && !["running", "writing"].includes(told.state)) source.close();
    };
    return () => source.close();
  }, [address, on]);
  return latest;
}
