import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

/** A dry run before the write, and every write that this vehicle ever had. */
export function History({ number, viewer }: { number: string; viewer: boolean }) {
  const path = { params: { path: { number } } };
  const past = useQuery({
    queryKey: ["load-history", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/load-history", path)),
  });
  const [said, setSaid] = useState("");
  const dry = useAct<void, Schemas["DryRunOut"]>(
    () => take(api.POST("/api/jobs/{number}/dry-runs", path)),
    (got) => setSaid(got.sentence),
  );
  return (
    <div className="sheet">
      <div className="row">
        {!viewer && (
          <Button size="large" loading={dry.isPending} onClick={() => dry.mutate(undefined)}>
            Dry run
          </Button>
        )}
        <span className="soft" role="status">
          {said || "Session, key and a few blocks read; nothing is erased or written."}
        </span>
      </div>
      {!!past.data?.length && (
        <details style={{ marginTop: 8 }}>
          <summary style={{ minHeight: 40 }}>
            {past.data.length === 1 ? "One write" : `${past.data.length} writes`} to this vehicle
          </summary>
          <table className="plain">
            <tbody>
              {past.data.map((row) => (
                <tr key={row.at}>
                  <td className="num">
                    {new Date(row.at).toLocaleString([], { dateStyle: "short", timeStyle: "short" })}
                  </td>
                  <td>
                    <Link to={`/jobs/${row.job}/load`}>{row.job}</Link>
                  </td>
                  <td>
                    {row.what}, slot {row.slot}
                  </td>
                  <td>{row.state}</td>
                  <td className="soft">{row.by}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </div>
  );
}
