import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useSession } from "../../api/hooks";
import { RunSheet } from "../../parts/steps/RunSheet";
import { SymptomHelper } from "../../parts/steps/SymptomHelper";
import { useSettled } from "../../parts/frame/useSettled";
import { Identity } from "./Identity";
import { OneDiffers } from "./OneDiffers";
import { RulesNote } from "./RulesNote";
import { VariantFinder } from "./VariantFinder";

/** Who, which vehicle, what for. */
export default function Intake({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const path = { params: { path: { number } } };
  const settled = useSettled();
  const diagnosis = useQuery({
    queryKey: ["diagnosis", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/diagnosis", path)),
  });
  const keep = (complaint: string, signs: Record<string, boolean>) =>
    take(api.PUT("/api/jobs/{number}/diagnosis", { ...path, body: { complaint, signs, job: number } }));
  return (
    <>
      <div className="title">
        <h1>Who, which vehicle, what for</h1>
      </div>
      <Identity job={job} viewer={viewer} />
      {settled && (
        <>
          <VariantFinder job={job} viewer={viewer} />
          {!viewer && <OneDiffers job={job} />}
          <RunSheet job={job} stage="intake" />
          <RulesNote number={number} />
          <SymptomHelper job={number} viewer={viewer} kept={diagnosis.data} keep={keep} />
        </>
      )}
    </>
  );
}
