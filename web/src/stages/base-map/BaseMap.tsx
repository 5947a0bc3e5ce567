import { Segmented } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job } from "../../api/client";
import { useSession } from "../../api/hooks";
import { ScreenAsks } from "../../parts/steps/Asks";
import { NotYet } from "../../parts/steps/NotYet";
import { RunSheet } from "../../parts/steps/RunSheet";
import { PartMap } from "./PartMap";

/** The map of each device of the kit: chosen with the reason it fits, set, and edited as a sheet. */
export default function BaseMap({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const [picked, setPicked] = useState<string | null>(null);
  const parts = useQuery({
    meta: { shown: true },
    queryKey: ["map-parts", number, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/map-parts", { params: { path: { number } } })),
    placeholderData: (before) => before,
  });
  if (parts.error) return <NotYet title="Base map" sentence={parts.error.message} number={number} />;
  const found = parts.data ?? [];
  const part = found.find((one) => one.part === picked) ?? found[0];
  if (parts.data && !part)
    return (
      <NotYet
        title="Base map"
        sentence="No device is chosen yet: its map hangs on it."
        to={{ key: "plan", label: "Plan" }}
        number={number}
      />
    );
  return (
    <>
      <ScreenAsks job={job} steps={["base-map.dead_time", "base-map.settings"]} />
      <div className="title">
        <h1>{part?.version ? "The map of this vehicle" : "The map to start from"}</h1>
        <div className="end">
          {found.length > 1 && (
            <Segmented
              value={part?.part}
              onChange={setPicked}
              aria-label="Device"
              options={found.map((one) => ({ value: one.part, label: one.device }))}
            />
          )}
        </div>
      </div>
      {part && <PartMap key={part.part} job={job} part={part} viewer={viewer} />}
      <RunSheet job={job} stage="base-map" />
    </>
  );
}
