import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";

export type Span = [number, number];
/** Never closer than this [s], so that a lane holds more than one sample. */
const CLOSEST_S = 0.2;
/** A step of a key or a button: how much closer, and how far along. */
export const CLOSER = 0.6;
export const ALONG = 0.25;

/** Log that an address names a view of, if it does. */
export const viewOf = (asked: URLSearchParams): number | undefined =>
  Number(asked.get("view")?.split("_")[0]) || undefined;

function inView(asked: URLSearchParams, log: number): Span {
  const [of, from, to] = (asked.get("view") ?? "").split("_").map(Number);
  return of === log ? [from, to] : [NaN, NaN];
}

/** What is in view of a log: kept in the address, so that a link brings back just this view. */
export function useSpan(log: number, duration: number) {
  const [asked, ask] = useSearchParams();
  const [from, to] = inView(asked, log);
  const span = useMemo(
    (): Span | null => (from < to && to <= duration + 1 ? [from, to] : null),
    [from, to, duration],
  );
  const [start, stop] = span ?? [0, duration];
  const setSpan = useCallback(
    (part: Span | null) =>
      ask(
        (now) => {
          const next = new URLSearchParams(now);
          if (part) next.set("view", [log, ...part.map((at) => at.toFixed(2))].join("_"));
          else next.delete("view");
          return next;
        },
        { replace: true },
      ),
    [ask, log],
  );
  /** Keep it within the log; the whole of it is no part. */
  const within = (left: number, right: number) => {
    const long = Math.min(Math.max(right - left, CLOSEST_S), duration);
    const first = Math.min(Math.max(left, 0), duration - long);
    setSpan(long < duration ? [first, first + long] : null);
  };
  return {
    span,
    setSpan,
    /** By this factor around a moment, the middle where none is meant. */
    closer: (factor: number, at = (start + stop) / 2) =>
      within(at - (at - start) * factor, at + (stop - at) * factor),
    /** By a share of what is in view. */
    along: (share: number) => {
      const by = share * (stop - start);
      within(start + by, stop + by);
    },
  };
}
