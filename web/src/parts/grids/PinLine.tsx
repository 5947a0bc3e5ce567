import { Button, Checkbox, Input, Select } from "antd";

export interface Pin {
  connector: string;
  number: string;
  colour: string;
  function: string;
  action: string;
  to: string;
  insulated: boolean;
  damaged: string;
  label: string;
}
const TEXTS = [
  ["connector", 80],
  ["number", 56],
  ["colour", 78],
  ["function", 132],
] as const;

interface Props {
  row: Pin;
  n: number;
  viewer: boolean;
  onChange: (change: Partial<Pin>) => void;
  onDelete: () => void;
}

/** One pin of the plan. */
export function PinLine({ row, n, viewer, onChange, onDelete }: Props) {
  return (
    <tr>
      {TEXTS.map(([field, width]) => (
        <td key={field}>
          <Input
            disabled={viewer}
            style={{ width }}
            value={row[field]}
            aria-label={`Row ${n + 1} ${field}`}
            onChange={(e) => onChange({ [field]: e.target.value })}
          />
        </td>
      ))}
      <td>
        <Select
          disabled={viewer}
          style={{ width: 104 }}
          value={row.action}
          aria-label={`Row ${n + 1} action`}
          onChange={(action: string) => onChange({ action })}
          options={["keep", "pull", "move", "join", "insulate"].map((value) => ({
            value,
            label: value,
          }))}
        />
      </td>
      <td>
        <Input
          disabled={viewer || !["move", "join"].includes(row.action)}
          style={{ width: 68 }}
          value={row.to}
          aria-label={`Row ${n + 1} to`}
          onChange={(e) => onChange({ to: e.target.value })}
        />
      </td>
      <td>
        <Checkbox
          disabled={viewer}
          checked={row.insulated}
          aria-label={`Row ${n + 1} covered`}
          onChange={(e) => onChange({ insulated: e.target.checked })}
        />
      </td>
      <td>
        <Input
          disabled={viewer}
          style={{ width: 84 }}
          value={row.damaged}
          aria-label={`Row ${n + 1} damage`}
          onChange={(e) => onChange({ damaged: e.target.value })}
        />
      </td>
      <td>
        <Input
          disabled={viewer}
          style={{ width: 84 }}
          value={row.label}
          aria-label={`Row ${n + 1} label`}
          onChange={(e) => onChange({ label: e.target.value })}
        />
      </td>
      <td>
        {!viewer && (
          <Button type="text" aria-label={`Delete row ${n + 1}`} onClick={onDelete}>
            ✕
          </Button>
        )}
      </td>
    </tr>
  );
}
