import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Countdown } from "../figures/Countdown";
import type { Grid, GridProps } from "./gridProps";

interface Seal {
  cylinder: number;
  sized_at: number;
  seated_at: number | null;
}

/** A timer for each injector: from the last die to seated. Over the time it is sized again. */
export function SealTimers({ grid, number, step, viewer }: GridProps) {
  const client = useQueryClient();
  const about = grid.about as unknown as { cylinders: number; seconds: number };
  const seals = (grid.data.seals as Seal[] | undefined) ?? [];
  const act = useAct<{ cylinder: number; act: string }, Grid>(
    ({ cylinder, act }) =>
      take(
        api.POST("/api/jobs/{number}/steps/{key}/seals/{cylinder}", {
          params: { path: { number, key: step, cylinder } },
          body: { act },
        }),
      ),
    (got) => client.setQueryData(["grid", number, step], got),
  );
  return (
    <div className="cols" style={{ gridTemplateColumns: "repeat(auto-fill, minmax(190px, 1fr))" }}>
      {Array.from({ length: about.cylinders }, (_, n) => n + 1).map((cylinder) => {
        const seal = seals.find((s) => s.cylinder === cylinder);
        const took = seal?.seated_at ? seal.seated_at - seal.sized_at : null;
        const over = took !== null && took > about.seconds;
        return (
          <div
            key={cylinder}
            className={`call ${took === null ? "" : over ? "hold" : "go"}`}
            aria-label={`Seal ${cylinder}`}
          >
            <div className="what">Cylinder {cylinder}</div>
            {!seal && <p className="soft">Not sized. {about.seconds} s from the last die.</p>}
            {seal && took === null && (
              <p style={{ fontSize: 20 }}>
                <Countdown endsAt={new Date(1000 * (seal.sized_at + about.seconds)).toISOString()} />
              </p>
            )}
            {took !== null && (
              <p>
                {over ? (
                  <b style={{ color: "var(--ochre)" }}>
                    Seated after <span className="num">{took.toFixed(0)} s</span>: resize
                  </b>
                ) : (
                  <>
                    Seated after <span className="num">{took.toFixed(0)} s</span>
                  </>
                )}
              </p>
            )}
            {!viewer && (
              <div className="row" style={{ marginTop: 6 }}>
                {seal && took === null ? (
                  <Button type="primary" onClick={() => act.mutate({ cylinder, act: "seated" })}>
                    Seated
                  </Button>
                ) : (
                  (!seal || over) && (
                    <Button
                      type={seal ? "primary" : "default"}
                      onClick={() => act.mutate({ cylinder, act: "sized" })}
                    >
                      {seal ? "Sized again" : "Last die off"}
                    </Button>
                  )
                )}
                {seal && took === null && (
                  <Button onClick={() => act.mutate({ cylinder, act: "sized" })}>Size again</Button>
                )}
              </div>
            )}
          </div>
        );
      })}
    </div>
  );
}
