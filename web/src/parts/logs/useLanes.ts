import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, take, type Schemas } from "../../api/client";
import { LANES, ROWS, filled } from "./rows";

interface Wanted {
  row: string;
  /** Rows of lanes that a person keeps. */
  own: Record<string, string[][]>;
  touched: Schemas["FindingOut"] | null;
  extra: string[];
  span: [number, number];
}

/** Lanes of a log that are in view, with their samples; and the rows of lanes that it can fill. */
export function useLanes(log: Schemas["LogOut"], { row, own, touched, extra, span: [from, to] }: Wanted) {
  const has = useMemo(() => new Set(log.columns.map((column) => column.name)), [log]);
  // What a finding is told by comes up first; then the row that was chosen.
  const lanes = useMemo(() => {
    const first = touched ? paired(touched.channels, has) : [];
    const others = filled(own[row] ?? ROWS[row] ?? ROWS.usual, has).filter(
      (names) => !names.some((name) => first.flat().includes(name)),
    );
    return [
      ...[...first, ...others].slice(0, own[row] ? undefined : LANES),
      ...extra.filter((name) => has.has(name)).map((name) => [name]),
    ];
  }, [has, extra, row, own, touched]);
  const names = lanes.flat().join(",");
  const data = useQuery({
    queryKey: ["lanes", log.id, names, from, to],
    queryFn: () =>
      take(
        api.GET("/api/logs/{log_id}/lanes", {
          params: {
            path: { log_id: log.id },
            query: { channels: names, start: from, stop: to, points: 1600 },
          },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  return {
    lanes,
    byName: new Map((data.data?.lanes ?? []).map((lane) => [lane.name, lane])),
    rows: Object.keys(ROWS).filter((name) => filled(ROWS[name], has).length > 1),
  };
}

/** A channel with its target in one lane, each other by itself. */
function paired(names: string[], has: Set<string>): string[][] {
  const own = names.filter((name) => !name.endsWith("_target"));
  const lanes = own.map((name) => (has.has(`${name}_target`) ? [name, `${name}_target`] : [name]));
  return [...lanes, ...names.filter((name) => !lanes.flat().includes(name)).map((name) => [name])];
}
