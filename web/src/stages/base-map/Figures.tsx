import { Alert, Button } from "antd";
import { useState } from "react";
import { api, take, type Call, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { CallCard } from "../../parts/ledger/CallCard";
import { Figure } from "../../parts/figures/Figure";
import { DeadTimeSheet } from "./DeadTimeSheet";

type Shown = {
  flow: string;
  rated: string;
  pressure: string;
  ms: string[][];
  voltages: number[];
  pressures: number[];
};

/** The figures as they are edited; `axes` gives the table's shape where the figures have none: blank cells. */
function shown(figures: Schemas["SheetFigures"], axes: Schemas["DeadTimeIn"]): Shown {
  const table = figures.dead_time;
  const { voltages, pressures_kpa: pressures } = table ?? axes;
  return {
    flow: `${figures.flow} cm³/min`,
    rated: `${figures.rated_kpa} kPa`,
    pressure: `${figures.pressure_kpa} kPa`,
    ms: voltages.map((_, i) => pressures.map((_, j) => table?.ms[i][j].toFixed(3) ?? "")),
    voltages,
    pressures,
  };
}

/** Flow and dead time at this vehicle's own pressure; slips of typing are caught before they reach a map. */
export function Figures({
  job,
  sheet,
  current,
  fluid,
  referenced,
}: {
  job: Job;
  sheet: Schemas["SheetFigures"];
  current: Schemas["Figures"];
  fluid: string;
  referenced: boolean;
}) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const done = job.steps.find((step) => step.key === "base-map.dead_time")?.done ?? false;
  const axes = current.dead_time;
  // What stands in a fresh map is another injector's: never shown as if it were this one's.
  const [entered, setEntered] = useState(() =>
    !done && !sheet.dead_time ? shown(sheet, axes) : shown(current, axes),
  );
  const [calls, setCalls] = useState<Call[]>([]);
  const set = useAct(
    (anyway: boolean) => {
      const ms = entered.ms.map((row) => row.map((text) => Number(text.replace(",", "."))));
      const body = {
        flow: entered.flow,
        rated: entered.rated,
        pressure: entered.pressure,
        dead_time: { voltages: entered.voltages, pressures_kpa: entered.pressures, ms },
        anyway,
      };
      return take(api.PUT("/api/jobs/{number}/figures", { params: { path: { number } }, body }));
    },
    (answer) => setCalls(answer.version ? [] : answer.calls),
  );
  const bad = entered.ms.flat().some((text) => !/^\s*\d+([.,]\d+)?\s*$/.test(text));
  return (
    <>
      {done && (
        <Alert
          type="success"
          title="These figures are in the newest version of the map. Load it next."
          style={{ marginBottom: 10 }}
        />
      )}
      <div className="sheet">
        <div className="row" style={{ alignItems: "flex-start" }}>
          <Figure
            label="Injector static flow"
            quantity="injector_flow"
            unit="cm³/min"
            value={entered.flow}
            onChange={(flow) => setEntered({ ...entered, flow })}
            hint={fluid === "petrol" ? "on petrol" : `as petrol; the sheet says it on ${fluid}`}
          />
          <Figure
            label="rated at, across the injector"
            quantity="pressure"
            unit="kPa"
            value={entered.rated}
            onChange={(rated) => setEntered({ ...entered, rated })}
          />
          <Figure
            label="pressure across it here"
            quantity="pressure"
            unit="kPa"
            value={entered.pressure}
            onChange={(pressure) => setEntered({ ...entered, pressure })}
            hint={referenced ? "regulator follows the manifold" : "fixed rail: falls as the manifold fills"}
          />
        </div>
        <DeadTimeSheet
          entered={entered}
          onChange={(table) => setEntered({ ...entered, ...table })}
          onFill={viewer ? undefined : () => setEntered(shown(sheet, axes))}
          missing={!sheet.dead_time && !done}
          rated={entered.rated}
        />
        {!viewer && (
          <div className="row" style={{ marginTop: 12 }}>
            <Button
              type="primary"
              size="large"
              disabled={bad}
              loading={set.isPending}
              onClick={() => set.mutate(false)}
            >
              Set these figures
            </Button>
            {bad && (
              <span style={{ color: "var(--oxide)" }}>A cell of the dead-time table holds no number.</span>
            )}
          </div>
        )}
      </div>
      {calls.map((call, index) => (
        <div key={index} style={{ marginBottom: 8 }}>
          <CallCard
            verdict={call.verdict}
            title={call.title}
            because={call.because}
            next={call.do_next}
            source={call.source}
          />
        </div>
      ))}
      {calls.length > 0 && (
        <Button onClick={() => set.mutate(true)}>Set them all the same; the holds go into the ledger</Button>
      )}
    </>
  );
}
