import { Button } from "antd";
import { useState } from "react";
import type { GridProps } from "./gridProps";

type Pin = [string, string];
interface Reading {
  a: Pin;
  b: Pin;
  beeps: boolean;
}
interface View {
  side?: Record<string, string>;
  wires?: Pin[][];
  turned?: string[];
}

const same = (x: Pin, y: Pin) => x[0] === y[0] && x[1] === y[1];

const readingsOf = (data: Record<string, unknown>) => (data.readings as Reading[] | undefined) ?? [];

/** Which pins beep together, tapped on the plugs; the shared feed drawn on them. */
export function Continuity({ grid, viewer, busy, tap: change }: GridProps) {
  const about = grid.about as { plugs: string[]; pins: string[] };
  const readings = readingsOf(grid.data);
  const view = grid.view as View;
  const [first, setFirst] = useState<Pin | null>(null);
  const [pair, setPair] = useState<[Pin, Pin] | null>(null);
  const tap = (pin: Pin) => {
    if (viewer) return;
    if (!first || first[0] === pin[0]) return setFirst(first && same(first, pin) ? null : pin);
    setPair([first, pin]);
  };
  const say = (beeps: boolean) => {
    const [a, b] = pair!;
    const other = (r: Reading) => !((same(r.a, a) && same(r.b, b)) || (same(r.a, b) && same(r.b, a)));
    change((data) => ({ readings: [...readingsOf(data).filter(other), { a, b, beeps }] }));
    setPair(null);
    setFirst(null);
  };
  const stop = grid.calls.some((call) => call.verdict === "stop");
  const side = view.side ?? {};
  const feed = Object.entries(side)
    .map(([plug, pin]) => `${plug} ${pin}`)
    .join(" · ");
  return (
    <div className="continuity">
      <div>
        <div className="plugs">
          {about.plugs.map((plug) => (
            <div key={plug} className="plug">
              <b>Plug {plug}</b>
              <div className="pins">
                {about.pins.map((pin) => {
                  const marked = side[plug] === pin;
                  const picked =
                    (first && same(first, [plug, pin])) || (pair && pair.some((p) => same(p, [plug, pin])));
                  return (
                    <button
                      key={pin}
                      className={`pin ${marked ? "marked" : ""} ${picked ? "picked" : ""}`}
                      disabled={viewer}
                      aria-label={`Plug ${plug} pin ${pin}${marked ? ", shared feed" : ""}`}
                      onClick={() => tap([plug, pin])}
                    >
                      {pin}
                    </button>
                  );
                })}
              </div>
              <span className={side[plug] ? "" : "soft"}>
                {side[plug] ? (
                  <>
                    feed on <b>{side[plug]}</b>
                  </>
                ) : (
                  "not settled"
                )}
              </span>
            </div>
          ))}
        </div>
        <div className="row" style={{ justifyContent: "center", minHeight: 48, marginTop: 8 }}>
          {pair ? (
            <>
              <b>
                Plug {pair[0].join(" ")} to plug {pair[1].join(" ")}:
              </b>
              <Button type="primary" loading={busy} onClick={() => say(true)}>
                Beeps
              </Button>
              <Button loading={busy} onClick={() => say(false)}>
                Silent
              </Button>
              <Button type="text" onClick={() => (setPair(null), setFirst(null))}>
                Neither, back
              </Button>
            </>
          ) : first ? (
            <span>Now the other tip: tap a pin of another plug.</span>
          ) : stop ? (
            <b style={{ color: "var(--oxide)" }}>
              {grid.calls.find((c) => c.verdict === "stop")!.title}:{" "}
              {grid.calls.find((c) => c.verdict === "stop")!.do_next}
            </b>
          ) : grid.complete ? (
            <b style={{ color: "var(--petrol)" }}>
              One shared feed: {feed}
              {(view.turned?.length ?? 0) > 0 &&
                `. Plug ${view.turned!.join(", ")} is turned round from the others`}
              .
            </b>
          ) : (
            <span className="soft">
              {readings.length
                ? grid.calls[0]?.do_next
                : "Tap the pin one tip is on, then the pin of another plug."}
            </span>
          )}
        </div>
      </div>
      <div className="readings">
        <span className="head">Readings</span>
        {!readings.length && <p className="soft">None yet.</p>}
        {readings.map((r, n) => (
          <div className="line" key={n}>
            <span className="num">
              {r.a.join(" ")} to {r.b.join(" ")}
            </span>
            <span>
              {r.beeps ? "beep" : "silent"}
              {!viewer && (
                <Button
                  type="text"
                  size="small"
                  aria-label={`Take ${r.a.join(" ")} to ${r.b.join(" ")} off`}
                  onClick={() =>
                    change((data) => ({
                      readings: readingsOf(data).filter((one) => !(same(one.a, r.a) && same(one.b, r.b))),
                    }))
                  }
                >
                  ✕
                </Button>
              )}
            </span>
          </div>
        ))}
      </div>
    </div>
  );
}
