import { Button, InputNumber } from "antd";
import { useState } from "react";
import { api, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { RunSheet } from "../../parts/steps/RunSheet";
import { TooLean } from "./TooLean";

/** Key on, learn, try, start, look: in the order of the sheet, each judged before the next. */
export default function FirstStart({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const path = { params: { path: { number } } };
  // A night where nobody says otherwise.
  const [stood, setStood] = useState<number | null>(null);
  const acts = {
    "first-start.key_on": {
      act: useAct(() =>
        take(
          api.POST("/api/jobs/{number}/key-on", {
            params: { ...path.params, query: { stood_h: stood } },
          }),
        ),
      ),
      say: "Read the sensors",
    },
    "first-start.pedal": {
      act: useAct(() => take(api.POST("/api/jobs/{number}/pedal", path))),
      say: "Learn",
    },
    "first-start.start": {
      act: useAct(() => take(api.POST("/api/jobs/{number}/start", path))),
      say: "Start and judge idle",
    },
  };
  const sheet = job.steps.filter((step) => step.stage === "first-start");
  const next = sheet.find((step) => !step.done);
  const byHand = !!next && next.evidence !== "auto";
  // Steps by hand up to the next one that the screen does; what comes after that waits for it.
  const at = next ? sheet.indexOf(next) : 0;
  const until = sheet.findIndex((step, place) => place > at && step.evidence === "auto" && !step.done);
  const later = until < 0 ? [] : sheet.slice(until).map((step) => step.key);
  const linked = sheet.flatMap((step) => {
    const known = acts[step.key as keyof typeof acts];
    return known ? [{ ...known, step }] : [];
  });
  const lean = job.ledger.some(
    (entry) =>
      entry.standing &&
      ["start.mixture", "start.runs", "start.global_trim"].includes(entry.rule) &&
      entry.verdict !== "go",
  );
  return (
    <>
      {!byHand && (
        <div className="title">
          <h1>{next ? next.title : "Running"}</h1>
          <span className="soft">loaded and verified first; the ledger holds the numbers</span>
        </div>
      )}
      {byHand && <RunSheet job={job} stage="first-start" title="First start" own={later} />}
      {linked.map((row) => (
        <div className="sheet" key={row.step.key}>
          {row.step === next && row.step.caution && (
            <div className="caution">
              <span className="head">Before this step</span>
              <span>{row.step.caution}</span>
            </div>
          )}
          <div className="row" style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
            <div>
              <b>{row.step.title}</b>
              {row.step.done && <span className="soft"> · done, {row.step.by}</span>}
              <div className="soft">{row.step.do}</div>
              {row.step.key === "first-start.key_on" && !viewer && (
                <span className="row" style={{ marginTop: 6 }}>
                  it stood for
                  <InputNumber
                    size="large"
                    min={0}
                    max={10000}
                    placeholder="a night"
                    aria-label="hours it stood"
                    value={stood}
                    onChange={setStood}
                    suffix="h"
                    style={{ width: 130 }}
                  />
                </span>
              )}
            </div>
            {!viewer && (
              <Button
                type={row.step === next ? "primary" : "default"}
                size="large"
                disabled={row.step !== next && !row.step.done}
                loading={row.act.isPending}
                onClick={() => row.act.mutate(undefined)}
              >
                {row.step.done ? "Again" : row.say}
              </Button>
            )}
          </div>
        </div>
      ))}
      {lean && <TooLean job={job} viewer={viewer} />}
      {!next && <RunSheet job={job} stage="first-start" />}
    </>
  );
}
