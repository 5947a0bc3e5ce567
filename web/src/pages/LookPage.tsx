import { Alert, Spin } from "antd";
import { useEffect } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "react-router";
import { api, take } from "../api/client";
import { DropLog } from "../parts/logs/DropLog";
import { LogView } from "../parts/logs/LogView";
import { when } from "../parts/figures/when";

/** Any log without a job. */
export default function LookPage() {
  const { id } = useParams();
  const go = useNavigate();
  const logs = useQuery({ queryKey: ["logs"], queryFn: () => take(api.GET("/api/logs")) });
  const log = useQuery({
    meta: { shown: true },
    queryKey: ["log", id],
    enabled: !!id,
    queryFn: () => take(api.GET("/api/logs/{log_id}", { params: { path: { log_id: Number(id) } } })),
  });
  useEffect(() => {
    document.title = `${log.data ? log.data.name : "Look at a log"} · Vent Map`;
  }, [log.data]);
  return (
    <main className="floor" id="work">
      {!id && (
        <div className="title">
          <h1>Look at a log</h1>
          <span className="soft">
            read and judged without a job; yours alone, for 30 days unless you keep it
          </span>
        </div>
      )}
      {id && log.isPending && <Spin />}
      {log.error && <Alert type="error" title={log.error.message} />}
      {log.data && id && (
        <>
          <LogView key={log.data.id} log={log.data} />
          <div style={{ height: 16 }} />
        </>
      )}
      <DropLog
        onRead={(read) => void go(`/look/${read.id}`)}
        hint={
          id
            ? "Another log"
            : "Drop a datalog here: text of any kind, a workbook, Parquet, MDF 4, or a CAN trace"
        }
      />
      {!id && (logs.data?.length ?? 0) > 0 && (
        <div className="sheet" style={{ marginTop: 14 }}>
          <span className="head">Looked at before</span>
          <table className="plain">
            <tbody>
              {logs.data!.map((row) => (
                <tr key={row.id}>
                  <td>
                    <Link to={`/look/${row.id}`}>{row.name}</Link>
                  </td>
                  <td className="num r">{row.rows} rows</td>
                  <td className="num r">{row.duration_s.toFixed(0)} s</td>
                  <td>{when(row.at)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </main>
  );
}
