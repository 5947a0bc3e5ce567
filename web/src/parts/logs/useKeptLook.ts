import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

export type KeptLook = Schemas["LookIO"];
const EMPTY: KeptLook = { rows: [], limits: [] };

/** A person's own rows of lanes and limits for one vehicle of the shelf. */
export function useKeptLook(vehicle: string) {
  const client = useQueryClient();
  const path = { params: { path: { vehicle: vehicle || "any" } } };
  const kept = useQuery({
    queryKey: ["kept-look", vehicle],
    queryFn: () => take(api.GET("/api/kept-looks/{vehicle}", path)),
  });
  const keep = useAct(
    (look: KeptLook) => take(api.PUT("/api/kept-looks/{vehicle}", { ...path, body: look })),
    (look) => client.setQueryData(["kept-look", vehicle], look),
  );
  return { look: kept.data ?? EMPTY, keep: (look: KeptLook) => keep.mutate(look) };
}
