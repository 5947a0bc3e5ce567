import { Button } from "antd";
import { api, take, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { RunSheet } from "../../parts/RunSheet";

/** Key on, learn, start, look: each judged before the next. */
export default function FirstStart({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const path = { params: { path: { number } } };
  const keyOn = useAct(() => take(api.POST("/api/jobs/{number}/key-on", path)));
  const pedal = useAct(() => take(api.POST("/api/jobs/{number}/pedal", path)));
  const start = useAct(() => take(api.POST("/api/jobs/{number}/start", path)));
  const rows = [
    {
      key: "first-start.key_on",
      act: keyOn,
      say: "Read the sensors",
    },
    {
      key: "first-start.pedal",
      act: pedal,
      say: "Learn",
    },
    {
      key: "first-start.start",
      act: start,
      say: "Start and judge idle",
    },
  ];
  const steps = rows.flatMap((row) => {
    const step = job.steps.find((known) => known.key === row.key);
    return step ? [{ ...row, step }] : [];
  });
  const next = steps.find((row) => !row.step.done);
  // What is measured while it cranks comes before it runs; what the sheet has after the start waits for it.
  const sheet = job.steps.filter((step) => step.stage === "first-start");
  const startAt = sheet.findIndex((step) => step.key === "first-start.start");
  const after = sheet.slice(startAt + 1).map((step) => step.key);
  const cranks = next?.key === "first-start.start" && sheet.slice(0, startAt).some((step) => !step.done);
  return (
    <>
      <div className="title">
        <h1>{next ? next.step.title : "Running"}</h1>
        <span className="soft">loaded and verified first; the ledger holds the numbers</span>
      </div>
      {cranks && <RunSheet job={job} stage="first-start" own={after} />}
      {steps.map((row) => (
        <div className="sheet" key={row.key}>
          {row === next && row.step.caution && (
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
            </div>
            {!viewer && (
              <Button
                type={row === next ? "primary" : "default"}
                size="large"
                disabled={row !== next && !row.step.done}
                loading={row.act.isPending}
                onClick={() => row.act.mutate(undefined)}
              >
                {row.step.done ? "Again" : row.say}
              </Button>
            )}
          </div>
        </div>
      ))}
      {!next && <RunSheet job={job} stage="first-start" />}
    </>
  );
}
