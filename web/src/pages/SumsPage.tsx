import { Button } from "antd";
import { useEffect } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { api, take } from "../api/client";
import { useSession } from "../api/hooks";
import { Help } from "../parts/frame/Help";
import { SumForm, type Typed } from "../parts/figures/SumForm";
import { SymptomHelper } from "../parts/steps/SymptomHelper";

const SYMPTOMS = "what-is-wrong";

/** Every sum by itself: linkable with its figures in the address, printable. */
export default function SumsPage() {
  const { key } = useParams();
  const [search, setSearch] = useSearchParams();
  const viewer = useSession().data?.role === "viewer";
  const all = useQuery({
    queryKey: ["sums"],
    queryFn: () => take(api.GET("/api/sums")),
    staleTime: Infinity,
  });
  const kind = all.data?.find((item) => item.key === key);
  const title = key === SYMPTOMS ? "What is wrong with it" : (kind?.title ?? "Sums");
  useEffect(() => {
    document.title = `${title} · Vent Map`;
  }, [title]);
  const start: Typed = Object.fromEntries([...search.entries()].map(([name, text]) => [name, read(text)]));
  const keep = (typed: Typed) => {
    const changed = Object.entries(typed).filter(
      ([name, value]) =>
        JSON.stringify(value) !== JSON.stringify(kind!.fields.find((field) => field.name === name)?.default),
    );
    setSearch(
      Object.fromEntries(
        changed.map(([name, value]) => [name, typeof value === "string" ? value : JSON.stringify(value)]),
      ),
      { replace: true },
    );
  };
  return (
    <main className="floor sums" id="work">
      <nav className="side no-print" aria-label="Sums">
        <span className="head">Sums</span>
        {all.data?.map((item) => (
          <Link key={item.key} to={`/sums/${item.key}`} className={item.key === key ? "active" : ""}>
            {item.title}
          </Link>
        ))}
        <Link to={`/sums/${SYMPTOMS}`} className={key === SYMPTOMS ? "active" : ""}>
          What is wrong with it
        </Link>
      </nav>
      <div>
        <div className="title">
          <h1>{title}</h1>
          <span className="soft">{kind?.purpose ?? (key ? "" : "choose one; type figures in any unit")}</span>
          {kind && (
            <div className="end no-print">
              <Help chapter="plan" about={kind.title} />
              <Button onClick={() => window.print()}>Print</Button>
            </div>
          )}
        </div>
        {!key && (
          <div className="cols">
            {all.data?.map((item) => (
              <Link key={item.key} to={`/sums/${item.key}`} className="sheet card">
                <b>{item.title}</b>
                <span className="soft">{item.purpose}</span>
              </Link>
            ))}
          </div>
        )}
        {kind && <SumForm key={kind.key} kind={kind} start={start} onTyped={keep} />}
        {key === SYMPTOMS && <SymptomHelper viewer={viewer} />}
        {key && key !== SYMPTOMS && all.data && !kind && (
          <p className="sheet">There is no sum at this address. Choose one at the left.</p>
        )}
      </div>
    </main>
  );
}

/** A field of the address: a text, or the rows of a table. A link that was cut is read as the text it is. */
function read(text: string): unknown {
  try {
    return text.startsWith("[") ? JSON.parse(text) : text;
  } catch {
    return text;
  }
}
