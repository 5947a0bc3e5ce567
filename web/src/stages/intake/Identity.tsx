import { Alert, Button, Checkbox, Input, Select } from "antd";
import { useState, type ReactNode } from "react";
import { api, take, type ApiError, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Figure } from "../../parts/figures/Figure";
import { plain, useConvert } from "../../parts/figures/Num";

const CHANGES = [
  "exhaust",
  "filter",
  "catalyst",
  "particulate filter",
  "intercooler",
  "cams",
  "injectors",
  "pump",
];

const GOALS = [
  ["street", "street: drivability and mid-range"],
  ["track", "track: repeatable, temperature margin"],
  ["tow", "tow: torque low down"],
  ["economy", "economy"],
  ["learner", "learner: limited"],
  ["peak", "peak figure"],
].map(([value, label]) => ({ value, label }));

type Entered = Omit<Schemas["IntakeIn"], "revision" | "units">;
type FigureName = "odometer_km" | "power_goal_kw" | "ron" | "ethanol" | "altitude_m";

/** Figures of Intake: label, quantity, canonical unit, what the plate's value is multiplied by to be shown. */
const FIGURES: [FigureName, string, string, string, number][] = [
  ["odometer_km", "Odometer", "distance", "km", 1],
  ["power_goal_kw", "Power goal at the crank, sea level", "power", "kW", 1],
  ["ron", "Octane in the tank", "octane", "RON", 1],
  ["ethanol", "Ethanol in the tank", "fraction", "%", 100],
  ["altitude_m", "Altitude of the shop", "altitude", "m", 1],
];

/** Identity, goal, fuel, altitude. What was not touched is sent as it was, so no figure drifts by its unit. */
export function Identity({ job, viewer }: { job: Job; viewer: boolean }) {
  const { plate } = job;
  const [typed, setTyped] = useState<Partial<Entered>>({});
  const [wrong, setWrong] = useState<ApiError | null>(null);
  // The job as it was when typing began: what somebody else saved since is told, not written over.
  const [seen, setSeen] = useState<number | null>(null);
  const convert = useConvert();
  const save = useAct(
    (body: Schemas["IntakeIn"]) =>
      take(api.PUT("/api/jobs/{number}/intake", { params: { path: { number: plate.number } }, body })).catch(
        (error: ApiError) => {
          setWrong(error);
          if (error.field === "revision") setSeen(null);
          throw error;
        },
      ),
    () => (setWrong(null), setTyped({}), setSeen(null)),
  );
  const {
    vin,
    registration,
    owner,
    odometer_km,
    goal,
    power_goal_kw,
    ron,
    ethanol,
    altitude_m,
    complaint,
    changes,
  } = plate;
  const stands = {
    vin,
    registration,
    owner,
    odometer_km,
    goal,
    power_goal_kw,
    ron,
    ethanol,
    altitude_m,
    complaint,
    changes,
  };
  const now = { ...stands, ...typed };
  const set = (entered: Partial<Entered>) => (
    setTyped({ ...typed, ...entered }),
    setSeen(seen ?? plate.revision)
  );
  const meant = (unit: string) => convert(0, unit)[1];
  const send = () =>
    save.mutate({
      ...now,
      revision: seen ?? plate.revision,
      units: Object.fromEntries(FIGURES.map(([name, , , unit]) => [name, meant(unit)])),
    });
  const text = (name: "vin" | "registration" | "owner", label: string, more: object = {}) => (
    <Field label={label} wrong={wrong?.field === name ? wrong.message : ""}>
      <Input
        disabled={viewer}
        value={now[name]}
        aria-label={label}
        status={wrong?.field === name ? "error" : undefined}
        onChange={(event) => set({ [name]: event.target.value })}
        onPressEnter={send}
        {...more}
      />
    </Field>
  );
  const figure = ([name, label, quantity, unit, times]: (typeof FIGURES)[number]) => {
    const value = stands[name];
    const shown =
      typed[name] ?? (value == null ? "" : plain(convert(times * value, unit)[0]).replace("\u202f", ""));
    return (
      <Figure
        key={name}
        wide
        disabled={viewer}
        label={label}
        quantity={quantity}
        unit={unit}
        value={String(shown)}
        onChange={(value) => set({ [name]: value })}
        onEnter={send}
        wrong={wrong?.field === name ? wrong.message : ""}
      />
    );
  };
  return (
    <div className="sheet">
      <div className="cols intake">
        {text("vin", "VIN, from the plate", { className: "num", maxLength: 24 })}
        {text("registration", "Registration")}
        {text("owner", "Owner")}
        {figure(FIGURES[0])}
        <Field label="Goal">
          <Select
            disabled={viewer}
            style={{ width: "100%" }}
            aria-label="Goal"
            value={now.goal}
            options={GOALS}
            onChange={(value) => set({ goal: value })}
          />
        </Field>
        {FIGURES.slice(1)
          .filter(([name]) => plate.petrol || (name !== "ron" && name !== "ethanol"))
          .map(figure)}
      </div>
      <div style={{ margin: "10px 0 2px" }} className="soft">
        Changed already
      </div>
      <Checkbox.Group
        disabled={viewer}
        value={now.changes}
        options={CHANGES}
        onChange={(value) => set({ changes: value as string[] })}
      />
      <div style={{ height: 8 }} />
      <Field label="Complaint, in the owner's words">
        <Input.TextArea
          disabled={viewer}
          rows={2}
          value={now.complaint}
          aria-label="Complaint, in the owner's words"
          placeholder="Several: one a line. Each is asked again before it leaves."
          onChange={(event) => set({ complaint: event.target.value })}
        />
      </Field>
      {wrong && !FIGURES.some(([name]) => name === wrong.field) && wrong.field !== "vin" && (
        <Alert type="error" title={wrong.message} style={{ marginTop: 10 }} />
      )}
      {!viewer && (
        <Button type="primary" size="large" style={{ marginTop: 12 }} loading={save.isPending} onClick={send}>
          Save intake
        </Button>
      )}
    </div>
  );
}

function Field({ label, wrong, children }: { label: string; wrong?: string; children: ReactNode }) {
  return (
    <label style={{ display: "block" }}>
      <span className="soft">{label}</span>
      {children}
      {wrong && (
        <span role="alert" style={{ fontSize: 14, color: "var(--oxide)" }}>
          {wrong}
        </span>
      )}
    </label>
  );
}
