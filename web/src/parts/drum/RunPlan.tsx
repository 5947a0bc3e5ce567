import { useQuery } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { Num } from "../figures/Num";
import { Plot } from "../figures/Plot";
import { useLook } from "../../theme/Look";

type Plan = Schemas["RunPlanOut"];

/** Asked anew when a run comes, goes or counts otherwise. */
export function useRunPlan(job: Job, marks: string | undefined) {
  const number = job.plate.number;
  return useQuery({
    queryKey: ["run-plan", number, marks],
    enabled: marks !== undefined,
    queryFn: () => take(api.GET("/api/jobs/{number}/run-plan", { params: { path: { number } } })),
  }).data;
}

/** How many runs it takes, in which gear, and in what order. */
export function RunPlan({ plan }: { plan: Plan }) {
  if (!plan.advice.length && !plan.gear) return null;
  return (
    <div className="run-plan">
      {plan.gear && <Gear gear={plan.gear} fixed={plan.before > 0} />}
      {plan.advice.length > 0 && (
        <ul>
          {plan.advice.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
      {plan.rows.length > 0 && (
        <details>
          <summary>What so many runs see</summary>
          <Seen plan={plan} />
        </details>
      )}
    </div>
  );
}

function Gear({ gear, fixed }: { gear: NonNullable<Plan["gear"]>; fixed: boolean }) {
  return (
    <p>
      <b>{gear.told} gear</b>, <Num value={gear.ratio} unit="to 1" digits={2} />
      {fixed
        ? ", as the runs before"
        : gear.lower
          ? ", for a gear nearer to 1:1 is too fast"
          : ", nearest to 1:1"}
      : <Num value={gear.kmh} unit="km/h" digits={0} /> at <Num value={gear.rev_limit} unit="rpm" />.{" "}
      {gear.too_fast ? (
        <b>
          Faster than drum and tyres may turn (<Num value={gear.most_kmh} unit="km/h" digits={0} />
          ): stop the pull below the limiter.
        </b>
      ) : gear.tyre_kmh !== null ? (
        <>
          Its tyres are rated for <Num value={gear.tyre_kmh} unit="km/h" digits={0} />.
        </>
      ) : (
        <>
          Tyres rated <b>{gear.letter}</b> or higher; read the letter on the tyre before the first run.
        </>
      )}
    </p>
  );
}

function Seen({ plan }: { plan: Plan }) {
  return (
    <>
      <table className="plain">
        <thead>
          <tr>
            <th>Before</th>
            <th>After</th>
            <th>Least mean gain seen, all on one day</th>
            <th>On two days</th>
          </tr>
        </thead>
        <tbody>
          {plan.rows.map((row) => (
            <tr key={row.after}>
              <td className="num">{row.before}</td>
              <td className="num">{row.after}</td>
              <td>
                <Num value={row.one_day_kw} unit="kW" digits={1} />
              </td>
              <td>
                <Num value={row.other_day_kw} unit="kW" digits={1} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft">
        Claimed in nine jobs of ten at <span className="num">{plan.confidence} %</span>. A run scatters by{" "}
        {plan.scatter_kw !== null && <Num value={plan.scatter_kw} unit="kW" digits={2} />} (
        {plan.scatter_source}); {plan.days_source}.
      </p>
    </>
  );
}

/** The runs before, as those to come are held against them: curve, band, conditions, what may be expected. */
export function HeldAgainst({ plan }: { plan: Plan }) {
  const { palette } = useLook();
  if (!plan.rpm.length) return null;
  const band = plan.low_kw.length > 0;
  return (
    <div className="sheet">
      <h2>Held against: {plan.before === 1 ? "one run" : `${plan.before} runs`} before</h2>
      <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fit, minmax(170px, 1fr))" }}>
        <div className="meter">
          <span className="soft">Peak before</span>
          <Num value={plan.peak_kw ?? 0} unit="kW" digits={1} />
          <span className="soft">
            at <Num value={plan.peak_rpm ?? 0} unit="rpm" />
          </span>
        </div>
        {plan.expected.map((one) => (
          <div className="meter" key={one.source}>
            <span className="soft">Predicted peak after, {one.source}</span>
            <span className="num">
              <Num value={one.peak_low_kw} unit="kW" digits={0} /> to{" "}
              <Num value={one.peak_high_kw} unit="kW" digits={0} />
            </span>
            <span className="soft">nothing of it is measured</span>
          </div>
        ))}
      </div>
      <Plot
        height={220}
        x={plan.rpm}
        xLabel="engine speed, rpm"
        yLabel="kW at the wheels"
        band={band ? [1, 0] : undefined}
        series={[
          ...(band
            ? [
                { label: "one more run, least", values: plan.low_kw, width: 0 },
                { label: "one more run, most", values: plan.high_kw, width: 0 },
              ]
            : []),
          { label: "before, kW", values: plan.kw, colour: palette.slate, dash: [6, 4] },
        ]}
      />
      <p className="soft">
        Dashed: mean of the runs before.{" "}
        {band ? (
          <>
            Band: where one more run made alike lies, <span className="num">{plan.confidence} %</span>.
          </>
        ) : (
          "One run has no scatter: there is no band."
        )}
      </p>
      <h3>To be matched by the runs after</h3>
      <dl className="to-match">
        {plan.match.map((one) => (
          <div key={one.label}>
            <dt>{one.label}</dt>
            <dd>
              {one.low === null || one.high === null ? (
                one.value
              ) : (
                <>
                  <Num value={one.low} unit={one.unit} digits={1} /> to{" "}
                  <Num value={one.high} unit={one.unit} digits={1} />
                </>
              )}
            </dd>
          </div>
        ))}
      </dl>
      <RunPlan plan={plan} />
    </div>
  );
}
