import { Alert, App, Button, Input } from "antd";
import { useState } from "react";
import { api, take, type ApiError } from "../../api/client";

type Table = { ms: string[][]; voltages: number[]; pressures: number[] };

const list = (text: string) =>
  text
    .split(/[;\s]+/)
    .filter(Boolean)
    .map((part) => Number(part.replace(",", ".")));

/** Dead time by battery and pressure, cell by cell; another maker's sheet has other voltages and pressures. */
export function DeadTimeSheet({
  entered,
  onChange,
  onFill,
  missing,
  rated,
}: {
  entered: Table;
  onChange: (table: Table) => void;
  onFill?: () => void;
  missing: boolean;
  /** Where a sheet gives one pressure only. */
  rated: string;
}) {
  const [pasted, setPasted] = useState<string | null>(null);
  const { message } = App.useApp();
  const read = () =>
    take(api.POST("/api/dead-time-tables", { body: { text: pasted ?? "", rated } }))
      .then((table) => {
        onChange({
          voltages: table.voltages,
          pressures: table.pressures_kpa,
          ms: table.ms.map((row) => row.map(String)),
        });
        setPasted(null);
        for (const call of table.calls) void message.warning(`${call.title}. ${call.do_next}`, 9);
      })
      .catch((error: ApiError) => void message.error(error.message, 7));
  const [reshape, setReshape] = useState<{ volts: string; kpa: string } | null>(null);
  const wanted = reshape && { volts: list(reshape.volts), kpa: list(reshape.kpa) };
  const whole =
    wanted && [wanted.volts, wanted.kpa].every((row) => row.length > 1 && row.every(Number.isFinite));
  const cell = (i: number, j: number, text: string) =>
    onChange({
      voltages: entered.voltages,
      pressures: entered.pressures,
      ms: entered.ms.map((row, r) => (r === i ? row.map((v, c) => (c === j ? text : v)) : row)),
    });
  return (
    <>
      <div className="row" style={{ justifyContent: "space-between", margin: "10px 0 4px" }}>
        <b>Dead time, ms: battery voltage down, pressure across</b>
        {onFill && (
          <span className="row">
            <Button
              onClick={() =>
                setReshape(
                  reshape ? null : { volts: entered.voltages.join(" "), kpa: entered.pressures.join(" ") },
                )
              }
            >
              Other voltages or pressures
            </Button>
            <Button onClick={() => setPasted(pasted === null ? "" : null)}>Paste a data sheet</Button>
            <Button onClick={onFill}>Fill from the injector's sheet</Button>
          </span>
        )}
      </div>
      {missing && (
        <Alert
          type="warning"
          title="This injector's sheet on the shelf has no dead-time table. Type its maker's, cell by cell."
          style={{ marginBottom: 8 }}
        />
      )}
      {pasted !== null && (
        <div className="row" style={{ marginBottom: 8, alignItems: "flex-end" }}>
          <Input.TextArea
            value={pasted}
            onChange={(event) => setPasted(event.target.value)}
            rows={5}
            aria-label="A data sheet's table, pasted"
            placeholder="battery along one axis, pressure along the other; or battery and ms"
            style={{ flex: "1 1 380px", fontFamily: "IBM Plex Mono", fontSize: 13 }}
          />
          <Button type="primary" disabled={!pasted.trim()} onClick={() => void read()}>
            Read it
          </Button>
        </div>
      )}
      {reshape && (
        <div className="row" style={{ marginBottom: 8, alignItems: "flex-end" }}>
          <label>
            voltages, V
            <Input
              value={reshape.volts}
              onChange={(e) => setReshape({ ...reshape, volts: e.target.value })}
            />
          </label>
          <label>
            pressures, kPa
            <Input value={reshape.kpa} onChange={(e) => setReshape({ ...reshape, kpa: e.target.value })} />
          </label>
          <Button
            disabled={!whole}
            onClick={() => {
              if (!wanted) return;
              const ms = wanted.volts.map(() => wanted.kpa.map(() => ""));
              onChange({ ms, voltages: wanted.volts, pressures: wanted.kpa });
              setReshape(null);
            }}
          >
            Make a blank table
          </Button>
        </div>
      )}
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
                    disabled={!onFill}
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
    </>
  );
}
