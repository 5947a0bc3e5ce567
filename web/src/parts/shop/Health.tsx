import { Alert, Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Num } from "../figures/Num";
import { when } from "../figures/when";

/** How well the record is kept: its size, its own check, the last backup, the room that is left. */
export function Health({ lead }: { lead: boolean }) {
  const client = useQueryClient();
  const health = useQuery({ queryKey: ["health"], queryFn: () => take(api.GET("/api/health")) });
  const make = useAct(
    () => take(api.POST("/api/backups")),
    (got) => client.setQueryData(["health"], got),
  );
  const now = health.data;
  if (!now) return null;
  const rows: [string, React.ReactNode][] = [
    ["The database's own check", now.integrity],
    ["Database", <Num key="d" value={now.size_mb} unit="MB" digits={1} />],
    [
      "Photos, logs, maps",
      <span key="f">
        <Num value={now.files} unit="files" digits={0} />, <Num value={now.files_mb} unit="MB" digits={1} />
      </span>,
    ],
    ["Files that belong to nothing", String(now.orphans)],
    ["Files that a record names and that are gone", String(now.missing)],
    ["Set aside at a start", `${now.set_aside}, kept ${now.set_aside_days} days`],
    ["Free on this disk", <Num key="r" value={now.free_mb / 1000} unit="GB" digits={1} />],
    ["Last backup", now.last_backup ? `${when(now.last_backup)}, ${now.backups} kept` : "none yet"],
  ];
  return (
    <>
      <div className="title">
        <h1>How well it is kept</h1>
        <span className="soft">
          a backup a day while the server runs, kept two weeks, each proven by reading it back
        </span>
      </div>
      {!now.fresh && (
        <Alert
          type="warning"
          style={{ marginBottom: 10 }}
          title={
            now.last_backup ? "The last backup is older than a day." : "There is no backup of this shop yet."
          }
        />
      )}
      <div className="sheet" style={{ maxWidth: 640 }}>
        <table className="plain">
          <tbody>
            {rows.map(([label, value]) => (
              <tr key={label}>
                <td>{label}</td>
                <td className="num">{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {lead && (
          <Button
            type="primary"
            style={{ marginTop: 12 }}
            loading={make.isPending || now.making}
            onClick={() => make.mutate(undefined)}
          >
            Back up now
          </Button>
        )}
      </div>
    </>
  );
}
