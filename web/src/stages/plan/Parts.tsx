import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { Num, useMoney } from "../../parts/figures/Num";

/** Parts, consumables and tools of the run sheet, with stock, cost and time. */
export function Parts({ job }: { job: Job }) {
  const number = job.plate.number;
  const parts = useQuery({
    queryKey: ["parts", number, job.plate.kit, job.steps.length],
    queryFn: () => take(api.GET("/api/jobs/{number}/parts", { params: { path: { number } } })),
  });
  const inMoney = useMoney();
  const found = parts.data;
  if (!found) return null;
  const away = found.tools.filter((tool) => !tool.at_hand);
  return (
    <div className="sheet">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>Parts, tools and time</h2>
        <span>
          parts <Num value={found.parts_cost} unit="money" digits={0} /> · work{" "}
          <Num value={found.minutes} unit="min" digits={0} /> at{" "}
          <Num value={found.labour_rate} unit="money/h" /> ={" "}
          <Num value={found.labour_cost} unit="money" digits={0} /> · waits{" "}
          <Num value={found.wait_minutes} unit="min" digits={0} /> that need nobody
        </span>
      </div>
      <div
        className="cols"
        style={{ marginTop: 8, gridTemplateColumns: "repeat(auto-fit, minmax(330px, 1fr))" }}
      >
        <table className="plain">
          <thead>
            <tr>
              <th>part or consumable</th>
              <th className="r">wanted</th>
              <th className="r">on the shelf</th>
              <th className="r">order</th>
              <th className="r">cost, {inMoney("money")}</th>
            </tr>
          </thead>
          <tbody>
            {found.lines.map((line) => (
              <tr key={line.name}>
                <td>
                  {line.name}
                  {!line.known && <span className="soft"> · not on the shelf list</span>}
                </td>
                <td className="num r">{line.count}</td>
                <td className="num r">{line.stock ?? "–"}</td>
                <td className="num r">
                  {line.order ? <b style={{ color: "var(--ochre)" }}>{line.order}</b> : 0}
                </td>
                <td className="r">
                  <Num value={line.cost} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div>
          <span className="head">Tools</span>
          <p>{found.tools.map((tool) => tool.name).join(", ")}.</p>
          {away.length > 0 && (
            <p style={{ color: "var(--ochre)" }}>
              Not on the wall: {away.map((tool) => tool.name).join(", ")}.
            </p>
          )}
          {found.unknown_prices.length > 0 && (
            <p className="soft" style={{ marginTop: 6 }}>
              No price known: {found.unknown_prices.join(", ")}; not in the sum.
            </p>
          )}
        </div>
      </div>
    </div>
  );
}
