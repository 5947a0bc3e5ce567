import type { Schemas } from "../../api/client";
import { Num } from "../figures/Num";

const MOST_TICKS = 4;

/** The map's cells as they fill while it is driven: ink for evidence, a frame around the cell that is driven now. */
export function LiveCells({ cells }: { cells: Schemas["FillingOut"] }) {
  const rows = cells.y.map((load, r) => ({ load, r })).reverse();
  const at = (r: number, c: number) => cells.at?.[0] === r && cells.at[1] === c;
  return (
    <section className="filling" aria-label="Cells that fill">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <b>{cells.title}, as it fills</b>
        {cells.enough_here && (
          <span className="enough-here" role="status">
            Enough here
          </span>
        )}
      </div>
      <div className="across">
        <table className="driven filling-cells">
          <tbody>
            {rows.map(({ load, r }) => (
              <tr key={load}>
                <th>
                  <Num value={load} unit={cells.y_unit} digits={0} />
                </th>
                {cells.x.map((rpm, c) => (
                  <td
                    key={rpm}
                    className={at(r, c) ? "driven-now" : ""}
                    style={{ "--depth": cells.ticks[r][c] / MOST_TICKS } as React.CSSProperties}
                  >
                    {cells.enough[r][c] ? "enough" : ""}
                  </td>
                ))}
              </tr>
            ))}
            <tr>
              <th />
              {cells.x.map((rpm) => (
                <th key={rpm}>
                  <Num value={rpm} digits={0} />
                </th>
              ))}
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  );
}
