import { Alert, Button, Checkbox, Progress } from "antd";
import { useRef, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, sendFile, take, type ApiError, type Schemas } from "../../api/client";
import { useSession } from "../../api/hooks";

const PHASES: Record<string, string> = {
  waiting: "Waiting for another file",
  reading: "Reading",
  judging: "Judging",
  keeping: "Keeping",
};

/** A place to drop a log: progress, a way to stop, and a clear sentence when it cannot be read. */
export function DropLog({
  job = "",
  baseline = false,
  onRead,
  hint,
}: {
  job?: string;
  baseline?: boolean;
  onRead: (log: Schemas["LogOut"]) => void;
  hint: string;
}) {
  const largest = useSession().data?.largest_upload ?? Infinity;
  const [drum, setDrum] = useState(false);
  const [over, setOver] = useState(false);
  const [share, setShare] = useState<number | null>(null);
  const [wrong, setWrong] = useState("");
  const [ticket, setTicket] = useState("");
  const running = useRef<(() => void) | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const [trace, setTrace] = useState<File | null>(null);
  const dbc = useRef<HTMLInputElement>(null);
  /** A DBC file is kept on the shelf as a source; then the trace is read by it. */
  const nameTrace = async (names: File | undefined) => {
    if (!names || !trace) return;
    const stem = names.name.replace(/\.[^.]*$/, "");
    const key = `dbc-${stem.toLowerCase().replace(/[^a-z0-9]+/g, "-")}`.slice(0, 50).replace(/-+$/, "");
    const item = [{ kind: "source", key, name: `${stem} (DBC)`, body: { dbc: await names.text() } }];
    const file = new File([JSON.stringify(item)], "source.json", { type: "application/json" });
    try {
      await sendFile("/api/shelf-files/current", file, () => undefined).done;
      await read(trace);
    } catch (error) {
      setWrong(`${names.name}: ${(error as ApiError).message}`);
    }
  };
  const read = async (file: File | undefined) => {
    if (!file) return;
    setWrong("");
    setTrace(null);
    if (file.size > largest) {
      setWrong(
        `${file.name} has ${Math.round(file.size / 1e6)} MB; up to ${Math.round(largest / 1e6)} MB are read. Split the log and drop the parts.`,
      );
      return;
    }
    setShare(0);
    const ticket = crypto.randomUUID();
    setTicket(ticket);
    const sending = sendFile<Schemas["LogOut"]>(
      `/api/logs?name=${encodeURIComponent(file.name)}&job=${job}&baseline=${baseline}&on_drum=${drum}&ticket=${ticket}`,
      file,
      setShare,
    );
    running.current = sending.stop;
    try {
      onRead(await sending.done);
    } catch (error) {
      setWrong(`${file.name}: ${(error as ApiError).message}`);
      if ((error as ApiError).field === "dbc") setTrace(file);
    } finally {
      setShare(null);
      setTicket("");
    }
  };
  // Once it is sent the server reads it: how far it is, and its end, are asked of it.
  const reading = useQuery({
    queryKey: ["import", ticket],
    enabled: share === 1 && !!ticket,
    retry: false,
    refetchInterval: 1000,
    queryFn: () => take(api.GET("/api/imports/{ticket}", { params: { path: { ticket } } })).catch(() => null),
  });
  const stop = () =>
    share === 1
      ? void api.DELETE("/api/imports/{ticket}", { params: { path: { ticket } } })
      : running.current?.();
  return (
    <div
      className={`drop ${over ? "over" : ""}`}
      onDragOver={(event) => (event.preventDefault(), setOver(true))}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => (event.preventDefault(), setOver(false), void read(event.dataTransfer.files[0]))}
    >
      {share === null ? (
        <div className="row" style={{ justifyContent: "center" }}>
          <span>{hint}</span>
          <Button onClick={() => chooser.current?.click()}>Choose a file</Button>
          {job && !baseline && (
            <Checkbox checked={drum} onChange={(event) => setDrum(event.target.checked)}>
              made on a drum
            </Checkbox>
          )}
        </div>
      ) : (
        <div className="row" style={{ justifyContent: "center" }}>
          <span>{share < 1 ? "Sending" : (PHASES[reading.data?.phase ?? ""] ?? "Reading and judging")}</span>
          <Progress percent={Math.round(100 * share)} style={{ width: 280 }} status="active" />
          <Button onClick={stop}>Stop</Button>
        </div>
      )}
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label="Log file"
        onChange={(event) => (void read(event.target.files?.[0]), (event.target.value = ""))}
      />
      <input
        ref={dbc}
        type="file"
        hidden
        accept=".dbc"
        aria-label="DBC file"
        onChange={(event) => (void nameTrace(event.target.files?.[0]), (event.target.value = ""))}
      />
      {wrong && (
        <Alert
          type={trace ? "warning" : "error"}
          title={wrong}
          style={{ marginTop: 12, textAlign: "left" }}
          action={
            trace && (
              <Button type="primary" onClick={() => dbc.current?.click()}>
                Choose the DBC file
              </Button>
            )
          }
        />
      )}
    </div>
  );
}
