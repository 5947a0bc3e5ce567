import { useQuery } from "@tanstack/react-query";
import { api, take } from "./client";

/** Who is signed in, and what holds for all screens: units, stages, the house. */
export function useSession() {
  return useQuery({
    queryKey: ["session"],
    queryFn: () => take(api.GET("/api/sessions/current")),
    staleTime: Infinity,
  });
}
