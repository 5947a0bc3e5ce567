import { Alert, Button, Input } from "antd";
import { useState, type ReactNode } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Job, type Schemas, type Step } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Countdown } from "../figures/Countdown";

/** A device that is set by hand: one screen a press, with what must show, and all read again after the power was off. */
export function Entering({
  job,
  step,
  viewer,
  children,
}: {
  job: Job;
  step: Step;
  viewer: boolean;
  children: ReactNode;
}) {
  const number = job.plate.number;
  const client = useQueryClient();
  const asked = useQuery({
    queryKey: ["entering", number, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/entering", { params: { path: { number } } })),
    placeholderData: (before) => before,
  });
  const device = asked.data?.find((one) => one.step === step.key);
  const see = useAct(
    (seen: { key: string; shown: string }) =>
      take(
        api.POST("/api/jobs/{number}/entering/{part}", {
          params: { path: { number, part: device?.part ?? "" } },
          body: seen,
        }),
      ),
    (got) =>
      client.setQueryData<Schemas["EnteringOut"][]>(["entering", number, job.plate.revision], (all) =>
        all?.map((one) => (one.part === got.part ? got : one)),
      ),
  );
  if (!asked.data) return null;
  if (!device) return children;
  const at = device.screens.findIndex((screen) => screen.key === device.next);
  const now = device.screens[at];
  const right = device.screens.filter((screen) => screen.state === "right").length;
  return (
    <div style={{ marginBottom: 14 }}>
      {device.first && <p>{device.first}</p>}
      {now && !device.first && (
        <Now
          key={`${now.key} ${now.state} ${right}`}
          screen={now}
          place={`screen ${at + 1} of ${device.screens.length}`}
          busy={see.isPending}
          viewer={viewer}
          onSeen={(shown) => see.mutate({ key: now.key, shown })}
        />
      )}
      {!now && <p>Every screen showed what it must, and again after the power was off.</p>}
      {device.words && children}
      {device.calls.length > 0 && (
        <p className="soft" style={{ marginTop: 8 }}>
          <b>Way back</b> {device.way_back}
        </p>
      )}
      {device.ways.length > 0 && (
        <details style={{ marginTop: 8 }}>
          <summary>Should the write be cut</summary>
          <ol>
            {device.ways.map((way) => (
              <li key={way.key}>
                <b>{way.title}.</b> {way.text}
              </li>
            ))}
          </ol>
        </details>
      )}
      {right > 0 && (
        <details style={{ marginTop: 8 }}>
          <summary>
            {right} of {device.screens.length} screens are right
          </summary>
          <table className="plain" aria-label="Screens seen">
            <tbody>
              {device.screens
                .filter((screen) => screen.state !== "open")
                .map((screen) => (
                  <tr key={screen.key}>
                    <td>
                      {screen.setting}
                      {screen.again && <span className="soft"> · after power-off</span>}
                    </td>
                    <td className="num">{screen.shown || (screen.shows ? "" : "done")}</td>
                    <td className="soft">
                      {screen.state === "wrong" ? `must be ${screen.shows}` : screen.by}
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
        </details>
      )}
    </div>
  );
}

function Now({
  screen,
  place,
  busy,
  viewer,
  onSeen,
}: {
  screen: Schemas["ScreenOut"];
  place: string;
  busy: boolean;
  viewer: boolean;
  onSeen: (shown: string) => void;
}) {
  const [other, setOther] = useState(false);
  const [typed, setTyped] = useState("");
  const wrong = screen.state === "wrong";
  const must = `${screen.shows} ${screen.unit}`.trim();
  return (
    <div className="press">
      {screen.before && (
        <Alert type="warning" title={screen.before} style={{ marginBottom: 10 }} banner showIcon={false} />
      )}
      <span className="soft">
        {place} · {screen.setting}
      </span>
      <p className="press-do">{screen.press}</p>
      {screen.shows && (
        <p>
          It must show <span className="num press-shows">{must}</span>
        </p>
      )}
      {wrong && (
        <p style={{ color: "var(--oxide)" }}>
          It showed <span className="num">{screen.shown}</span> last time. Enter it again.
        </p>
      )}
      {!viewer && (
        <div className="row" style={{ marginTop: 10 }}>
          {screen.wait_s > 0 ? (
            <PowerOff seconds={screen.wait_s} busy={busy} onOn={() => onSeen("")} />
          ) : (
            <Button type="primary" size="large" loading={busy} onClick={() => onSeen(screen.shows)}>
              {screen.shows ? `It shows ${must}` : "Done"}
            </Button>
          )}
          {screen.shows && !other && (
            <Button size="large" onClick={() => setOther(true)}>
              It shows something else
            </Button>
          )}
          {other && (
            <>
              <Input
                size="large"
                autoFocus
                aria-label="What it shows"
                placeholder="what it shows"
                style={{ width: 180 }}
                value={typed}
                onChange={(event) => setTyped(event.target.value)}
                onPressEnter={() => typed.trim() && onSeen(typed)}
              />
              <Button size="large" disabled={!typed.trim()} loading={busy} onClick={() => onSeen(typed)}>
                Enter it
              </Button>
            </>
          )}
        </div>
      )}
    </div>
  );
}

/** Ignition off, the device's own time, and on again. */
function PowerOff({ seconds, busy, onOn }: { seconds: number; busy: boolean; onOn: () => void }) {
  const [until, setUntil] = useState("");
  const [over, setOver] = useState(false);
  if (!until)
    return (
      <>
        <Button
          type="primary"
          size="large"
          onClick={() => setUntil(new Date(Date.now() + 1000 * seconds).toISOString())}
        >
          Ignition is off
        </Button>
        <Button size="large" loading={busy} onClick={onOn}>
          It was off that long, and is on again
        </Button>
      </>
    );
  return over ? (
    <Button type="primary" size="large" loading={busy} onClick={onOn}>
      Ignition is on again
    </Button>
  ) : (
    <span style={{ fontSize: 20 }}>
      Leave it off: <Countdown endsAt={until} onEnd={() => setOver(true)} />
    </span>
  );
}
