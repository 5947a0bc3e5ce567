import { Alert, Button, Input, Select, Switch } from "antd";
import { useState } from "react";
import { api, ApiError, take, type Schemas } from "../api/client";
import { useAct } from "../api/hooks";
import { Figure } from "./Figure";
import { plain as figureText, useConvert, useMoney, useQuantity } from "./Num";

export interface Schema {
  title?: string;
  type?: string;
  enum?: (string | number)[];
  items?: Schema;
  required?: string[];
  properties: Record<string, Part>;
}
type Part = Schema & { "x-unit"?: string };
type Item = Schemas["ShelfItemOut"];

/** One thing on the shelf, by the fields of its published schema. Plain fields first; lists and tables as JSON. */
export function ShelfEditor({ item, schema, viewer, onClose }: { item: Item; schema: Schema; viewer: boolean; onClose: () => void }) {
  const inMoney = useMoney();
  const [key, setKey] = useState(item.key);
  const [name, setName] = useState(item.name);
  const convert = useConvert();
  const quantity = useQuantity();
  const measures = (part: Part) => (part.type === "number" ? quantity(part["x-unit"]) : "");
  // Only what was touched is read again: what stands on the shelf does not drift by its unit.
  const [typed, setTyped] = useState<Record<string, string>>({});
  const textOf = (field: string, part: Part) => typed[field] ?? (measures(part) && typeof item.body[field] === "number" ? figureText(convert(item.body[field], part["x-unit"]!)[0]).replace("\u202f", "") : asText(item.body[field], part));
  const type = (field: string, text: string) => setTyped({ ...typed, [field]: text });
  const [wrong, setWrong] = useState<{ message: string; field: string | null } | null>(null);
  const fail = (error: ApiError): never => {
    setWrong({ message: error.message, field: error.field });
    throw error;
  };
  const save = useAct(async () => {
    const body: Record<string, unknown> = {};
    for (const [field, part] of Object.entries(schema.properties)) {
      const text = typed[field];
      if (text === undefined) {
        if (item.body[field] !== undefined) body[field] = item.body[field];
      } else if (text.trim() && measures(part)) {
        const read = await take(api.POST("/api/figures", { body: { text, quantity: measures(part), unit: convert(0, part["x-unit"]!)[1] } })).catch((error: ApiError) => fail(new ApiError(`${part.title ?? field}: ${error.message}`, field, error.status)));
        body[field] = read.value;
      } else if (text.trim()) {
        try {
          body[field] = asValue(text, part);
        } catch {
          fail(new ApiError(`${part.title ?? field}: this is no ${part.type === "number" || part.type === "integer" ? "number" : "JSON list or table"}.`, field, 0));
        }
      }
    }
    return take(api.PUT("/api/shelf-items", { body: { kind: item.kind, key, name, body } })).catch(fail);
  }, onClose);
  const remove = useAct(() => take(api.DELETE("/api/shelf-items/{kind}/{key}", { params: { path: { kind: item.kind, key: item.key } } })).catch(fail), onClose);
  const fields = Object.entries(schema.properties);
  const plain = fields.filter(([, part]) => !isDeep(part));
  const deep = fields.filter(([, part]) => isDeep(part));
  return (
    <section className="sheet" aria-label={item.key ? `Edit ${item.name}` : `Add a ${item.kind}`}>
      <h2>{item.key ? item.name : `A new ${item.kind}`}</h2>
      <div className="cols" style={{ marginTop: 8, gridTemplateColumns: "repeat(auto-fill, minmax(230px, 1fr))" }}>
        <label><span className="soft">name</span><Input disabled={viewer} value={name} onChange={(event) => setName(event.target.value)} aria-label="name" /></label>
        <label><span className="soft">key: small letters, digits, hyphens</span><Input className="num" disabled={viewer || !!item.key} value={key} onChange={(event) => setKey(event.target.value)} aria-label="key" /></label>
        {plain.map(([field, part]) => measures(part) ? (
          <Figure key={field} wide disabled={viewer} label={part.title ?? field} quantity={measures(part)} unit={part["x-unit"]!} value={textOf(field, part)} onChange={(text) => type(field, text)} hint={schema.required?.includes(field) ? "needed" : "\u00a0"} wrong={wrong?.field === field ? wrong.message : ""} />
        ) : (
          <label key={field}>
            <span className="soft">{part.title ?? field}{part["x-unit"] && <span className="num"> {inMoney(part["x-unit"])}</span>}{schema.required?.includes(field) && " · needed"}</span>
            {part.type === "boolean" ? <div><Switch disabled={viewer} checked={textOf(field, part) === "true"} aria-label={part.title ?? field} onChange={(on) => type(field, on ? "true" : "")} /></div>
              : part.enum ? <Select disabled={viewer} allowClear style={{ width: "100%" }} value={textOf(field, part) || undefined} aria-label={part.title ?? field} onChange={(value) => type(field, value === undefined ? "" : String(value))} options={part.enum.map((value) => ({ value: String(value), label: String(value) }))} />
              : <Input disabled={viewer} className={part.type === "string" || part.type === "array" ? "" : "num"} status={wrong?.field === field ? "error" : undefined} value={textOf(field, part)} aria-label={part.title ?? field} placeholder={part.type === "array" ? "one; another" : undefined} onChange={(event) => type(field, event.target.value)} />}
          </label>
        ))}
      </div>
      {deep.length > 0 && (
        <details style={{ marginTop: 10 }} open={!!wrong?.field && deep.some(([field]) => field === wrong.field)}>
          <summary style={{ cursor: "pointer", minHeight: 40, padding: "8px 0" }}>Lists and tables, as JSON ({deep.filter(([field, part]) => textOf(field, part)).length} filled)</summary>
          <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fill, minmax(300px, 1fr))" }}>
            {deep.map(([field, part]) => <label key={field}><span className="soft">{part.title ?? field}</span><Input.TextArea disabled={viewer} className="num" autoSize={{ minRows: 2, maxRows: 9 }} status={wrong?.field === field ? "error" : undefined} value={textOf(field, part)} aria-label={part.title ?? field} onChange={(event) => type(field, event.target.value)} /></label>)}
          </div>
        </details>
      )}
      {wrong && <Alert type="error" title={wrong.message} style={{ marginTop: 8 }} />}
      <div className="row" style={{ marginTop: 10 }}>
        {!viewer && <Button type="primary" loading={save.isPending} onClick={() => save.mutate(undefined)}>Save</Button>}
        <Button onClick={onClose}>Close</Button>
        {!viewer && item.key && <Button danger style={{ marginLeft: "auto" }} loading={remove.isPending} onClick={() => remove.mutate(undefined)}>Take off the shelf</Button>}
      </div>
    </section>
  );
}

const isTexts = (part: Schema) => part.type === "array" && part.items?.type === "string" && !part.items.enum;
const isDeep = (part: Schema) => part.type === "object" || (part.type === "array" && !isTexts(part));

function asText(value: unknown, part: Schema): string {
  if (value === undefined || value === null) return "";
  if (isTexts(part)) return (value as string[]).join("; ");
  if (isDeep(part)) return JSON.stringify(value, null, 1);
  return String(value);
}

function asValue(text: string, part: Schema): unknown {
  if (isTexts(part)) return text.split(";").map((item) => item.trim()).filter(Boolean);
  if (isDeep(part)) return JSON.parse(text);
  if (part.type === "boolean") return text === "true";
  if (part.type === "number" || part.type === "integer") {
    const value = Number(text.replace(",", "."));
    if (Number.isNaN(value)) throw new Error("no number");
    return value;
  }
  return text.trim();
}
