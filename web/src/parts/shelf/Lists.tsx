import { Alert, Button, Segmented } from "antd";
import { useRef, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, sendFile, take, type ApiError, type Schemas } from "../../api/client";
import { DryRun } from "./DryRun";
import { ListColumns, type Columns } from "./ListColumns";

type Read = Schemas["ListReadOut"];

const address = (key: string, what: string, file: File, columns?: Columns) =>
  `/api/lists/${key}/${what}?${new URLSearchParams({
    name: file.name.slice(0, 80),
    ...(columns ? { columns: JSON.stringify(columns) } : {}),
  })}`;
const send = <T,>(to: string, file: File) => sendFile<T>(to, file, () => undefined).done;

/** Customers, their vehicles, parts and injectors from a file: columns assigned, a dry run, then kept; and out again. */
export function Lists({ viewer }: { viewer: boolean }) {
  const lists = useQuery({ queryKey: ["lists"], queryFn: () => take(api.GET("/api/lists")) });
  const client = useQueryClient();
  const [key, setKey] = useState("customers");
  const [file, setFile] = useState<File | null>(null);
  const [read, setRead] = useState<Read | null>(null);
  const [columns, setColumns] = useState<Columns>({});
  const [dry, setDry] = useState<Schemas["ListDryOut"] | null>(null);
  const [kept, setKept] = useState(false);
  const [wrong, setWrong] = useState("");
  const chooser = useRef<HTMLInputElement>(null);
  const kind = lists.data?.find((one) => one.key === key);
  const clear = () => (setFile(null), setRead(null), setDry(null), setKept(false), setWrong(""));
  const go = async (action: () => Promise<void>) => {
    setWrong("");
    try {
      await action();
    } catch (error) {
      setWrong((error as ApiError).message);
    }
  };
  const chosen = (given: File) =>
    go(async () => {
      clear();
      const answer = await send<Read>(address(key, "columns", given), given);
      setFile(given);
      setRead(answer);
      setColumns(Object.fromEntries(answer.columns.map((c) => [c.heading, [c.field, c.unit]])));
    });
  const run = (what: "dry-run" | "rows") =>
    go(async () => {
      if (!file) return;
      setDry(await send<Schemas["ListDryOut"]>(address(key, what, file, columns), file));
      setKept(what === "rows");
      if (what === "rows") void client.invalidateQueries();
    });
  return (
    <>
      <div className="title">
        <h1>Bring what you have</h1>
        <span className="soft">from CSV or a workbook, with a dry run first; out again the same way</span>
        <div className="end">
          <Button href={`/api/lists/${key}/file?form=csv`} download>
            Take as CSV
          </Button>
          <Button href={`/api/lists/${key}/file?form=xlsx`} download>
            Take as workbook
          </Button>
        </div>
      </div>
      <Segmented
        size="large"
        style={{ marginBottom: 12 }}
        value={key}
        onChange={(value) => (setKey(value), clear())}
        options={lists.data?.map((one) => ({ value: one.key, label: one.title })) ?? []}
      />
      {!viewer && (
        <div className="sheet">
          <input
            ref={chooser}
            hidden
            type="file"
            accept=".csv,.txt,.tsv,.xlsx"
            aria-label="List file"
            onChange={(event) => {
              const given = event.target.files?.[0];
              if (given) void chosen(given);
              event.target.value = "";
            }}
          />
          <div className="row">
            <Button type={read ? "default" : "primary"} size="large" onClick={() => chooser.current?.click()}>
              {read ? "Another file" : "Choose a file"}
            </Button>
            <span className="soft">
              {file && read
                ? `${file.name}: ${read.rows} rows${read.remembered ? ", columns as you assigned them last" : ""}`
                : "Its first row names the columns. Nothing is kept before you have seen the dry run."}
            </span>
          </div>
        </div>
      )}
      {wrong && <Alert type="error" title={wrong} style={{ marginBottom: 10 }} />}
      {read && kind && (
        <ListColumns
          read={read}
          kind={kind}
          columns={columns}
          onChange={(next) => (setColumns(next), setDry(null))}
          onTry={() => void run("dry-run")}
        />
      )}
      {dry && <DryRun dry={dry} kept={kept} onKeep={() => void run("rows")} />}
    </>
  );
}
