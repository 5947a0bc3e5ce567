import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import { useLook } from "../../theme/Look";
import { Num, placesFor, useConvert } from "../figures/Num";
import { Plot, type Line } from "../figures/Plot";

interface Props {
  told: Schemas["LaidOverOut"];
  along: "rpm" | "time" | "distance";
  column?: Schemas["ColumnOut"];
  sides: ("before" | "after" | "")[];
  dashes: (number[] | undefined)[];
}
const AXIS = { rpm: ["engine speed", "rpm"], time: ["since the start", "s"], distance: ["driven", "m"] };

/** One channel of several pulls, their difference with its scatter below, and what may be said of it. */
export function LaidOver({ told, along, column, sides, dashes }: Props) {
  const { palette } = useLook();
  const convert = useConvert();
  const label = column?.label ?? told.name;
  const unit = column?.unit ?? "";
  const [xName, xUnit] = AXIS[along];
  const shownUnit = convert(0, unit)[1];
  const shownX = convert(0, xUnit)[1];
  const size = Math.max(Math.abs(column?.low ?? 0), Math.abs(column?.high ?? 0));
  const digits = placesFor(size, 3);
  const lines = useMemo(() => {
    const to = (value: number | null) => (value === null ? null : convert(value, unit)[0]);
    return told.lines
      .map((line, n): Line => ({
        label: `${label}, ${sides[n]}`,
        x: line.x.map((one) => convert(one, xUnit)[0]),
        values: line.y.map(to),
        colour: sides[n] === "before" ? palette.ochre : palette.petrol,
        dash: dashes[n],
        width: 1.8,
      }))
      .filter((line) => line.values.length > 1);
  }, [told, palette, unit, xUnit, label, sides.join(), dashes.join("|"), shownUnit]); // eslint-disable-line
  const gap = useMemo((): Line[] => {
    // A difference has no zero point of its own: 10 °C more are 18 °F more.
    const span = (value: number | null) =>
      value === null ? null : convert(value, unit)[0] - convert(0, unit)[0];
    const { difference, scatter } = told;
    const edge = (sign: number) =>
      difference.map((one, n) => span(one === null || scatter[n] === null ? null : one + sign * scatter[n]!));
    const bare = { width: 0, colour: "transparent" };
    return [
      { label: "scatter above", values: edge(1), ...bare },
      { label: "scatter below", values: edge(-1), ...bare },
      { label: `${label}: after less before`, values: difference.map(span), colour: palette.ink },
    ];
  }, [told, palette, unit, label, shownUnit]); // eslint-disable-line
  const x = useMemo(() => told.x.map((one) => convert(one, xUnit)[0]), [told, xUnit, shownX]); // eslint-disable-line
  return (
    <section className="sheet laid-over" aria-label={label}>
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>
          {label}
          {shownUnit && <span className="soft"> {shownUnit}</span>}
        </h2>
        <span>
          {told.mean !== null && (
            <b>
              after − before {told.mean > 0 && "+"}
              <Num value={spanOf(told.mean, unit, convert)} digits={digits} />
              {told.within !== null && (
                <>
                  {" "}
                  ± <Num value={spanOf(told.within, unit, convert)} digits={digits} />
                </>
              )}
              {shownUnit && ` ${shownUnit}`}
            </b>
          )}{" "}
          <span className="soft">{told.sentence}</span>
        </span>
      </div>
      <Plot
        x={NONE}
        series={lines}
        height={170}
        joined
        xLabel={told.x.length ? undefined : `${xName} ${shownX}`}
      />
      {told.x.length > 1 && (
        <Plot
          x={x}
          series={gap}
          height={140}
          zero
          band={[0, 1]}
          xLabel={`difference over ${xName} ${shownX}`}
        />
      )}
    </section>
  );
}

const NONE: number[] = [];
type Convert = (value: number, unit: string) => [number, string];
const spanOf = (value: number, unit: string, convert: Convert) =>
  convert(value, unit)[0] - convert(0, unit)[0];
