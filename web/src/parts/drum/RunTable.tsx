import { Button } from "antd";
import type { Schemas } from "../../api/client";
import { Num } from "../figures/Num";

type Run = Schemas["RunOut"];

/** The runs of one side in numbers, and what they were made with. */
export function RunTable({
  runs,
  viewer,
  onCount,
}: {
  runs: Run[];
  viewer: boolean;
  onCount: (id: number, counts: boolean) => void;
}) {
  return (
    <>
      <table className="plain">
        <thead>
          <tr>
            <th>run</th>
            <th>map</th>
            <th className="r">peak at the wheels</th>
            <th className="r">at</th>
            <th className="r">torque from it</th>
            <th className="r">gear</th>
            <th className="r">intake air</th>
            <th className="r">barometer</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {runs.map((run, index) => (
            <tr key={run.id} style={{ opacity: run.counts ? 1 : 0.55 }}>
              <td className="num">{index + 1}</td>
              <td>{run.map}</td>
              <td className="r">
                <Num value={run.peak_kw} unit="kW" digits={1} />
              </td>
              <td className="r">
                <Num value={run.peak_kw_rpm} unit="rpm" />
              </td>
              <td className="r">
                <Num value={run.peak_nm} unit="N·m" digits={0} />
              </td>
              <td className="r num">{run.gear}</td>
              <td className="r">
                <Num value={run.intake_c} unit="°C" digits={0} />
              </td>
              <td className="r">
                <Num value={run.pressure_kpa} unit="kPa" digits={1} />
                {run.taken.includes("barometer") && (
                  <div className="soft" style={{ fontSize: 14 }}>
                    by altitude
                  </div>
                )}
              </td>
              <td className="r">
                {!viewer && (
                  <Button onClick={() => onCount(run.id, !run.counts)}>
                    {run.counts ? "Leave out" : "Count again"}
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft" style={{ fontSize: 14 }}>
        {[...new Set(runs.map((run) => run.drum))].join(" / ")},{" "}
        {[...new Set(runs.map((run) => run.fuel))].join(" / ")}; ramp and straps{" "}
        {[...new Set(runs.map((run) => run.ramp || "not written down"))].join(" / ")}; tyres{" "}
        {runs.some((run) => run.tyre_kpa)
          ? runs
              .filter((run) => run.tyre_kpa)
              .map((run, index) => (
                <span key={run.id}>
                  {index > 0 && ", "}
                  <Num value={run.tyre_kpa} unit="kPa" digits={0} />
                </span>
              ))
          : "not written down"}
        .
      </p>
    </>
  );
}
