import { Button } from "antd";
import { useEffect } from "react";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { api, take } from "../api/client";

/** Labels of a pin plan, cut and wrapped round the wire: printed twice, so that they read from both sides. */
export default function LabelsPage() {
  const { number = "", step = "" } = useParams();
  const grid = useQuery({
    meta: { shown: true },
    queryKey: ["grid", number, step],
    queryFn: () =>
      take(api.GET("/api/jobs/{number}/steps/{key}/grid", { params: { path: { number, key: step } } })),
  });
  useEffect(() => {
    document.title = `Labels ${number} · Vent Map`;
  }, [number]);
  const rows =
    (grid.data?.data.rows as
      | { connector: string; number: string; function: string; action: string; to: string; label: string }[]
      | undefined) ?? [];
  return (
    <main className="floor" id="work">
      <div className="title no-print">
        <h1>Labels of job {number}</h1>
        <div className="end">
          <Button type="primary" onClick={() => window.print()}>
            Print
          </Button>
        </div>
      </div>
      {!rows.length && (
        <p className="sheet">{grid.error?.message ?? "No pins are entered and judged yet."}</p>
      )}
      <div className="labels">
        {rows.map((row, n) => (
          <div key={n}>
            {[0, 1].map((side) => (
              <div key={side}>
                <b className="num">{row.label || `${row.connector}-${row.number}`}</b>
                <span>{row.function}</span>
                <span className="soft">
                  {row.action}
                  {row.to && ` to ${row.to}`}
                </span>
              </div>
            ))}
          </div>
        ))}
      </div>
    </main>
  );
}
