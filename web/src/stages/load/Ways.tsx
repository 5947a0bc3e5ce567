import { Button } from "antd";
import type { Schemas } from "../../api/client";

/** After a write that was cut: what this device offers, first tried first. */
export function Ways({
  ways,
  busy,
  onTake,
}: {
  ways: Schemas["WayOut"][];
  busy: boolean;
  onTake: (key: string) => void;
}) {
  return (
    <ol aria-label="Ways on" style={{ margin: "8px 0 0", paddingLeft: 22 }}>
      {ways.map((way, n) => (
        <li key={way.key} style={{ marginBottom: 8 }}>
          {way.key === "bench" ? (
            <b>{way.title}</b>
          ) : (
            <Button type={n === 0 ? "primary" : "default"} loading={busy} onClick={() => onTake(way.key)}>
              {way.title}
            </Button>
          )}
          <div style={{ marginTop: 2 }}>{way.text}</div>
        </li>
      ))}
    </ol>
  );
}
