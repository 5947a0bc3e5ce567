import { Button, Input, Select } from "antd";
import { useRef, useState } from "react";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Figure, type FigureHandle } from "../figures/Figure";

type Ask = Schemas["AskOut"];
type Given = Schemas["AnswerIn"]["given"];
type Row = Record<string, string>;

export const SOURCES = ["maker's sheet", "measured here", "guessed"] as const;
const BY: Record<string, string> = {
  "maker's sheet": "By the maker's sheet",
  "measured here": "Seen or measured here",
  guessed: "It is a guess",
};

/** One question with its field; the button that keeps it says where the answer comes from. */
export function AskForm({
  number,
  step,
  ask,
  onDone,
}: {
  number: string;
  step: string;
  ask: Ask;
  onDone?: () => void;
}) {
  const [text, setText] = useState("");
  const [upper, setUpper] = useState("");
  const [rows, setRows] = useState<Row[]>([{}]);
  const [wrong, setWrong] = useState<ApiError | null>(null);
  const [differs, setDiffers] = useState(false);
  const figure = useRef<FigureHandle>(null);
  const given: Given = ask.form === "pair" ? [text, upper] : ask.form === "list" ? rows : text;
  const keep = useAct(
    ({ source, value = given }: { source: string; value?: Given }) =>
      take(
        api.PUT("/api/jobs/{number}/steps/{key}/answers", {
          params: { path: { number, key: step } },
          body: {
            of: ask.of,
            key: ask.key,
            field: ask.field,
            given: value,
            unit: figure.current?.unit ?? "",
            source,
            anyway: differs,
          },
        }),
      ).catch((error: ApiError) => {
        setWrong(error);
        setDiffers(error.message.includes("differs"));
        throw error;
      }),
    () => (setWrong(null), onDone?.()),
  );
  const label = `${ask.title} ${ask.name}`;
  const filled =
    ask.form === "list"
      ? rows.some((row) => Object.values(row).some((cell) => cell.trim()))
      : ask.form === "pair"
        ? !!text.trim() && !!upper.trim()
        : !!text.trim();
  return (
    <div className="ask">
      <div className="row">
        {ask.form === "figure" && (
          <Figure
            ref={figure}
            label={ask.title}
            quantity={ask.quantity}
            unit={ask.unit}
            value={text}
            onChange={setText}
          />
        )}
        {ask.form === "pair" && (
          <>
            <Figure
              ref={figure}
              label={`${ask.title} least`}
              quantity={ask.quantity}
              unit={ask.unit}
              value={text}
              onChange={setText}
            />
            <Figure
              label={`${ask.title} most`}
              quantity={ask.quantity}
              unit={ask.unit}
              value={upper}
              onChange={setUpper}
            />
          </>
        )}
        {(ask.form === "yes" || ask.form === "choice") &&
          (ask.form === "yes" ? ["yes", "no"] : ask.choices).map((choice) => (
            <Button
              key={choice}
              size="large"
              type={text === choice ? "primary" : "default"}
              aria-pressed={text === choice}
              aria-label={`${ask.title} ${choice}`}
              onClick={() => setText(choice)}
            >
              {choice}
            </Button>
          ))}
        {ask.form === "text" && (
          <Input
            size="large"
            style={{ maxWidth: 420 }}
            aria-label={label}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </div>
      {ask.form === "table" && (
        <Input.TextArea
          aria-label={label}
          className="num"
          value={text}
          onChange={(event) => setText(event.target.value)}
          autoSize={{ minRows: 4, maxRows: 12 }}
          placeholder={"V \\ kPa\t250\t300\t400\n8\t1.82\t1.90\t2.05\n14\t0.71\t0.74\t0.80"}
        />
      )}
      {ask.form === "list" && <Rows ask={ask} rows={rows} onChange={setRows} />}
      {wrong && (
        <p role="alert" style={{ color: "var(--oxide)", marginTop: 6 }}>
          {wrong.message}
        </p>
      )}
      <div className="row" style={{ marginTop: 8 }}>
        {ask.form === "list" && !filled && (
          <>
            <span className="soft">{ask.none}:</span>
            {SOURCES.slice(0, 2).map((source) => (
              <Button
                key={source}
                size="large"
                loading={keep.isPending}
                onClick={() => keep.mutate({ source, value: [] })}
              >
                {BY[source]}
              </Button>
            ))}
          </>
        )}
        {(ask.form !== "list" || filled) &&
          SOURCES.filter((source) => source !== "guessed" || !ask.protects).map((source) => (
            <Button
              key={source}
              size="large"
              disabled={!filled}
              loading={keep.isPending && keep.variables?.source === source}
              onClick={() => keep.mutate({ source })}
            >
              {differs ? `${BY[source]}, and it stands` : BY[source]}
            </Button>
          ))}
      </div>
    </div>
  );
}

/** A usual list, to begin with and put right. */
function BeginWith({ ask, onChange }: { ask: Ask; onChange: (rows: Row[]) => void }) {
  return (
    <Select
      size="large"
      style={{ width: 340, maxWidth: "100%", marginBottom: 8 }}
      aria-label={`Begin with, ${ask.title}`}
      placeholder="Begin with what is usual on its layout"
      value={null}
      onChange={(name: string | null) =>
        onChange([...(ask.begin.find((one) => one.name === name)?.rows ?? []), {}])
      }
      options={ask.begin.map((one) => ({ value: one.name, label: one.name }))}
    />
  );
}

/** Rows of a list, one more than are filled. */
function Rows({ ask, rows, onChange }: { ask: Ask; rows: Row[]; onChange: (rows: Row[]) => void }) {
  const set = (at: number, name: string, value: string) => {
    const next = rows.map((row, n) => (n === at ? { ...row, [name]: value } : row));
    const last = next[next.length - 1];
    if (Object.values(last).some((cell) => cell.trim())) next.push({});
    onChange(next);
  };
  return (
    <div style={{ overflowX: "auto" }}>
      {ask.begin.length > 0 && <BeginWith ask={ask} onChange={onChange} />}
      <table className="plain">
        <thead>
          <tr>
            {ask.columns.map((column) => (
              <th key={column.name}>
                {column.label}
                {column.unit && column.unit !== "fraction" ? `, ${column.unit}` : ""}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) => (
            <tr key={at}>
              {ask.columns.map((column) => {
                const name = `${ask.title} ${column.label}, line ${at + 1}`;
                return (
                  <td key={column.name}>
                    {column.choices.length > 0 ? (
                      <Select
                        size="large"
                        style={{ width: 120 }}
                        aria-label={name}
                        value={row[column.name] || undefined}
                        onChange={(value) => set(at, column.name, value)}
                        options={column.choices.map((value) => ({ value, label: value }))}
                      />
                    ) : (
                      <Input
                        size="large"
                        aria-label={name}
                        className={column.quantity ? "num" : undefined}
                        style={{ minWidth: column.quantity ? 100 : ask.begin[0] ? 140 : 180 }}
                        value={row[column.name] ?? ""}
                        onChange={(event) => set(at, column.name, event.target.value)}
                      />
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
