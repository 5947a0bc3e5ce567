import type { Schemas } from "../../api/client";
import { Num } from "./Num";

/** A sum that can be traced: formula, inputs, result, source. */
export function SumCard({ sum }: { sum: Schemas["SumOut"] }) {
  return (
    <section className="sheet" style={{ margin: 0 }}>
      <b>{sum.title}</b>
      <div className="num" style={{ margin: "4px 0", fontSize: 13.5, whiteSpace: "normal" }}>
        {sum.formula}
      </div>
      {sum.inputs.map((input) => (
        <div className="call" style={{ border: 0, padding: 0 }} key={input.label}>
          <div className="line">
            <span>{input.label}</span>
            <Num value={input.value} unit={input.unit} />
          </div>
        </div>
      ))}
      <div
        className="row"
        style={{
          justifyContent: "space-between",
          borderTop: "1px solid var(--rule)",
          marginTop: 5,
          paddingTop: 5,
        }}
      >
        <b>{sum.result.label}</b>
        <b style={{ fontSize: 18 }}>
          <Num value={sum.result.value} unit={sum.result.unit} />
        </b>
      </div>
      <div className="soft" style={{ fontSize: 13 }}>
        {sum.source}
      </div>
    </section>
  );
}
