import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { when } from "../figures/when";

/** Who changed a thing on the shelf, when, and which of its fields. */
export function ShelfChanges({ kind, item }: { kind: string; item: string }) {
  const changes = useQuery({
    queryKey: ["shelf-changes", kind, item],
    queryFn: () =>
      take(api.GET("/api/shelf-items/{kind}/{key}/changes", { params: { path: { kind, key: item } } })),
  });
  if (!changes.data?.length) return null;
  return (
    <details style={{ marginTop: 10 }}>
      <summary>Who changed it ({changes.data.length})</summary>
      {changes.data.map((change) => (
        <div key={change.at} style={{ padding: "3px 0" }}>
          <span className="num">{when(change.at)}</span> {change.who || "the program"}:{" "}
          <span className="soft">{change.fields.join(", ") || "its name"}</span>
        </div>
      ))}
    </details>
  );
}
