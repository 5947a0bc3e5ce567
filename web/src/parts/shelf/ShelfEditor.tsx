import { Alert, Button } from "antd";
import { useState } from "react";
import { api, ApiError, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Figure } from "../figures/Figure";
import { plain as figureText, useConvert, useQuantity } from "../figures/Num";
import { DeepFields } from "./DeepFields";
import { KeyFields } from "./KeyFields";
import { ShelfChanges } from "./ShelfChanges";
import { ShelfField } from "./ShelfField";
import { asText, asValue, isDeep, type Part, type Schema } from "./shelfSchema";

type Item = Schemas["ShelfItemOut"];

/** What work adds by itself: kept as it is, edited by nobody. */
const GROWN = ["told", "minutes"];

/** One thing on the shelf, by the fields of its published schema. Plain fields first; lists and tables as JSON. */
export function ShelfEditor({
  item,
  schema,
  viewer,
  onClose,
}: {
  item: Item;
  schema: Schema;
  viewer: boolean;
  onClose: () => void;
}) {
  const [key, setKey] = useState(item.key);
  const [name, setName] = useState(item.name);
  const convert = useConvert();
  const quantity = useQuantity();
  const measures = (part: Part) => (part.type === "number" ? quantity(part["x-unit"]) : "");
  // Only what was touched is read again: what stands on the shelf does not drift by its unit.
  const [typed, setTyped] = useState<Record<string, string>>({});
  const textOf = (field: string, part: Part) =>
    typed[field] ??
    (measures(part) && typeof item.body[field] === "number"
      ? figureText(convert(item.body[field], part["x-unit"]!)[0]).replace("\u202f", "")
      : asText(item.body[field], part));
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
        const read = await take(
          api.POST("/api/figures", {
            body: { text, quantity: measures(part), unit: convert(0, part["x-unit"]!)[1] },
          }),
        ).catch((error: ApiError) =>
          fail(new ApiError(`${part.title ?? field}: ${error.message}`, field, error.status)),
        );
        body[field] = read.value;
      } else if (text.trim()) {
        try {
          body[field] = asValue(text, part);
        } catch {
          fail(
            new ApiError(
              `${part.title ?? field}: this is no ${part.type === "number" || part.type === "integer" ? "number" : "JSON list or table"}.`,
              field,
              0,
            ),
          );
        }
      }
    }
    return take(api.PUT("/api/shelf-items", { body: { kind: item.kind, key, name, body } })).catch(fail);
  }, onClose);
  const remove = useAct(
    () =>
      take(
        api.DELETE("/api/shelf-items/{kind}/{key}", { params: { path: { kind: item.kind, key: item.key } } }),
      ).catch(fail),
    onClose,
  );
  // A device shows what its own kind may have.
  const kind = typed.kind ?? item.body.kind;
  const fields = Object.entries(schema.properties).filter(
    ([field, part]) =>
      !GROWN.includes(field) && (!part["x-kinds"] || !kind || part["x-kinds"].includes(String(kind))),
  );
  const plain = fields.filter(([, part]) => !isDeep(part));
  const deep = fields.filter(([, part]) => isDeep(part));
  return (
    <section className="sheet" aria-label={item.key ? `Edit ${item.name}` : `Add a ${item.kind}`}>
      <h2>{item.key ? item.name : `A new ${item.kind}`}</h2>
      <div
        className="cols"
        style={{ marginTop: 8, gridTemplateColumns: "repeat(auto-fill, minmax(230px, 1fr))" }}
      >
        <KeyFields
          name={name}
          itemKey={key}
          fixed={!!item.key}
          disabled={viewer}
          onName={setName}
          onKey={setKey}
        />
        {plain.map(([field, part]) =>
          measures(part) ? (
            <Figure
              key={field}
              wide
              disabled={viewer}
              label={part.title ?? field}
              quantity={measures(part)}
              unit={part["x-unit"]!}
              value={textOf(field, part)}
              onChange={(text) => type(field, text)}
              hint={schema.required?.includes(field) ? "needed" : "\u00a0"}
              wrong={wrong?.field === field ? wrong.message : ""}
            />
          ) : (
            <ShelfField
              key={field}
              field={field}
              part={part}
              text={textOf(field, part)}
              needed={!!schema.required?.includes(field)}
              wrong={wrong?.field === field}
              disabled={viewer}
              onType={(text) => type(field, text)}
            />
          ),
        )}
      </div>
      {deep.length > 0 && (
        <DeepFields
          fields={deep.map(([field, part]) => [field, part, textOf(field, part)])}
          wrong={wrong?.field ?? null}
          disabled={viewer}
          onType={type}
        />
      )}
      {wrong && <Alert type="error" title={wrong.message} style={{ marginTop: 8 }} />}
      <div className="row" style={{ marginTop: 10 }}>
        {!viewer && (
          <Button type="primary" loading={save.isPending} onClick={() => save.mutate(undefined)}>
            Save
          </Button>
        )}
        <Button onClick={onClose}>Close</Button>
        {!viewer && item.key && (
          <Button
            danger
            style={{ marginLeft: "auto" }}
            loading={remove.isPending}
            onClick={() => remove.mutate(undefined)}
          >
            Take off the shelf
          </Button>
        )}
      </div>
      {item.key && <ShelfChanges kind={item.kind} item={item.key} />}
    </section>
  );
}
