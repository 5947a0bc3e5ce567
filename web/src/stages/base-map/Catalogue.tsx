import { Alert, Button, Input } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError } from "../../api/client";
import { useAct } from "../../api/hooks";

/** The supplier's catalogue: searched by engine, parts or fuel, judged as the shelf's maps are, the newest first. */
export function Catalogue({ number, part, onTaken }: { number: string; part: string; onTaken: () => void }) {
  const [text, setText] = useState("");
  const [asked, setAsked] = useState<string | null>(null);
  const path = { number, part };
  const offers = useQuery({
    meta: { shown: true },
    queryKey: ["catalogue", number, part, asked],
    enabled: asked !== null,
    retry: false,
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/map-parts/{part}/catalogue", {
          params: { path, query: { text: asked ?? "" } },
        }),
      ),
  });
  const fetch = useAct(
    (file: { file: string; older: boolean }) =>
      take(api.POST("/api/jobs/{number}/map-parts/{part}/catalogue", { params: { path }, body: file })),
    onTaken,
  );
  return (
    <div className="sheet">
      <span className="head">The supplier&apos;s catalogue</span>
      <div className="row" style={{ margin: "8px 0" }}>
        <Input
          value={text}
          onChange={(event) => setText(event.target.value)}
          onPressEnter={() => setAsked(text)}
          placeholder="engine, parts, fuel; empty: this engine"
          aria-label="Search the catalogue"
          style={{ maxWidth: 360 }}
        />
        <Button
          loading={offers.isFetching}
          onClick={() => (asked === text ? void offers.refetch() : setAsked(text))}
        >
          Search
        </Button>
      </div>
      {offers.error && <Alert type="warning" title={(offers.error as ApiError).message} />}
      {offers.data && !offers.data.length && <p>Nothing is offered for these words.</p>}
      {offers.data?.map((offer) => (
        <div className="row" key={offer.file} style={{ justifyContent: "space-between", padding: "6px 0" }}>
          <div style={{ flex: "1 1 320px" }}>
            <b>{offer.title}</b>{" "}
            <span className="soft">
              {offer.maker}, issued {offer.issued}
            </span>
            {offer.replaced_by && (
              <div style={{ color: "var(--ochre)" }}>older: a newer file replaces it</div>
            )}
            {offer.conflicts.map((line) => (
              <div key={line} style={{ color: "var(--oxide)" }}>
                does not fit: {line}
              </div>
            ))}
            {offer.possible && offer.differences.map((line) => <div key={line}>differs: {line}</div>)}
          </div>
          {offer.kind === "firmware" ? (
            <a href={`/api/catalogue/firmware?file=${encodeURIComponent(offer.file)}`}>firmware file</a>
          ) : (
            offer.possible && (
              <Button
                loading={fetch.isPending}
                onClick={() => fetch.mutate({ file: offer.file, older: offer.replaced_by !== "" })}
              >
                {offer.replaced_by ? "Take the older one" : "Take it"}
              </Button>
            )
          )}
        </div>
      ))}
    </div>
  );
}
