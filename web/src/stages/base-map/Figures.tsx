import { Alert, Button } from "antd";
import { useState } from "react";
import { api, take, type Call, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { CallCard } from "../../parts/CallCard";
import { Figure } from "../../parts/Figure";

type Shown = {
  flow: string;
  rated: string;
  pressure: string;
  ms: string[][];
  voltages: number[];
  pressures: number[];
};

function shown(figures: Schemas["Figures"]): Shown {
  return {
    flow: `${figures.flow} cm³/min`,
    rated: `${figures.rated_kpa} kPa`,
    pressure: `${figures.pressure_kpa} kPa`,
    ms: figures.dead_time.ms.map((row) => row.map((v) => v.toFixed(3))),
    voltages: figures.dead_time.voltages,
    pressures: figures.dead_time.pressures_kpa,
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
  sheet: Schemas["Figures"];
  current: Schemas["Figures"];
  fluid: string;
  referenced: boolean;
}) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const done = job.steps.find((step) => step.key === "base-map.dead_time")?.done ?? false;
  const [entered, setEntered] = useState(() => shown(current));
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
  const cell = (i: number, j: number, text: string) =>
    setEntered({
      ...entered,
      ms: entered.ms.map((row, r) => (r === i ? row.map((v, c) => (c === j ? text : v)) : row)),
    });
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
        <div className="row" style={{ justifyContent: "space-between", margin: "10px 0 4px" }}>
          <b>Dead time, ms: battery voltage down, pressure across</b>
          {!viewer && (
            <Button onClick={() => setEntered(shown(sheet))}>Fill from the injector's sheet</Button>
          )}
        </div>
        <table className="dead" style={{ width: "100%", maxWidth: 560 }}>
          <thead>
            <tr>
              <th />
              {entered.pressures.map((kpa) => (
                <th key={kpa}>{kpa} kPa</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {entered.voltages.map((volts, i) => (
              <tr key={volts}>
                <th>{volts} V</th>
                {entered.pressures.map((kpa, j) => (
                  <td key={kpa}>
                    <input
                      value={entered.ms[i][j]}
                      disabled={viewer}
                      onChange={(event) => cell(i, j, event.target.value)}
                      aria-label={`dead time at ${volts} V, ${kpa} kPa`}
                      inputMode="decimal"
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
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
            {bad && <span style={{ color: "var(--oxide)" }}>A cell holds no number.</span>}
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
