import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import { Num } from "../figures/Num";
import type { GridProps } from "./gridProps";

/** A row of fields, one for each cylinder, or for each of the places that the server names. */
function Fields({
  count,
  places = [],
  label,
  value,
  onChange,
  viewer,
  placeholder,
}: {
  count: number;
  places?: string[];
  label: string;
  value: string[];
  onChange: (v: string[]) => void;
  viewer: boolean;
  placeholder: string;
}) {
  return (
    <div style={{ marginBottom: 8 }}>
      <span className="soft">{label}</span>
      <div className="row">
        {Array.from({ length: count }, (_, n) => (
          <label key={n} style={{ width: 116 }}>
            <span className="num soft" style={{ fontSize: 14 }}>
              {places[n] ?? `cyl ${n + 1}`}
            </span>
            <Input
              disabled={viewer}
              className="num"
              placeholder={placeholder}
              aria-label={`${label}, ${places[n] ?? `cylinder ${n + 1}`}`}
              value={value[n] ?? ""}
              onChange={(e) =>
                onChange(
                  Array.from({ length: count }, (_, m) => (m === n ? e.target.value : (value[m] ?? ""))),
                )
              }
            />
          </label>
        ))}
      </div>
    </div>
  );
}

/** Compression of every cylinder and how far each lies below the best; or how much air each loses. */
export function Compression({ grid, viewer, busy, enter }: GridProps) {
  const about = grid.about as unknown as {
    cylinders: number;
    low: number | null;
    high: number | null;
    spread: number;
    leak_most: number;
    rotor: { face_kpa: number; rotor_kpa: number } | null;
    places: string[];
  };
  const [how, setHow] = useState((grid.data.how as string) ?? "compression");
  const [kpa, setKpa] = useState<string[]>((grid.data.kpa as string[]) ?? []);
  const [leak, setLeak] = useState<string[]>((grid.data.leak as string[]) ?? []);
  const below = (grid.view as { below_best?: number[] }).below_best;
  const leaks = how === "leak-down";
  return (
    <>
      <Segmented
        disabled={viewer}
        value={how}
        onChange={(value) => setHow(value as string)}
        options={["compression", "leak-down"]}
        style={{ marginBottom: 10 }}
      />
      {leaks ? (
        <Fields
          count={about.cylinders}
          label="Leak-down"
          value={leak}
          onChange={setLeak}
          viewer={viewer}
          placeholder="8 %"
        />
      ) : (
        <Fields
          count={about.places.length || about.cylinders}
          places={about.places}
          label="Compression"
          value={kpa}
          onChange={setKpa}
          viewer={viewer}
          placeholder="12.4 bar"
        />
      )}
      {leaks ? (
        <p className="soft">
          At most <Num value={100 * about.leak_most} unit="%" /> of the air is lost, engine warm, piston at
          the top.
        </p>
      ) : (
        <p className="soft">
          {about.low === null ? (
            "The maker's limits are not known yet: cylinders are held against each other"
          ) : about.high === null ? (
            <>
              At least <Num value={about.low} unit="kPa" />
            </>
          ) : (
            <>
              Range <Num value={about.low} unit="kPa" /> to <Num value={about.high} unit="kPa" />
            </>
          )}
          {about.rotor ? (
            <>
              ; faces of a rotor at most <Num value={about.rotor.face_kpa} unit="kPa" /> apart, rotors at most{" "}
              <Num value={about.rotor.rotor_kpa} unit="kPa" />.
            </>
          ) : (
            <>
              ; at most <Num value={100 * about.spread} unit="%" /> below the best.
            </>
          )}
          {below && (
            <>
              {" "}
              Below the best:{" "}
              {below.map((b, n) => (
                <span key={n} className="num">
                  {" "}
                  {n + 1}: {(100 * b).toFixed(0)} %
                </span>
              ))}
            </>
          )}
        </p>
      )}
      {!viewer && (
        <Button
          type="primary"
          style={{ marginTop: 8 }}
          loading={busy}
          onClick={() => enter({ how, kpa, leak })}
        >
          Judge the {how}
        </Button>
      )}
    </>
  );
}

/** Number and revision of each injector of a set, and its measured flow where a sheet came with it. */
export function InjectorSet({ grid, viewer, busy, enter }: GridProps) {
  const { count } = grid.about as unknown as { count: number };
  const [revisions, setRevisions] = useState<string[]>((grid.data.revisions as string[]) ?? []);
  const [flows, setFlows] = useState<string[]>((grid.data.flows as string[]) ?? []);
  const first = revisions[0] ?? "";
  return (
    <>
      <Fields
        count={count}
        label="Number and revision"
        value={revisions}
        onChange={setRevisions}
        viewer={viewer}
        placeholder="F33 A"
      />
      {!viewer && first && (
        <Button
          size="small"
          style={{ minHeight: 36, marginBottom: 8 }}
          onClick={() => setRevisions(Array.from({ length: count }, () => first))}
        >
          All {count} are {first}
        </Button>
      )}
      <Fields
        count={count}
        label="Measured flow, where a sheet came with it (cm³/min)"
        value={flows}
        onChange={setFlows}
        viewer={viewer}
        placeholder="438"
      />
      {grid.calls.map((call) => (
        <p key={call.rule} className="soft">
          {call.title}:{" "}
          {call.because.map((e) => (
            <span key={e.label}>
              {e.label} <Num value={e.value} unit={e.unit} />{" "}
            </span>
          ))}
        </p>
      ))}
      {!viewer && (
        <Button
          type="primary"
          loading={busy}
          onClick={() => enter({ revisions, flows: flows.some((f) => f.trim()) ? flows : [] })}
        >
          Judge the set
        </Button>
      )}
    </>
  );
}
