import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../../api/client";
import { Num, placesFor, useConvert } from "../figures/Num";
import { Sketch } from "./Sketch";

/** How this vehicle fared from log to log, over all its jobs: a line a log, a column a figure. */
export function Trend({ number, here }: { number: string; here: number }) {
  const told = useQuery({
    queryKey: ["trend", number, here],
    queryFn: () => take(api.GET("/api/jobs/{number}/trend", { params: { path: { number } } })),
  });
  const convert = useConvert();
  if (!told.data) return <p className="soft">Looking through the logs of this vehicle.</p>;
  const { vehicle, logs } = told.data;
  const figures = told.data.figures.filter((one) => logs.some((log) => one.key in log.figures));
  return (
    <section className="sheet" aria-label="Trend">
      <p className="soft" style={{ margin: "0 0 6px" }}>
        Every log of {vehicle}, the oldest first. A figure that a log does not hold, or that was not driven,
        is blank.
      </p>
      <div className="across">
        <table className="plain trend">
          <thead>
            <tr>
              <th>Log</th>
              {figures.map((one) => (
                <th className="r" key={one.key}>
                  {one.label}
                  {one.unit && `, ${convert(0, one.unit)[1]}`}
                  <Sketch values={logs.map((log) => log.figures[one.key] ?? null)} />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {logs.map((log) => (
              <tr key={log.log_id} className={log.log_id === here ? "here" : undefined}>
                <td>
                  <Link to={`/jobs/${log.job}/log`}>{log.job}</Link> {log.log}
                  <div className="soft">
                    {new Date(log.at).toLocaleDateString()} · {log.state}
                  </div>
                </td>
                {figures.map((one) => {
                  const value = log.figures[one.key];
                  return (
                    <td className="r" key={one.key}>
                      {value !== undefined && (
                        <Num value={convert(value, one.unit)[0]} digits={placesFor(value, 2)} />
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
