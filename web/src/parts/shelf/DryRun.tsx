import { Button } from "antd";
import type { Schemas } from "../../api/client";

/** What a file would make, change and be refused, line by line; or what it did. */
export function DryRun({
  dry,
  kept,
  onKeep,
}: {
  dry: Schemas["ListDryOut"];
  kept: boolean;
  onKeep: () => void;
}) {
  const told = `${dry.made} made, ${dry.changed} changed, ${dry.same} as they are, ${dry.refused} refused`;
  return (
    <section className="sheet" aria-label="Dry run">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2 role="status">{kept ? `Kept: ${told}` : `It would be: ${told}`}</h2>
        {!kept && dry.made + dry.changed > 0 && (
          <Button type="primary" size="large" onClick={onKeep}>
            Keep {dry.made + dry.changed}
          </Button>
        )}
      </div>
      {dry.lines.length > 0 && (
        <table className="plain" style={{ marginTop: 8 }}>
          <tbody>
            {dry.lines.map((line) => (
              <tr key={line.line}>
                <td className="num" style={{ width: 70 }}>
                  line {line.line}
                </td>
                <td
                  className={`call ${line.verdict}`}
                  style={{ border: 0, borderBottom: "1px solid var(--rule)", width: 100 }}
                >
                  <span className="word">{line.outcome}</span>
                </td>
                <td>
                  <b>{line.name}</b> <span className="soft">{line.told}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
