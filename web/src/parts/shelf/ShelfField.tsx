import { Input, Select, Switch } from "antd";
import { useMoney } from "../figures/Num";
import type { Part } from "./shelfSchema";

interface Props {
  field: string;
  part: Part;
  text: string;
  needed: boolean;
  wrong: boolean;
  disabled: boolean;
  onType: (text: string) => void;
}

/** A field of a thing on the shelf that is typed, chosen or switched. */
export function ShelfField({ field, part, text, needed, wrong, disabled, onType }: Props) {
  const inMoney = useMoney();
  return (
    <label>
      <span className="soft">
        {part.title ?? field}
        {part["x-unit"] && <span className="num"> {inMoney(part["x-unit"])}</span>}
        {needed && " · needed"}
      </span>
      {part.type === "boolean" && part.default === undefined ? (
        <Select
          disabled={disabled}
          allowClear
          style={{ width: "100%" }}
          value={text || undefined}
          placeholder="not known"
          aria-label={part.title ?? field}
          onChange={(value) => onType(value ?? "")}
          options={[
            { value: "true", label: "yes" },
            { value: "false", label: "no" },
          ]}
        />
      ) : part.type === "boolean" ? (
        <div>
          <Switch
            disabled={disabled}
            checked={text === "true"}
            aria-label={part.title ?? field}
            onChange={(on) => onType(on ? "true" : "")}
          />
        </div>
      ) : part.enum ? (
        <Select
          disabled={disabled}
          allowClear
          style={{ width: "100%" }}
          value={text || undefined}
          aria-label={part.title ?? field}
          onChange={(value) => onType(value === undefined ? "" : String(value))}
          options={part.enum.map((value) => ({ value: String(value), label: String(value) }))}
        />
      ) : text.includes("\n") || (part.maxLength ?? 0) > 1000 ? (
        // A field of one line would drop the lines of a file.
        <Input.TextArea
          disabled={disabled}
          className="num"
          rows={3}
          status={wrong ? "error" : undefined}
          value={text}
          aria-label={part.title ?? field}
          onChange={(event) => onType(event.target.value)}
        />
      ) : (
        <Input
          disabled={disabled}
          className={part.type === "string" || part.type === "array" ? "" : "num"}
          status={wrong ? "error" : undefined}
          value={text}
          aria-label={part.title ?? field}
          placeholder={part.type === "array" ? "one; another" : undefined}
          onChange={(event) => onType(event.target.value)}
        />
      )}
    </label>
  );
}
