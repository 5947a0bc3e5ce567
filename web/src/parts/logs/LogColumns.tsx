import { Alert, Button, Checkbox, Input } from "antd";
import { useMemo, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useSession } from "../../api/hooks";
import { ColumnRow, type Said } from "./ColumnRow";
import { LogContext, type Whole } from "./LogContext";

type LogData = Schemas["LogOut"];
const ORDER = ["asked", "guessed", "understood", "ignored"];
const WORDS: Record<string, string> = {
  understood: "understood",
  guessed: "guessed",
  asked: "asked: say what they are",
  ignored: "under their own name",
};

/** What each column of the file is; any can be said by hand, and is remembered for the next log of that source. */
export function LogColumns({ log }: { log: LogData }) {
  const session = useSession().data;
  const client = useQueryClient();
  const asked = log.reads.some((read) => read.status === "asked");
  const [open, setOpen] = useState(asked);
  const [said, setSaid] = useState<Said[]>(log.said.columns ?? []);
  const [whole, setWhole] = useState<Whole>({
    afr_scale: log.said.afr_scale ?? null,
    induction: log.said.induction ?? "",
    stroke: log.said.stroke ?? null,
    altitude_m: log.said.altitude_m ?? null,
    diesel: log.said.diesel ?? false,
  });
  const [name, setName] = useState(log.known_name || log.name.replace(/\.[^.]*$/, ""));
  const [remember, setRemember] = useState(true);
  const [wrong, setWrong] = useState("");
  const [ticket, setTicket] = useState("");
  const choices = useQuery({
    queryKey: ["log-channels"],
    staleTime: Infinity,
    enabled: open,
    queryFn: () => take(api.GET("/api/log-channels")),
  });
  const reads = useMemo(
    () => [...log.reads].sort((a, b) => ORDER.indexOf(a.status) - ORDER.indexOf(b.status)),
    [log.reads],
  );
  if (!log.reads.length || log.source === "captured") return null;
  const viewer = session?.role === "viewer" && !!log.job;
  const counts = ORDER.map(
    (status) => [status, log.reads.filter((read) => read.status === status).length] as const,
  );
  const scaled = log.reads.some((read) => read.unit === "AFR") || said.some((one) => one.unit === "AFR");
  const read = async () => {
    const mine = crypto.randomUUID();
    setTicket(mine);
    setWrong("");
    try {
      const fresh = await take(
        api.PUT("/api/logs/{log_id}/columns", {
          params: { path: { log_id: log.id } },
          body: {
            columns: said,
            ...whole,
            remember: remember && session?.role !== "viewer" ? name : "",
            ticket: mine,
          },
        }),
      );
      client.setQueryData(["log", String(log.id)], fresh);
      await client.invalidateQueries();
    } catch (error) {
      setWrong((error as ApiError).message);
    } finally {
      setTicket("");
    }
  };
  return (
    <div className="sheet columns-card">
      <div className="row">
        <span className="head">Columns</span>
        {counts
          .filter(([, count]) => count > 0)
          .map(([status, count]) => (
            <span key={status}>
              <span className="num">{count}</span> <span className={`read ${status}`}>{WORDS[status]}</span>
            </span>
          ))}
        {log.known_name && (
          <span className="soft">read as “{log.known_name}” was told before: Shelf, Sources</span>
        )}
        <Button style={{ marginLeft: "auto" }} onClick={() => setOpen(!open)} aria-expanded={open}>
          {open ? "Close" : "Say what they are"}
        </Button>
      </div>
      {open && choices.data && (
        <>
          <div className="scroll-x">
            <table className="plain reads">
              <thead>
                <tr>
                  <th>status</th>
                  <th>column</th>
                  <th>sketch</th>
                  <th>first values</th>
                  <th>it is</th>
                </tr>
              </thead>
              <tbody>
                {reads.map((one) => (
                  <ColumnRow
                    key={one.column}
                    read={one}
                    viewer={viewer}
                    choices={choices.data}
                    said={said.find((hint) => hint.column === one.column)}
                    onSay={(hint) =>
                      setSaid([
                        ...said.filter((other) => other.column !== one.column),
                        ...(hint ? [hint] : []),
                      ])
                    }
                  />
                ))}
              </tbody>
            </table>
          </div>
          {!viewer && (
            <>
              <LogContext log={log} whole={whole} scaled={scaled} onSay={setWhole} />
              <div className="row" style={{ marginTop: 10, flexWrap: "wrap" }}>
                <Button type="primary" loading={!!ticket} onClick={() => void read()}>
                  {ticket ? "Reading again" : "Read it so"}
                </Button>
                {ticket && (
                  <Button
                    onClick={() => void api.DELETE("/api/imports/{ticket}", { params: { path: { ticket } } })}
                  >
                    Stop
                  </Button>
                )}
                {session?.role !== "viewer" && (
                  <>
                    <Checkbox checked={remember} onChange={(event) => setRemember(event.target.checked)}>
                      and the next log with these headings, as
                    </Checkbox>
                    <Input
                      aria-label="Name of this source"
                      style={{ width: 220 }}
                      value={name}
                      disabled={!remember}
                      onChange={(event) => setName(event.target.value)}
                    />
                  </>
                )}
              </div>
            </>
          )}
          {wrong && <Alert type="error" title={wrong} style={{ marginTop: 10 }} />}
        </>
      )}
    </div>
  );
}
