import { Button, Upload } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, ApiError, csrf, take, type Job, type Schemas } from "../../api/client";
import { ScreenAsks } from "../../parts/Asks";
import { NotYet } from "../../parts/NotYet";
import { RunSheet } from "../../parts/RunSheet";
import { useAct, useSession } from "../../api/hooks";
import { KeepMap } from "./KeepMap";
import { Figures } from "./Figures";

/** Choose the map to start from, with the reason it fits; then set the injector's figures. */
export default function BaseMap({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const base = useQuery({
    queryKey: ["base-map", number, job.plate.injectors],
    queryFn: () => take(api.GET("/api/jobs/{number}/base-map", { params: { path: { number } } })),
  });
  const chosen = job.steps.find((step) => step.key === "base-map.choose")?.done ?? false;
  const [again, setAgain] = useState(false);
  const choose = useAct(
    (key: string) =>
      take(api.POST("/api/jobs/{number}/maps", { params: { path: { number } }, body: { key } })),
    () => setAgain(false),
  );
  const upload = useAct(
    (file: File) => sendMap(number, file),
    () => setAgain(false),
  );
  if (base.error) return <NotYet title="Base map" sentence={base.error.message} number={number} />;
  const versions = base.data?.versions ?? [];
  return (
    <>
      <ScreenAsks job={job} steps={["base-map.dead_time"]} />
      <div className="title">
        <h1>{chosen && !again ? "Injector figures for this vehicle" : "The map to start from"}</h1>
        <div className="end">
          {chosen && (
            <Button onClick={() => setAgain(!again)}>
              {again ? "Back to the figures" : "Choose another map"}
            </Button>
          )}
          {!viewer && (
            <Upload
              accept=".json"
              showUploadList={false}
              beforeUpload={(file) => (upload.mutate(file), false)}
            >
              <Button loading={upload.isPending}>Map from a file</Button>
            </Upload>
          )}
        </div>
      </div>
      {(!chosen || again) &&
        base.data?.candidates.map((candidate) => (
          <CandidateRow
            key={candidate.key}
            candidate={candidate}
            busy={choose.isPending}
            onChoose={viewer ? undefined : () => choose.mutate(candidate.key)}
          />
        ))}
      {chosen && !again && base.data?.current && (
        <Figures
          job={job}
          sheet={base.data.sheet}
          current={base.data.current}
          fluid={base.data.fluid}
          referenced={base.data.referenced}
          key={versions.at(-1)?.sha256}
        />
      )}
      {chosen && !again && <RunSheet job={job} stage="base-map" />}
      {versions.length > 0 && (
        <div className="sheet">
          <span className="head">Versions</span>
          <table className="plain">
            <thead>
              <tr>
                <th>version</th>
                <th>from</th>
                <th>CRC-32</th>
                <th>made</th>
                <th>in the computer</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {versions.toReversed().map((version) => (
                <tr key={version.id}>
                  <td className="num">{version.version}</td>
                  <td>{version.note}</td>
                  <td className="num">{version.crc32}</td>
                  <td>
                    {new Date(version.made_at).toLocaleString([], { dateStyle: "short", timeStyle: "short" })}
                    , {version.by}
                  </td>
                  <td>{version.loaded ? "was loaded, verified" : "no"}</td>
                  <td className="r">
                    <a href={`/api/jobs/${number}/maps/${version.id}/file`}>file</a>
                    {!viewer && <KeepMap number={number} version={version} />}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

async function sendMap(number: string, file: File) {
  const body = new FormData();
  body.append("file", file);
  const answer = await fetch(`/api/jobs/${number}/maps/files`, {
    method: "POST",
    body,
    headers: { "X-CSRFToken": csrf() },
  });
  const told = await answer.json();
  if (!answer.ok) throw new ApiError(told.sentence, told.field, answer.status);
  return told as Schemas["VersionOut"];
}

function CandidateRow({
  candidate,
  busy,
  onChoose,
}: {
  candidate: Schemas["Candidate"];
  busy: boolean;
  onChoose?: () => void;
}) {
  return (
    <div
      className="sheet row"
      style={{ flexWrap: "nowrap", opacity: candidate.possible ? 1 : 0.75, justifyContent: "space-between" }}
    >
      <div>
        <b>{candidate.name}</b>
        {candidate.conflicts.map((text) => (
          <div key={text} style={{ color: "var(--oxide)" }}>
            does not fit: {text}
          </div>
        ))}
        {candidate.possible && <div className="soft">{candidate.reasons.join(" · ")}</div>}
        {candidate.possible &&
          candidate.differences.map((text) => (
            <div key={text} style={{ color: "var(--ochre)" }}>
              differs: {text}
            </div>
          ))}
      </div>
      {candidate.possible && (
        <div className="row" style={{ flexWrap: "nowrap" }}>
          <span className="num">{candidate.points} of 100</span>
          {onChoose && (
            <Button type="primary" loading={busy} onClick={onChoose}>
              Start from this
            </Button>
          )}
        </div>
      )}
    </div>
  );
}
