import { Alert, Button, Input } from "antd";
import { useEffect, useRef, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, sendFile, take, type ApiError, type Schemas } from "../api/client";
import { useSession } from "../api/hooks";
import { plain, useConvert } from "../parts/figures/Num";
import { StarterShelf } from "../parts/shelf/StarterShelf";
import { ShelfEditor } from "../parts/shelf/ShelfEditor";
import type { Schema } from "../parts/shelf/shelfSchema";
import { day } from "../parts/figures/when";

type Item = Schemas["ShelfItemOut"];
const PLURAL: Record<string, string> = {
  vehicle: "Vehicles",
  device: "Devices",
  injector: "Injectors",
  pump: "Pumps",
  sensor: "Sensors",
  fuel: "Fuels",
  connector: "Connectors",
  tool: "Tools",
  consumable: "Consumables",
  source: "Sources",
  layout: "Engine layouts",
  access: "What comes off, by layout",
};
/** Which fields of a kind stand in its table. */
const SHOWN: Record<string, string[]> = {
  vehicle: ["kind", "engine", "injection", "induction", "power_kw"],
  device: ["kind", "stock", "price"],
  injector: ["family", "flow", "rated_kpa", "ohms", "stock"],
  pump: ["current_a", "stock", "price"],
  sensor: ["measures", "signal", "stock"],
  fuel: ["ron", "ethanol", "price"],
  connector: ["pins", "lock", "reversible", "look_alike"],
  tool: ["torque_high_nm", "place"],
  consumable: ["stock", "unit", "price", "always_new"],
  source: ["headings", "afr_scale"],
  access: ["items", "note", "source"],
  layout: ["cylinders", "banks", "stroke", "firing_deg", "note", "source"],
};

/** Everything the shop keeps, as open JSON by a published schema: look, edit, bring, take. */
export default function ShelfPage() {
  const { kind = "vehicle" } = useParams();
  const viewer = useSession().data?.role === "viewer";
  const client = useQueryClient();
  const convert = useConvert();
  const [find, setFind] = useState("");
  const [editing, setEditing] = useState<Item | null>(null);
  const [told, setTold] = useState<{ text: string; good: boolean } | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const schemas = useQuery({
    queryKey: ["shelf-schemas"],
    queryFn: () => take(api.GET("/api/shelf-schemas")),
    staleTime: Infinity,
  });
  const items = useQuery({
    queryKey: ["shelf", kind],
    queryFn: () => take(api.GET("/api/shelf-items", { params: { query: { kind } } })),
  });
  useEffect(() => {
    document.title = `Shelf: ${PLURAL[kind] ?? kind} · Vent Map`;
    setEditing(null);
  }, [kind]);
  const schema = schemas.data?.[kind] as Schema | undefined;
  const rows =
    items.data?.filter((item) =>
      `${item.name} ${JSON.stringify(item.body)}`.toLowerCase().includes(find.toLowerCase()),
    ) ?? [];
  const unitOf = (name: string) => schema?.properties[name]?.["x-unit"] ?? "";
  const columns = SHOWN[kind] ?? [];
  const bring = async (file?: File) => {
    if (!file) return;
    try {
      const answer = await sendFile<Schemas["Done"]>("/api/shelf-files/current", file, () => undefined).done;
      setTold({ text: `${file.name}: ${answer.sentence}`, good: true });
      void client.invalidateQueries();
    } catch (error) {
      setTold({ text: `${file.name}: ${(error as ApiError).message} Nothing was changed.`, good: false });
    }
  };
  return (
    <main className="floor sums" id="work">
      <Kinds kind={kind} viewer={viewer} />
      <div style={{ minWidth: 0 }}>
        <div className="title">
          <h1>{PLURAL[kind] ?? kind}</h1>
          <span className="soft">{items.data?.length ?? 0} on the shelf</span>
          <div className="end">
            <Input
              style={{ width: 190 }}
              value={find}
              onChange={(event) => setFind(event.target.value)}
              placeholder="find here"
              aria-label="Find on the shelf"
            />
            <Button href={`/api/shelf-files/current?kind=${kind}`} download>
              Take as JSON
            </Button>
            {!viewer && <Button onClick={() => chooser.current?.click()}>Bring JSON</Button>}
            {!viewer && (
              <Button type="primary" onClick={() => setEditing({ kind, key: "", name: "", body: {} })}>
                Add
              </Button>
            )}
          </div>
        </div>
        <input
          ref={chooser}
          hidden
          type="file"
          accept=".json,application/json"
          aria-label="Shelf file"
          onChange={(event) => (void bring(event.target.files?.[0]), (event.target.value = ""))}
        />
        {told && (
          <Alert
            type={told.good ? "success" : "error"}
            title={told.text}
            closable={{ onClose: () => setTold(null) }}
            style={{ marginBottom: 10 }}
          />
        )}
        {editing && schema && (
          <ShelfEditor
            key={editing.key}
            item={editing}
            schema={schema}
            viewer={viewer}
            onClose={() => setEditing(null)}
          />
        )}
        <div className="sheet" style={{ overflowX: "auto" }}>
          <table className="plain">
            <thead>
              <tr>
                <th>name</th>
                {columns.map((name) => (
                  <th key={name}>
                    {schema?.properties[name]?.title ?? name}
                    {unitOf(name) && <span className="num"> {convert(0, unitOf(name))[1]}</span>}
                  </th>
                ))}
                <th />
              </tr>
            </thead>
            <tbody>
              {rows.map((item) => (
                <tr key={item.key}>
                  <td>
                    <b>{item.name}</b>
                    <Proved item={item} />
                  </td>
                  {columns.map((name) => (
                    <td key={name} className={typeof item.body[name] === "number" ? "num" : ""}>
                      {typeof item.body[name] === "number" && unitOf(name)
                        ? plain(convert(item.body[name], unitOf(name))[0])
                        : shown(item.body[name])}
                    </td>
                  ))}
                  <td className="r">
                    <Button
                      onClick={() => (setEditing(item), document.getElementById("work")?.scrollTo(0, 0))}
                    >
                      {viewer ? "Look" : "Edit"}
                    </Button>
                  </td>
                </tr>
              ))}
              {items.data && !rows.length && (
                <tr>
                  <td colSpan={columns.length + 2} className="soft">
                    {find
                      ? "Nothing fits. Try fewer letters."
                      : "Nothing here yet. It fills by work: what a step asks is kept here for the next job. Or add one, bring a JSON file, or put the starter shelf in."}
                  </td>
                </tr>
              )}
            </tbody>
          </table>
        </div>
      </div>
    </main>
  );
}

function shown(value: unknown): string {
  if (value === undefined || value === null) return "–";
  if (Array.isArray(value)) return value.join(", ");
  return typeof value === "boolean" ? (value ? "yes" : "no") : String(value);
}

/** The kinds of thing on the shelf, and the starter shelf. */
function Kinds({ kind, viewer }: { kind: string; viewer: boolean }) {
  return (
    <nav className="side" aria-label="Shelf">
      <span className="head">Shelf</span>
      {Object.entries(PLURAL).map(([key, label]) => (
        <Link key={key} to={`/shelf/${key}`} className={key === kind ? "active" : ""}>
          {label}
        </Link>
      ))}
      {!viewer && <StarterShelf />}
    </nav>
  );
}

/** In how many ended jobs a thing proved right, and who changed it last. */
function Proved({ item }: { item: Schemas["ShelfRowOut"] }) {
  const told = [
    item.practice && "practice",
    item.proved > 0 && `proved right in ${item.proved} ${item.proved === 1 ? "job" : "jobs"}`,
    [item.changed_by, item.changed_at && day(item.changed_at)].filter(Boolean).join(", "),
  ].filter(Boolean);
  return (
    <div className="soft" style={{ fontSize: 14 }}>
      {told.join(" · ")}
    </div>
  );
}
