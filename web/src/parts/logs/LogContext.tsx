import { Checkbox, Input, Select } from "antd";
import type { Schemas } from "../../api/client";

export interface Whole {
  afr_scale: number | null;
  induction: string;
  stroke: number | null;
  altitude_m: number | null;
  diesel: boolean;
}

/** What no log says and some findings ask: of a look, which has no job that knows it. */
export function LogContext({
  log,
  whole,
  scaled,
  onSay,
}: {
  log: Schemas["LogOut"];
  whole: Whole;
  scaled: boolean;
  onSay: (whole: Whole) => void;
}) {
  return (
    <div className="row" style={{ marginTop: 12, flexWrap: "wrap" }}>
      {!log.job && (
        <>
          <Select
            aria-label="Induction"
            style={{ width: 190 }}
            value={whole.induction}
            onChange={(induction) => onSay({ ...whole, induction })}
            options={[
              { value: "", label: "induction: not said" },
              { value: "none", label: "naturally aspirated" },
              { value: "turbo", label: "turbo" },
              { value: "blower", label: "blower" },
            ]}
          />
          <Select
            aria-label="Stroke"
            style={{ width: 150 }}
            value={whole.stroke ?? 0}
            onChange={(stroke) => onSay({ ...whole, stroke: stroke || null })}
            options={[
              { value: 0, label: "stroke: not said" },
              { value: 4, label: "four-stroke" },
              { value: 2, label: "two-stroke" },
            ]}
          />
          <Checkbox
            checked={whole.diesel}
            onChange={(event) => onSay({ ...whole, diesel: event.target.checked })}
          >
            diesel
          </Checkbox>
          {!log.columns.some((column) => column.name === "baro") && (
            <Input
              aria-label="Altitude of the place"
              placeholder="altitude of the place"
              suffix="m"
              style={{ width: 210 }}
              defaultValue={whole.altitude_m ?? ""}
              onChange={(event) => onSay({ ...whole, altitude_m: figure(event.target.value) })}
            />
          )}
        </>
      )}
      {scaled && (
        <Input
          aria-label="Air/fuel ratio that AFR is scaled by"
          placeholder="14.7"
          prefix="AFR scaled by"
          style={{ width: 200 }}
          defaultValue={whole.afr_scale ?? ""}
          onChange={(event) => onSay({ ...whole, afr_scale: figure(event.target.value) })}
        />
      )}
    </div>
  );
}

function figure(text: string): number | null {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() && Number.isFinite(value) ? value : null;
}
