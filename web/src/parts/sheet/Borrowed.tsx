import { Alert, Button, Input, Select, Segmented } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../figures/said";

const { TextArea } = Input;
type Turn = "guess" | "across" | "down";

/** A table of another program: pasted with its axes, said once what it is, taken into the sheet. */
export function Borrowed({ number, part, onTaken }: { number: string; part: string; onTaken: () => void }) {
  const path = { number, part };
  const [text, setText] = useState("");
  const [kind, setKind] = useState("ve");
  const [name, setName] = useState("");
  const [turn, setTurn] = useState<Turn>("guess");
  const [told, setTold] = useState<Record<string, string>>({});
  const [factors, setFactors] = useState({ value: "", column: "", row: "" });
  const kinds = useQuery({
    queryKey: ["borrowed-kinds"],
    queryFn: () => take(api.GET("/api/borrowed-tables")),
    staleTime: Infinity,
  });
  const body = { text, kind, name, about: told, turned: turn === "guess" ? null : turn === "down", factors };
  const read = useQuery({
    meta: { shown: true },
    queryKey: ["read-pasted", number, part, body],
    enabled: said(text),
    retry: false,
    queryFn: () => take(api.POST("/api/jobs/{number}/borrowed/{part}/read", { params: { path }, body })),
    placeholderData: (before) => before,
  });
  const bring = useAct(
    () => take(api.POST("/api/jobs/{number}/borrowed/{part}", { params: { path }, body })),
    () => (setText(""), setTold({}), onTaken()),
  );
  const about = kinds.data?.find((one) => one.name === kind);
  const found = read.error ? null : read.data;
  return (
    <div className="sheet">
      <span className="head">A table that lives in another program</span>
      <p className="soft">
        Copy it there with its axes and paste it here: any orientation, unit or decimal mark. It is worked on
        here and copied back in the same shape.
      </p>
      <div className="row" style={{ alignItems: "flex-end", margin: "8px 0" }}>
        <label className="stacked">
          What it is
          <Select
            showSearch
            optionFilterProp="label"
            popupMatchSelectWidth={440}
            value={kind}
            onChange={setKind}
            style={{ width: 300 }}
            options={kinds.data?.map((one) => ({
              value: one.name,
              label: one.asks.length
                ? `${one.text}: anything else`
                : `${one.text} [${one.unit}] by ${one.y_text || one.x_text}`,
            }))}
          />
        </label>
        <label className="stacked" style={{ flex: "1 1 220px" }}>
          What it is called there
          <Input value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <Segmented
          value={turn}
          onChange={setTurn}
          aria-label="How it stands"
          options={[
            { value: "guess", label: "by its axes" },
            { value: "across", label: `${about?.x_unit || told.x_unit || "columns"} across` },
            { value: "down", label: `${about?.x_unit || told.x_unit || "columns"} down` },
          ]}
        />
      </div>
      {about && about.asks.length > 0 && (
        <div className="row" style={{ alignItems: "flex-end", margin: "8px 0" }}>
          {about.asks.map((column) => (
            <label className="stacked" key={column.key} style={{ flex: "0 1 190px" }}>
              {column.text}
              {column.choices.length ? (
                <Select
                  value={told[column.key]}
                  onChange={(value) => setTold({ ...told, [column.key]: value })}
                  options={column.choices.map((value) => ({ value, label: value }))}
                />
              ) : (
                <Input
                  value={told[column.key] ?? ""}
                  onChange={(event) => setTold({ ...told, [column.key]: event.target.value })}
                  inputMode={column.form === "number" ? "decimal" : undefined}
                />
              )}
            </label>
          ))}
        </div>
      )}
      <TextArea
        value={text}
        onChange={(event) => setText(event.target.value)}
        rows={8}
        aria-label="The table, pasted"
        style={{ fontFamily: "IBM Plex Mono", fontSize: 13 }}
      />
      <div className="row" style={{ margin: "8px 0", alignItems: "flex-end" }}>
        {(["value", "column", "row"] as const).map((one) => {
          const known = one === "value" ? about?.unit : one === "column" ? about?.x_unit : about?.y_unit;
          const own = one === "value" ? told.unit : one === "column" ? told.x_unit : told.y_unit;
          const unit = known || own || "of ours";
          return (
            <label key={one} className="stacked">
              Its {one} for 1 {unit}
              <Input
                value={factors[one]}
                placeholder="1"
                onChange={(event) => setFactors({ ...factors, [one]: event.target.value })}
                style={{ width: 150 }}
                inputMode="decimal"
              />
            </label>
          );
        })}
        <Button
          type="primary"
          size="large"
          disabled={!found}
          loading={bring.isPending}
          onClick={() => bring.mutate(undefined)}
        >
          Take it into the sheet
        </Button>
      </div>
      {read.error && said(text) && <Alert type="warning" title={(read.error as ApiError).message} />}
      {found && !read.error && (
        <p>
          Read as {found.y.length} × {found.x.length}: {told.x_text || about?.x_text} {found.x[0]} to{" "}
          {found.x.at(-1)} {about?.x_unit || told.x_unit}
          {found.y.length > 1 &&
            `, ${told.y_text || about?.y_text} ${found.y[0]} to ${found.y.at(-1)} ${about?.y_unit || told.y_unit || ""}`}
          ; {told.x_text || "speed"} runs {found.turned ? "down" : "across"}, decimal mark “{found.decimal}”,{" "}
          {found.digits} digits.
        </p>
      )}
    </div>
  );
}
