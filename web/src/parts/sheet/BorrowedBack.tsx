import { App, Button, Input, Select } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError } from "../../api/client";
import { useSheet } from "./useSheet";

/** Corrected here with a log, then back into its own program: copied in its shape, or typed from a card. */
export function BorrowedBack({ number, part, viewer }: { number: string; part: string; viewer: boolean }) {
  const { sheet, put } = useSheet(number, part);
  const { message } = App.useApp();
  const [name, setName] = useState<string | null>(null);
  const [log, setLog] = useState<number | null>(null);
  const [target, setTarget] = useState("");
  const tables = sheet.data?.tables ?? [];
  const table = tables.find((one) => one.name === name)?.name ?? tables[0]?.name;
  const query = { table: table ?? "" };
  const path = { number, part };
  const revision = sheet.data?.revision;
  const logs = useQuery({
    queryKey: ["sheet-logs", number, part],
    queryFn: () => take(api.GET("/api/jobs/{number}/sheets/{part}/logs", { params: { path } })),
  });
  const card = useQuery({
    queryKey: ["borrowed-card", number, part, table, revision],
    enabled: table !== undefined,
    queryFn: () => take(api.GET("/api/jobs/{number}/borrowed/{part}/card", { params: { path, query } })),
    placeholderData: (before) => before,
  });
  const text = useQuery({
    queryKey: ["borrowed-text", number, part, table, revision],
    enabled: table !== undefined,
    queryFn: () => take(api.GET("/api/jobs/{number}/borrowed/{part}/text", { params: { path, query } })),
  });
  if (!table) return null;
  const correct = () =>
    take(
      api.POST("/api/jobs/{number}/sheets/{part}/from-log", {
        params: { path },
        body: { table, log_id: log, target },
      }),
    )
      .then(put)
      .catch((error: ApiError) => void message.error(error.message, 7));
  const copy = () =>
    void navigator.clipboard
      .writeText(text.data?.text ?? "")
      .then(() => message.success("Copied, in the shape it came in. Paste it there."))
      .catch(() => message.error("This browser gives no clipboard: mark the text below and copy it."));
  return (
    <div className="sheet">
      <span className="head">Correct it, and back into its own program</span>
      <div className="row" style={{ margin: "8px 0", alignItems: "flex-end" }}>
        {tables.length > 1 && (
          <Select
            value={table}
            onChange={setName}
            aria-label="Which table"
            style={{ minWidth: 220 }}
            options={tables.map((one) => ({ value: one.name, label: one.title }))}
          />
        )}
        {!viewer && (
          <>
            <Select
              value={log}
              onChange={setLog}
              aria-label="Log"
              style={{ minWidth: 220 }}
              options={[
                { value: null, label: logs.data?.length ? "newest log" : "no log yet: bring one in Log" },
                ...(logs.data ?? []).map((one) => ({ value: one.id, label: one.name })),
              ]}
            />
            <label className="stacked">
              Mixture wanted, where not logged
              <Input
                value={target}
                onChange={(event) => setTarget(event.target.value)}
                suffix="lambda"
                style={{ width: 180 }}
                inputMode="decimal"
              />
            </label>
            <Button type="primary" disabled={!logs.data?.length} onClick={() => void correct()}>
              Correct from the log
            </Button>
          </>
        )}
        <Button onClick={copy} disabled={!text.data}>
          Copy it back
        </Button>
        <Button onClick={() => window.print()}>Print the card</Button>
      </div>
      <textarea
        className="as-text"
        readOnly
        value={text.data?.text ?? ""}
        rows={4}
        aria-label="The table as text"
      />
      <div className="print-card">
        <b>
          {card.data?.length
            ? `Type by hand, cell by cell: ${card.data.length} ${card.data.length === 1 ? "cell" : "cells"}`
            : "Nothing differs from what was pasted."}
        </b>
        {(card.data?.length ?? 0) > 0 && (
          <table className="plain">
            <thead>
              <tr>
                <th>cell</th>
                <th>was</th>
                <th>type</th>
              </tr>
            </thead>
            <tbody>
              {card.data!.map((line) => (
                <tr key={line.where}>
                  <td className="num">{line.where}</td>
                  <td className="num">{line.old}</td>
                  <td className="num">
                    <b>{line.new}</b>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </div>
  );
}
