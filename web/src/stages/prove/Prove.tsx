import { Button, Select } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { CallCard } from "../../parts/ledger/CallCard";
import { DrumRuns } from "../../parts/drum/DrumRuns";
import { HeldAgainst, useRunPlan } from "../../parts/drum/RunPlan";
import { Num } from "../../parts/figures/Num";
import { Plot } from "../../parts/figures/Plot";
import { useLook } from "../../theme/Look";

/** Runs after, held against those before: the gain as a band with its scatter. */
export default function Prove({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const runs = useQuery({
    queryKey: ["runs", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/runs", { params: { path: { number } } })),
  });
  const after = runs.data?.runs.filter((run) => run.when === "after" && run.counts).length ?? 0;
  const before = runs.data?.runs.filter((run) => run.when === "before" && run.counts).length ?? 0;
  const marks = runs.data?.runs.map((run) => `${run.id}${run.counts}`).join();
  const comparison = useQuery({
    queryKey: ["comparison", number, marks, runs.data?.standard],
    enabled: after > 0 && before > 0,
    queryFn: () => take(api.GET("/api/jobs/{number}/comparison", { params: { path: { number } } })),
  });
  const plan = useRunPlan(job, after > 0 ? undefined : marks);
  const standard = useAct((name: string) =>
    take(api.PUT("/api/jobs/{number}/standard", { params: { path: { number } }, body: { standard: name } })),
  );
  const enter = useAct(() =>
    take(api.POST("/api/jobs/{number}/comparison", { params: { path: { number } } })),
  );
  const done = job.steps.find((step) => step.key === "prove.claim")?.done;
  const c = comparison.data;
  return (
    <>
      <div className="title">
        <h1>After against before</h1>
        <div className="end row">
          <span className="soft">Air corrected to</span>
          <Select
            aria-label="Air corrected to"
            value={runs.data?.standard}
            disabled={viewer}
            onChange={(name) => standard.mutate(name)}
            style={{ minWidth: 150 }}
            options={runs.data?.standards.map((name) => ({
              value: name,
              label: name === "none" ? "none: as measured" : name,
            }))}
          />
        </div>
      </div>
      {before === 0 && (
        <p className="sheet">There are no runs before. Without a baseline no gain is claimed.</p>
      )}
      {c?.unlike.map((call) => (
        <CallCard
          key={call.rule}
          verdict={call.verdict}
          title={call.title}
          because={call.because}
          next={call.do_next}
          source={call.source}
        />
      ))}
      {after === 0 && plan && <HeldAgainst plan={plan} />}
      {c && <Gain c={c} />}
      {c && !viewer && (
        <div className="row" style={{ marginBottom: 12 }}>
          <Button
            type={done ? "default" : "primary"}
            size="large"
            loading={enter.isPending}
            onClick={() => enter.mutate(undefined)}
          >
            {done ? "Enter it again" : "Enter this result"}
          </Button>
          <span className="soft">
            {c.calls.at(-1)?.title}. {c.calls.at(-1)?.do_next}
          </span>
        </div>
      )}
      <DrumRuns job={job} when="after" />
    </>
  );
}

function Gain({ c }: { c: Schemas["ComparisonOut"] }) {
  const { palette } = useLook();
  return (
    <div className="sheet">
      <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fit, minmax(170px, 1fr))" }}>
        <div className="meter">
          <span className="soft">Mean gain over the band</span>
          <span className="num">
            <Num value={c.mean_gain_kw} unit="kW" digits={2} />
          </span>
          <span className="soft">
            {c.mean_limit_kw === null ? (
              "scatter not known: make more runs"
            ) : (
              <>
                scatter ± <Num value={c.mean_limit_kw} unit="kW" digits={2} />
              </>
            )}
          </span>
        </div>
        <div className="meter">
          <span className="soft">Peak before</span>
          <Num value={c.peak_before[0]} unit="kW" digits={1} />
          <span className="soft">
            at <Num value={c.peak_before[1]} unit="rpm" />
          </span>
        </div>
        <div className="meter">
          <span className="soft">Peak after</span>
          <Num value={c.peak_after[0]} unit="kW" digits={1} />
          <span className="soft">
            at <Num value={c.peak_after[1]} unit="rpm" />
          </span>
        </div>
        <div className="meter">
          <span className="soft">Torque within 90 % of peak</span>
          <span className="num" style={{ fontSize: 17 }}>
            {c.torque_band.map((v) => v.toFixed(0)).join("–")} rpm
          </span>
          <span className="soft">
            for this goal{" "}
            {Object.entries(c.score_parts).map(([name, part], index) => (
              <span key={name}>
                {index > 0 && " · "}
                {name} <Num value={part} unit="%" digits={1} />
              </span>
            ))}
            , weighed <Num value={c.score} unit="%" digits={1} />
          </span>
        </div>
      </div>
      <Plot
        height={220}
        x={c.rpm}
        yLabel="kW at the wheels"
        series={[
          { label: "before, kW", values: c.before_kw, colour: palette.slate, dash: [6, 4] },
          { label: "after, kW", values: c.after_kw, width: 2.4 },
        ]}
      />
      <Plot
        height={150}
        x={c.rpm}
        xLabel="engine speed, rpm"
        yLabel="gain, kW"
        zero
        band={c.scatter_known ? [1, 0] : undefined}
        series={[
          { label: "gain less scatter", values: c.gain_low_kw, width: 0 },
          { label: "gain plus scatter", values: c.gain_high_kw, width: 0 },
          { label: "gain, kW", values: c.gain_kw },
        ]}
      />
      <p className="soft" style={{ fontSize: 14 }}>
        Dashed: before. Full: after. Band: <span className="num">{c.confidence} %</span> interval by Student’s
        t from the repeats; where it clears zero, the gain counts (
        <Num value={100 * c.claimable_share} unit="%" digits={0} /> of the speeds).{" "}
        {c.standard !== "none" && (
          <>
            {c.standard}: factor <span className="num">{c.factor}</span>,{" "}
            {c.factor_valid ? "valid here" : `outside ${c.factor_bounds.join("–")}: shown uncorrected`}.
          </>
        )}{" "}
        Wheel figures are what was measured; at the crank the peak after lies somewhere between{" "}
        <Num value={c.crank_kw[0]} unit="kW" digits={0} /> and{" "}
        <Num value={c.crank_kw[1]} unit="kW" digits={0} />, never one number.
      </p>
    </div>
  );
}
