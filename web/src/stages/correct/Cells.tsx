import type { Schemas } from "../../api/client";
import { ink } from "../../parts/sheet/ink";
import { useLook } from "../../theme/Look";

interface Props {
  p: Schemas["ProposalOut"];
  view: "before" | "proposal" | "change";
  left: Set<string>;
  picked: [number, number] | null;
  onPick: (row: number, column: number) => void;
}

/** Ink depth of one hue for value; ticks for evidence; ochre edge for changed; hatch for filled, not measured. */
export function Cells({ p, view, left, picked, onPick }: Props) {
  const { dark } = useLook();
  const all = p.old.flat();
  const low = Math.min(...all),
    high = Math.max(...all);
  const rows = p.y.map((_, i) => i).reverse();
  return (
    <div style={{ overflowX: "auto" }}>
      <table className="cells" style={{ minWidth: 640 }}>
        <tbody>
          {rows.map((i) => (
            <tr key={i}>
              <th style={{ width: 44, textAlign: "right" }}>{p.y[i]}</th>
              {p.x.map((rpm, j) => {
                const key = `${i},${j}`;
                const taken = p.changed[i][j] && !left.has(key);
                const value = view === "before" || !taken ? p.old[i][j] : p.new[i][j];
                const change = 100 * (p.new[i][j] / p.old[i][j] - 1);
                const depth = (value - low) / Math.max(high - low, 1e-9);
                const shade = ink(depth, dark);
                const text =
                  view === "change"
                    ? taken
                      ? `${change > 0 ? "+" : "−"}${Math.abs(change).toFixed(1)}`
                      : "·"
                    : value.toFixed(1);
                const marks = [
                  p.changed[i][j] && (taken ? "changed" : "left-out"),
                  p.filled[i][j] && p.changed[i][j] && "filled",
                  picked?.[0] === i && picked[1] === j && "picked",
                ]
                  .filter(Boolean)
                  .join(" ");
                return (
                  <td key={rpm}>
                    <button
                      className={`cell ${marks}`}
                      style={{ backgroundColor: shade.back, color: shade.text }}
                      onClick={() => onPick(i, j)}
                      aria-label={`${p.y[i]} kPa, ${rpm} rpm: ${p.old[i][j]} %${p.changed[i][j] ? ` to ${p.new[i][j]} %` : ", stays"}, evidence ${p.ticks[i][j]} of 4`}
                    >
                      {text}
                      <span className="ticks" aria-hidden>
                        {Array.from({ length: p.ticks[i][j] }, (_, k) => (
                          <i key={k} />
                        ))}
                      </span>
                    </button>
                  </td>
                );
              })}
            </tr>
          ))}
          <tr>
            <th style={{ textAlign: "right" }}>kPa</th>
            {p.x.map((rpm) => (
              <th key={rpm}>{rpm}</th>
            ))}
          </tr>
        </tbody>
      </table>
      <p className="soft" style={{ fontSize: 14 }}>
        Across: engine speed, rpm. Ticks: evidence, 0–4. Ochre edge: changed. Hatch: filled or kept at its
        fuel, not measured. Deeper ink: higher value
        {view === "change" ? "; figures here are the change in %" : ""}.
      </p>
    </div>
  );
}
