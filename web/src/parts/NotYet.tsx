import { Button } from "antd";
import { useNavigate } from "react-router";
import type { ApiError } from "../api/client";

/** Where what is missing is made good: by the field that the server names. */
const WHERE: Record<string, [string, string]> = {
  kit: ["plan", "Plan"],
  injectors: ["plan", "Plan"],
  map: ["base-map", "Base map"],
  load: ["load", "Load"],
  log: ["log", "Log"],
};

/** A slat that cannot begin yet, or not here: why, and where to go on. */
export function NotYet({ title, error, number }: { title: string; error: ApiError; number: string }) {
  const go = useNavigate();
  const place = WHERE[error.field ?? ""];
  return (
    <>
      <div className="title">
        <h1>{title}</h1>
      </div>
      <div className="sheet row" style={{ justifyContent: "space-between" }}>
        <span style={{ fontSize: 17, flex: "1 1 420px" }}>{error.message}</span>
        {place && (
          <Button type="primary" size="large" onClick={() => void go(`/jobs/${number}/${place[0]}`)}>
            To {place[1]}
          </Button>
        )}
      </div>
    </>
  );
}
