import type { Schemas } from "../../api/client";
import { placesFor, plain, useConvert } from "../figures/Num";

type Column = Schemas["ColumnOut"] | undefined;

/** Where the engine was driven: a cell's seconds, or the mean of a channel there; ink by depth. */
export function Driven({ told, x, y, of }: { told: Schemas["DrivenOut"]; x: Column; y: Column; of: Column }) {
  const convert = useConvert();
  const at = (value: number, column: Column) => convert(value, column?.unit ?? "");
  const shown = told.mean ?? told.seconds;
  const known = shown.flat().filter((value, n) => value !== null && told.seconds.flat()[n] > 0) as number[];
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const digits = told.mean ? placesFor(most, 3) : 1;
  const [xUnit, yUnit] = [at(0, x)[1], at(0, y)[1]];
  const ofUnit = told.mean ? at(0, of)[1] : "s";
  return (
    <div className="across">
      <p className="soft" style={{ margin: "0 0 6px" }}>
        {told.mean ? `Mean of ${of?.label.toLowerCase()}` : "Seconds"} {ofUnit && `[${ofUnit}] `}in each cell
        of {y?.label.toLowerCase()} {yUnit && `[${yUnit}]`} over {x?.label.toLowerCase()}{" "}
        {xUnit && `[${xUnit}]`}. Cells without a figure were not driven.
      </p>
      <table className="driven num" aria-label="Where it was driven">
        <tbody>
          {[...told.seconds.keys()].reverse().map((row) => (
            <tr key={row}>
              <th>{plain(at(told.y_edges[row], y)[0])}</th>
              {told.seconds[row].map((seconds, n) => {
                const value = shown[row][n];
                if (!(seconds > 0) || value === null) return <td key={n} />;
                const depth = (value - least) / (most - least || 1);
                const text = told.mean ? at(value, of)[0] : value;
                return (
                  <td key={n} style={{ "--depth": depth.toFixed(2) } as React.CSSProperties}>
                    {plain(text, digits)}
                  </td>
                );
              })}
            </tr>
          ))}
          <tr>
            <th />
            {told.x_edges.slice(0, -1).map((edge) => (
              <th key={edge}>{plain(at(edge, x)[0])}</th>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}
