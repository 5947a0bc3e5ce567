import { Alert, Spin } from "antd";
import { useEffect } from "react";
import { useNavigate, useParams } from "react-router";
import type { Job } from "../api/client";
import { useJob, useSession } from "../api/hooks";
import { ColdStarts } from "../parts/logs/ColdStarts";
import { Barred } from "../parts/frame/Barred";
import { Guarded } from "../parts/frame/Guarded";
import { Aside } from "../parts/steps/Aside";
import { useKeys } from "../parts/frame/keys";
import { Ledger } from "../parts/ledger/Ledger";
import { JobTour } from "../parts/frame/JobTour";
import { NowStrip } from "../parts/frame/NowStrip";
import { Plate } from "../parts/frame/Plate";
import { Slats } from "../parts/frame/Slats";
import { NotYet } from "../parts/steps/NotYet";
import { RunSheet } from "../parts/steps/RunSheet";
import { ProgramFiles } from "../parts/steps/ProgramFiles";
import { Writes } from "../parts/steps/Writes";
import { preload, useLoaded } from "../parts/frame/useLoaded";

const load = {
  intake: () => import("../stages/intake/Intake"),
  plan: () => import("../stages/plan/Plan"),
  baseline: () => import("../stages/baseline/Baseline"),
  "make-safe": () => import("../stages/make-safe/MakeSafe"),
  "base-map": () => import("../stages/base-map/BaseMap"),
  load: () => import("../stages/load/Load"),
  "first-start": () => import("../stages/first-start/FirstStart"),
  log: () => import("../stages/log/Log"),
  correct: () => import("../stages/correct/Correct"),
  prove: () => import("../stages/prove/Prove"),
  "hand-over": () => import("../stages/hand-over/HandOver"),
} as const;
const tuner = () => import("../stages/correct/Tuner");
const BY_HAND = ["load", "first-start", "correct"];
type Screen = (typeof load)[keyof typeof load];

/** One job: plate, slats, work, ledger, now strip. */
export default function JobPage() {
  const { number = "", stage = "intake" } = useParams();
  const job = useJob(number);
  const session = useSession().data;
  const go = useNavigate();
  const label = session?.stages?.find((s) => s.key === stage)?.label ?? stage;
  useEffect(() => {
    document.title = `${number} ${label} · Vent Map`;
  }, [number, label]);
  useEffect(() => {
    // Slat to slat without a wait: the screens are fetched while nobody is in a hurry.
    const idle = setTimeout(
      () => Object.values(load).forEach((fetch) => preload(fetch).catch(() => undefined)),
      1200,
    );
    return () => clearTimeout(idle);
  }, []);
  const fetch = load[stage as keyof typeof load] as Screen | undefined;
  const Work = useLoaded<{ job: Job }>(fetch);
  const Tuner = useLoaded<{ job: Job; first: boolean }>(stage === "correct" ? tuner : undefined);
  // A kind of vehicle that is not prepared here takes these slats by hand: its sheet, not the screen of the link.
  const linked = job.data?.steps.some((s) => s.stage === stage && s.evidence === "auto");
  const byHand = BY_HAND.includes(stage) && !!job.data && !linked;
  const slat = job.data?.slats.find((one) => one.key === stage);
  const keys = job.data?.slats.map((slat) => slat.key) ?? [];
  const step = (by: number) => {
    const next = keys[keys.findIndex((key) => key === stage) + by];
    if (next) void go(`/jobs/${number}/${next}`);
  };
  const next = job.data?.next;
  useKeys({
    "[": () => step(-1),
    "]": () => step(1),
    n: next ? () => void go(`/jobs/${number}/${next.stage}?step=${next.key}`) : undefined,
  });
  if (job.error) return <Alert type="error" title={job.error.message} style={{ margin: 24 }} />;
  if (!job.data) return <Spin style={{ margin: "20vh auto", display: "block" }} />;
  return (
    <div className="job">
      <Plate plate={job.data.plate} />
      <Slats job={job.data} stage={stage} />
      <div className="body">
        <main className="work" id="work" key={stage}>
          {slat?.barred && <Barred barred={slat.barred} here={stage} number={number} />}
          {slat?.absent && (
            <>
              {(byHand || !fetch) && (
                <div className="title">
                  <h1>{label}: nothing to do</h1>
                </div>
              )}
              <p className="sheet soft">{slat.absent}</p>
            </>
          )}
          <Guarded of={[number, stage]} what={`The slat ${label}`}>
            {slat?.early ? (
              <NotYet
                title={label}
                sentence={slat.early.sentence}
                to={job.data.slats.find((other) => other.key === slat.early?.stage)}
                number={number}
              />
            ) : byHand || !fetch ? (
              <RunSheet job={job.data} stage={stage} title={label} />
            ) : Work ? (
              <Work job={job.data} />
            ) : (
              <Spin />
            )}
          </Guarded>
          {!slat?.early && <Aside job={job.data} stage={stage} />}
          {byHand && stage === "load" && <ProgramFiles job={job.data} viewer={session?.role === "viewer"} />}
          {byHand && stage === "load" && <Writes number={number} boxed />}
          {["first-start", "hand-over"].includes(stage) && <ColdStarts job={job.data} />}
          {stage === "correct" && Tuner && <Tuner job={job.data} first={job.data.plate.remote_tuner} />}
        </main>
        <Ledger job={job.data} stage={stage} />
      </div>
      <NowStrip job={job.data} />
      <JobTour job={job.data} />
    </div>
  );
}
