import { Input } from "antd";
import type { Part } from "./shelfSchema";

interface Props {
  fields: [string, Part, string][];
  wrong: string | null;
  disabled: boolean;
  onType: (field: string, text: string) => void;
}

/** Lists and tables of a thing on the shelf, as JSON. */
export function DeepFields({ fields, wrong, disabled, onType }: Props) {
  return (
    <details style={{ marginTop: 10 }} open={fields.some(([field]) => field === wrong)}>
      <summary style={{ cursor: "pointer", minHeight: 40, padding: "8px 0" }}>
        Lists and tables, as JSON ({fields.filter(([, , text]) => text).length} filled)
      </summary>
      <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fill, minmax(300px, 1fr))" }}>
        {fields.map(([field, part, text]) => (
          <label key={field}>
            <span className="soft">{part.title ?? field}</span>
            <Input.TextArea
              disabled={disabled}
              className="num"
              autoSize={{ minRows: 2, maxRows: 9 }}
              status={wrong === field ? "error" : undefined}
              value={text}
              aria-label={part.title ?? field}
              onChange={(event) => onType(field, event.target.value)}
            />
          </label>
        ))}
      </div>
    </details>
  );
}
