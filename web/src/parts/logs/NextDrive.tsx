import { useQuery } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { Num } from "../figures/Num";

type Drive = Schemas["DriveOut"];

/** What is still to be driven, in the driver's words; what there is enough of is a line. */
export function Drives({ drives, live }: { drives: Drive[]; live?: boolean }) {
  const enough = drives.filter((one) => one.enough);
  return (
    <>
      {drives
        .filter((one) => !one.enough)
        .map((one) => (
          <li key={one.key}>
            <b>{one.do}</b>
            <div className="soft">
              <Num value={one.have} digits={0} /> of <Num value={one.want} unit={one.unit} digits={0} /> ·{" "}
              {one.where}
            </div>
            {!live && <div className="soft">For {one.why}.</div>}
          </li>
        ))}
      {enough.length > 0 && (
        <li className="enough">Enough here: {enough.map((one) => NAMES[one.key] ?? one.key).join(", ")}.</li>
      )}
    </>
  );
}

/** What a log lacks: drives, channels to log besides, and cells of the table that it would correct. */
export function NextDrive({ log }: { log: Schemas["LogOut"] }) {
  const told = useQuery({
    queryKey: ["next-drive", log.id, log.map, log.findings.length],
    queryFn: () => take(api.GET("/api/logs/{log_id}/next-drive", { params: { path: { log_id: log.id } } })),
  });
  if (!told.data) return null;
  const { stopped, caution, drives, channels, table, sweeps } = told.data;
  if (stopped)
    return (
      <section className="sheet drive-next" aria-label="Drive next">
        <b>Drive next: nothing yet</b>
        <p className="caution">{stopped}</p>
      </section>
    );
  const lacks = drives.some((one) => !one.enough) || sweeps.length > 0;
  return (
    <details className="sheet drive-next" open={lacks}>
      <summary>
        <b>{lacks ? "Drive next" : "Nothing more to drive for this"}</b>
      </summary>
      {lacks && <p className="caution">{caution}</p>}
      <ul>
        <Drives drives={drives} />
        {sweeps.length > 0 && <li className="soft">Cells of “{table}” that were driven past:</li>}
        {sweeps.map((one) => (
          <li key={one.do}>
            <b>{one.do}</b>
            <div className="soft">{one.where}</div>
          </li>
        ))}
        {channels.length > 0 && (
          <li>
            Log also, if it has them:{" "}
            {channels.map((one, n) => (
              <span key={one.label}>
                {n > 0 && "; "}
                <b>{one.label.toLowerCase()}</b> <span className="soft">({one.waits.join(", ")})</span>
              </span>
            ))}
            .
          </li>
        )}
      </ul>
    </details>
  );
}

const NAMES: Record<string, string> = {
  key_on: "key on",
  idle: "idle",
  cruise: "steady speed",
  pull: "pulls",
  overrun: "running down to idle",
};
