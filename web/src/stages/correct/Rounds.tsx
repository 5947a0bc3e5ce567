import type { Schemas } from "../../api/client";
import { plain } from "../../parts/figures/Num";

/** The cell that was touched, and how each round stood. */
export function Rounds({ p, picked }: { p: Schemas["ProposalOut"]; picked: [number, number] | null }) {
  const at = picked && { y: p.y[picked[0]], x: p.x[picked[1]], i: picked[0], j: picked[1] };
  return (
    <div className="cols" style={{ marginTop: 8 }}>
      <div className="sheet" style={{ margin: 0 }}>
        <span className="head">{at ? `Cell ${at.y} kPa · ${plain(at.x)} rpm` : "Touch a cell"}</span>
        {at && (
          <table className="plain">
            <tbody>
              <tr>
                <td>samples, weighted</td>
                <td className="r num">{plain(p.samples[at.i][at.j])}</td>
              </tr>
              <tr>
                <td>fuel error left after scalars</td>
                <td className="r num">
                  {p.error[at.i][at.j] === null ? "no evidence" : `${plain(p.error[at.i][at.j]!, 1)} %`}
                </td>
              </tr>
              <tr>
                <td>how sure the new value is, 19 times of 20</td>
                <td className="r num">± {plain(p.margin[at.i][at.j], 1)} %</td>
              </tr>
              <tr>
                <td>spread, limit {p.limits.spread} %</td>
                <td className="r num">
                  {p.spread[at.i][at.j] === null ? "–" : `${plain(p.spread[at.i][at.j]!, 1)} %`}
                </td>
              </tr>
              <tr>
                <td>old → new</td>
                <td className="r num">
                  {p.old[at.i][at.j]} → {p.new[at.i][at.j]} %
                  {p.filled[at.i][at.j] && p.changed[at.i][at.j] ? ", filled" : ""}
                </td>
              </tr>
            </tbody>
          </table>
        )}
      </div>
      <div className="sheet" style={{ margin: 0 }}>
        <span className="head">Rounds</span>
        {p.rounds.length === 0 && <p className="soft">None judged yet.</p>}
        <table className="plain">
          <tbody>
            {p.rounds.map((round, index) => (
              <tr key={index}>
                <td>
                  map <span className="num">{round.version}</span>
                </td>
                <td className="r num">
                  {plain(round.share)} % within {p.limits.within} %
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
