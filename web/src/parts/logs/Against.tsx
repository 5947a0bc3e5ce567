import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Alert, Button, Radio, Segmented, Select } from "antd";
import { useMemo, useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { Num } from "../figures/Num";
import { LaidOver } from "./LaidOver";
import { ROWS, filled } from "./rows";

type Stretch = Schemas["StretchOut"];
type Side = "before" | "after" | "";
type Along = "rpm" | "time" | "distance";
const ALONG = [
  { value: "rpm", label: "engine speed" },
  { value: "time", label: "time" },
  { value: "distance", label: "distance" },
];
const nameOf = (one: Stretch) => `${one.log_id}:${one.from_s}:${one.to_s}`;
/** Dashes of the stretches of one side, so that each is told by more than its colour. */
export const DASHES = [undefined, [8, 4], [2, 3], [10, 3, 2, 3], [5, 2], [1, 2]];

/** Pulls laid over each other, before against after; of this log, and of the others of its job. */
export function Against({ log }: { log: Schemas["LogOut"] }) {
  const [chosen, setChosen] = useState<Record<string, Side>>({});
  const [along, setAlong] = useState<Along>("rpm");
  const has = useMemo(() => new Set(log.columns.map((column) => column.name)), [log]);
  const rows = Object.keys(ROWS).filter((name) => filled(ROWS[name], has).length > 1);
  const [row, setRow] = useState(rows.includes("boost") ? "boost" : (rows[0] ?? "usual"));
  const pulls = useQuery({
    queryKey: ["stretches", log.id],
    queryFn: () => take(api.GET("/api/logs/{log_id}/stretches", { params: { path: { log_id: log.id } } })),
  });
  const sideOf = (one: Stretch): Side => chosen[nameOf(one)] ?? one.side;
  const used = (pulls.data ?? []).filter((one) => sideOf(one));
  const asked = used.map((one) => `${nameOf(one)}:${sideOf(one)}`).join(",");
  const channels = filled(ROWS[row], has)
    .map((names) => names[0])
    .filter((name) => name !== along)
    .slice(0, 5)
    .join(",");
  const told = useQuery({
    queryKey: ["laid-over", asked, channels, along],
    enabled: asked !== "",
    queryFn: () =>
      take(api.GET("/api/laid-over", { params: { query: { stretches: asked, channels, along } } })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (!pulls.data) return <p className="soft">Looking for pulls.</p>;
  if (!pulls.data.length)
    return (
      <p className="sheet soft">
        No pull was found in this log or in the others beside it. Drive one: pedal down and held while the
        engine runs through its range.
      </p>
    );
  const order = { before: 0, after: 0, "": 0 };
  const dashOf = new Map(used.map((one) => [nameOf(one), DASHES[order[sideOf(one)]++ % DASHES.length]]));
  return (
    <div className="log-look against">
      <div>
        <div className="row" style={{ marginBottom: 6 }}>
          <Segmented
            aria-label="Along"
            value={along}
            onChange={(value) => setAlong(value as Along)}
            options={ALONG}
          />
          <Select
            aria-label="Channels laid over"
            value={row}
            onChange={setRow}
            style={{ width: 160 }}
            options={rows.map((value) => ({ value, label: value }))}
          />
        </div>
        {told.error && <Alert type="warning" showIcon title={told.error.message} />}
        {!asked && <p className="soft">Put a pull on each side, at the right.</p>}
        {asked &&
          told.data?.map((one) => (
            <LaidOver
              key={one.name}
              told={one}
              along={along}
              column={log.columns.find((column) => column.name === one.name)}
              sides={used.map(sideOf)}
              dashes={used.map((stretch) => dashOf.get(nameOf(stretch)))}
            />
          ))}
      </div>
      <section className="rail" aria-label="Pulls">
        <div className="row" style={{ marginBottom: 6 }}>
          <Button onClick={() => setChosen({})}>As offered</Button>
          <Button onClick={() => setChosen(Object.fromEntries(pulls.data.map((one) => [nameOf(one), ""])))}>
            None
          </Button>
        </div>
        {pulls.data.map((one) => {
          const side = sideOf(one);
          return (
            <div className="pull" key={nameOf(one)}>
              <b>
                {one.log} <span className="num">{one.from_s.toFixed(0)} s</span>
              </b>
              {side && <Swatch side={side} dash={dashOf.get(nameOf(one))} />}
              {one.state && <div className="soft">{one.state}</div>}
              <div className="soft">
                {START.filter(([name]) => one.at_start[name] !== undefined).map(([name, label, unit]) => (
                  <span key={name} style={{ marginRight: 8 }}>
                    {label} <Num value={one.at_start[name]} unit={unit} digits={0} />
                  </span>
                ))}
              </div>
              <Radio.Group
                aria-label={`Side of ${one.log}, ${one.from_s.toFixed(0)} s`}
                value={side}
                onChange={(event) => setChosen({ ...chosen, [nameOf(one)]: event.target.value })}
                optionType="button"
                options={SIDES}
              />
            </div>
          );
        })}
      </section>
    </div>
  );
}

const SIDES = [
  { value: "before", label: "before" },
  { value: "after", label: "after" },
  { value: "", label: "out" },
];
const START: [string, string, string][] = [
  ["coolant", "coolant", "°C"],
  ["iat", "intake", "°C"],
  ["gear", "gear", ""],
];

function Swatch({ side, dash }: { side: Side; dash?: number[] }) {
  return (
    <svg className="swatch" viewBox="0 0 40 8" aria-hidden="true">
      <path d="M0 4H40" className={side} strokeDasharray={dash?.join(" ")} />
    </svg>
  );
}
