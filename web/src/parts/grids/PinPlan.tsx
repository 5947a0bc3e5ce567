import { Button } from "antd";
import { useRef, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { sendFile, type ApiError } from "../../api/client";
import { VerdictGlyph } from "../figures/Glyphs";
import type { Grid, GridProps } from "./gridProps";
import { PinLine, type Pin } from "./PinLine";

const BLANK: Pin = {
  connector: "",
  number: "",
  colour: "",
  function: "",
  action: "keep",
  to: "",
  insulated: false,
  damaged: "",
  label: "",
};
/** Every pin: keep, pull, move, join or insulate; CSV in and out; labels to print. */
export function PinPlan({ grid, number, step, viewer, busy, enter, brought }: GridProps) {
  const client = useQueryClient();
  const needs = (grid.about as { needs?: string[] }).needs ?? [];
  const [rows, setRows] = useState<Pin[]>(
    (grid.data.rows as Pin[])?.map((row) => ({ ...BLANK, ...row })) ??
      needs.map((need) => ({ ...BLANK, function: need })),
  );
  const [wrong, setWrong] = useState("");
  const chooser = useRef<HTMLInputElement>(null);
  const set = (n: number, change: Partial<Pin>) =>
    setRows(rows.map((row, m) => (m === n ? { ...row, ...change } : row)));
  const bring = async (file?: File) => {
    if (!file) return;
    setWrong("");
    try {
      const got = await sendFile<Grid>(
        `/api/jobs/${number}/steps/${step}/pin-plan?name=${encodeURIComponent(file.name)}`,
        file,
        () => undefined,
      ).done;
      brought(got);
      void client.invalidateQueries();
    } catch (error) {
      setWrong((error as ApiError).message);
    }
  };
  const faults = grid.calls.filter((call) => call.verdict !== "go");
  return (
    <>
      <p className="soft" style={{ marginBottom: 6 }}>
        The device needs: {needs.join(", ")}.
      </p>
      <div style={{ overflowX: "auto" }}>
        <table className="plain grid">
          <thead>
            <tr>
              <th>connector</th>
              <th>pin</th>
              <th>colour</th>
              <th>function</th>
              <th>action</th>
              <th>to</th>
              <th>covered</th>
              <th>damage</th>
              <th>label</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {rows.map((row, n) => (
              <PinLine
                key={n}
                row={row}
                n={n}
                viewer={viewer}
                onChange={(change) => set(n, change)}
                onDelete={() => setRows(rows.filter((_, m) => m !== n))}
              />
            ))}
          </tbody>
        </table>
      </div>
      {faults.map((call) => (
        <p key={call.title} className={`call ${call.verdict}`} style={{ marginTop: 6 }}>
          <span className="word">
            <VerdictGlyph verdict={call.verdict} />
            {call.verdict.toUpperCase()}
          </span>{" "}
          <b>{call.title}.</b> {call.do_next}
        </p>
      ))}
      <div className="row" style={{ marginTop: 10 }}>
        {!viewer && (
          <Button
            type="primary"
            loading={busy}
            onClick={() => enter({ rows: rows.filter((row) => row.connector || row.number || row.function) })}
          >
            Judge the plan
          </Button>
        )}
        {!viewer && <Button onClick={() => setRows([...rows, BLANK])}>Another pin</Button>}
        {!viewer && <Button onClick={() => chooser.current?.click()}>Bring a CSV</Button>}
        <Button href={`/api/jobs/${number}/steps/${step}/pin-plan`} download>
          Take as CSV
        </Button>
        <Button onClick={() => window.open(`/jobs/${number}/labels/${step}`, "_blank")}>
          Labels to print
        </Button>
      </div>
      {wrong && (
        <p role="alert" style={{ color: "var(--oxide)", marginTop: 6 }}>
          {wrong}
        </p>
      )}
      <input
        ref={chooser}
        hidden
        type="file"
        accept=".csv,text/csv"
        aria-label="Pin plan CSV"
        onChange={(e) => (void bring(e.target.files?.[0]), (e.target.value = ""))}
      />
    </>
  );
}
