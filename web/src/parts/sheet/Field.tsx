import { Input } from "antd";
import { Figure } from "../figures/Figure";

/** A figure that may be typed in any unit of its quantity; a plain one, or a word, where it has none. */
export function Field(p: {
  label: string;
  quantity: string;
  unit: string;
  value: string;
  hint: string;
  onChange: (text: string) => void;
  onEnter?: () => void;
}) {
  if (p.quantity) return <Figure {...p} />;
  return (
    <label style={{ display: "inline-block", width: 280 }}>
      <span className="soft">{p.label}</span>
      <Input
        value={p.value}
        onChange={(event) => p.onChange(event.target.value)}
        onPressEnter={p.onEnter}
        suffix={<span className="soft num">{p.unit}</span>}
      />
      <span className="soft" style={{ fontSize: 13 }}>
        {p.hint}
      </span>
    </label>
  );
}
