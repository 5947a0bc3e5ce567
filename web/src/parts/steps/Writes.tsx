import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../../api/client";
import { when } from "../figures/when";

/** Every write to this vehicle and everything that was set on a device of it, in whichever job; the newest first. */
export function Writes({ number, boxed }: { number: string; boxed?: boolean }) {
  const past = useQuery({
    queryKey: ["load-history", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/load-history", { params: { path: { number } } })),
  });
  if (!past.data?.length) return null;
  return (
    <details className={boxed ? "sheet" : ""} style={{ marginTop: 8 }}>
      <summary style={{ minHeight: 40 }}>
        {past.data.length === 1 ? "One write or setting" : `${past.data.length} writes and settings`} of this
        vehicle
      </summary>
      <table className="plain">
        <tbody>
          {past.data.map((row) => (
            <tr key={`${row.job}${row.at}`}>
              <td className="num">{when(row.at)}</td>
              <td>
                <Link to={`/jobs/${row.job}/load`}>{row.job}</Link>
              </td>
              <td>
                {row.what}
                {row.slot !== null && `, slot ${row.slot}`}
              </td>
              <td>{row.state}</td>
              <td className="soft">{row.by}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
