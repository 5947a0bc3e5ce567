import { Button, Segmented, Select } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Num } from "../figures/Num";

type Diagnosis = Schemas["DiagnosisOut"];
const SEEN = [
  { value: "yes", label: "yes" },
  { value: "no", label: "no" },
  { value: "", label: "not looked" },
];

/** From a complaint and what is seen to ranked causes, and the cheapest check that tells them apart. */
export function SymptomHelper({
  job = "",
  kept,
  keep,
  viewer,
}: {
  /** Its number: then only what its kind of engine can have is shown. */
  job?: string;
  kept?: Diagnosis | null;
  keep?: (complaint: string, signs: Record<string, boolean>) => Promise<Diagnosis>;
  viewer: boolean;
}) {
  const book = useQuery({
    queryKey: ["complaints", job],
    queryFn: () => take(api.GET("/api/complaints", { params: { query: { job } } })),
    staleTime: Infinity,
  });
  const [now, setNow] = useState<Diagnosis | null>(null);
  const shown = now ?? kept ?? null;
  const ask = useAct(
    ({ complaint, signs }: { complaint: string; signs: Record<string, boolean> }) =>
      take(api.POST("/api/diagnoses", { body: { complaint, signs, job } })),
    setNow,
  );
  const hold = useAct(() => keep!(shown!.complaint, shown!.signs), setNow);
  const entry = book.data?.find((item) => item.key === shown?.complaint);
  const say = (sign: string, value: string) => {
    const signs = { ...shown!.signs };
    if (value) signs[sign] = value === "yes";
    else delete signs[sign];
    ask.mutate({ complaint: shown!.complaint, signs });
  };
  return (
    <div className="sheet">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>What is wrong with it</h2>
        <Select
          style={{ minWidth: 260 }}
          placeholder="Choose a complaint"
          aria-label="Complaint"
          value={shown?.complaint}
          onChange={(complaint) => ask.mutate({ complaint, signs: {} })}
          options={book.data?.map((item) => ({ value: item.key, label: item.text }))}
        />
      </div>
      {!shown && (
        <p className="soft" style={{ marginTop: 6 }}>
          Nothing wrong: leave it. Otherwise choose the complaint; the signs it asks for cost nothing.
        </p>
      )}
      {shown && entry && (
        <div
          className="cols"
          style={{ marginTop: 10, gridTemplateColumns: "repeat(auto-fit, minmax(300px, 1fr))" }}
        >
          <div>
            <span className="head">Seen</span>
            {entry.signs.map((sign) => (
              <div
                className="row"
                key={sign.key}
                style={{ justifyContent: "space-between", padding: "4px 0", flexWrap: "nowrap" }}
              >
                <span style={sign.key === shown.ask ? { fontWeight: 700 } : undefined}>
                  {sign.text}
                  {sign.key === shown.ask && (
                    <span className="soft" style={{ fontWeight: 400 }}>
                      {" "}
                      · tells most
                    </span>
                  )}
                </span>
                <Segmented
                  disabled={viewer && !!keep}
                  value={sign.key in shown.signs ? (shown.signs[sign.key] ? "yes" : "no") : ""}
                  onChange={(value) => say(sign.key, value)}
                  options={SEEN}
                  aria-label={sign.text}
                />
              </div>
            ))}
          </div>
          <div>
            <span className="head">Likely</span>
            {shown.causes.map((cause, n) => (
              <div key={cause.cause} style={{ padding: "3px 0" }}>
                <div className="row" style={{ justifyContent: "space-between" }}>
                  <span>
                    {n + 1}. {cause.cause}
                  </span>
                  <Num value={100 * cause.share} unit="%" digits={0} />
                </div>
                <div style={{ height: 5, background: "var(--chip)" }}>
                  <div style={{ height: 5, width: `${100 * cause.share}%`, background: "var(--petrol)" }} />
                </div>
                {n === 0 && (
                  <div className="soft" style={{ fontSize: 14 }}>
                    {cause.cure}
                  </div>
                )}
              </div>
            ))}
            <div className="call" style={{ marginTop: 8 }}>
              <div className="what">Cheapest telling check: {shown.check}</div>
              <div className="line">
                <span>takes</span>
                <Num value={shown.check_minutes} unit="min" />
              </div>
              <div className="next">{shown.check_tells}</div>
            </div>
            {keep && !viewer && (
              <Button
                style={{ marginTop: 8 }}
                type={now ? "primary" : "default"}
                loading={hold.isPending}
                onClick={() => hold.mutate(undefined)}
              >
                Keep with the job
              </Button>
            )}
          </div>
        </div>
      )}
    </div>
  );
}
