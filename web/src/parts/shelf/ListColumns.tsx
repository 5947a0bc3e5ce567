import { Button, Select } from "antd";
import type { Schemas } from "../../api/client";

/** Heading → field and unit; an empty field leaves the column out. */
export type Columns = Record<string, [string, string]>;

/** Where each column of a file goes, with its first values beside. */
export function ListColumns({
  read,
  kind,
  columns,
  onChange,
  onTry,
}: {
  read: Schemas["ListReadOut"];
  kind: Schemas["ListKindOut"];
  columns: Columns;
  onChange: (columns: Columns) => void;
  onTry: () => void;
}) {
  const unitsOf = (name: string) => kind.fields.find((field) => field.name === name)?.units ?? [];
  return (
    <div className="sheet" style={{ overflowX: "auto" }}>
      <table className="plain">
        <thead>
          <tr>
            <th>column</th>
            <th>first values</th>
            <th>goes to</th>
            <th>bare figures are in</th>
          </tr>
        </thead>
        <tbody>
          {read.columns.map(({ heading, samples }) => {
            const [to, unit] = columns[heading] ?? ["", ""];
            const set = (next: [string, string]) => onChange({ ...columns, [heading]: next });
            return (
              <tr key={heading}>
                <td>
                  <b>{heading}</b>
                </td>
                <td className="soft">{samples.join(" · ") || "empty"}</td>
                <td>
                  <Select
                    style={{ width: 200 }}
                    aria-label={`${heading} goes to`}
                    value={to}
                    onChange={(value) => set([value, unitsOf(value)[0] ?? ""])}
                    options={[
                      { value: "", label: "left out" },
                      ...kind.fields.map((field) => ({
                        value: field.name,
                        label: `${field.label}${field.needed ? " · needed" : ""}`,
                      })),
                    ]}
                  />
                </td>
                <td>
                  {unitsOf(to).length > 0 && (
                    <Select
                      style={{ width: 110 }}
                      aria-label={`${heading} is in`}
                      value={unit}
                      onChange={(value) => set([to, value])}
                      options={unitsOf(to).map((value) => ({ value, label: value }))}
                    />
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button type="primary" size="large" style={{ marginTop: 10 }} onClick={onTry}>
        Dry run
      </Button>
    </div>
  );
}
