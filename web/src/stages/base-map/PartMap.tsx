import { Button, Segmented, Upload } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { api, ApiError, csrf, take, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { BeginMap } from "../../parts/sheet/BeginMap";
import { Borrowed } from "../../parts/sheet/Borrowed";
import { BorrowedBack } from "../../parts/sheet/BorrowedBack";
import { Lineage } from "../../parts/sheet/Lineage";
import { MapSheet } from "../../parts/sheet/MapSheet";
import { SheetSettings } from "../../parts/sheet/SheetSettings";
import { ToCopy } from "../../parts/sheet/ToCopy";
import { useSheet } from "../../parts/sheet/useSheet";
import { Candidates } from "./Candidates";
import { Catalogue } from "./Catalogue";
import { Figures } from "./Figures";
import { KeepMap } from "./KeepMap";

type View = "begin" | "choose" | "figures" | "settings" | "sheet" | "versions" | "other";

/** One device's map: chosen, set, edited as a sheet, and its versions. */
export function PartMap({ job, part, viewer }: { job: Job; part: Schemas["MapPartOut"]; viewer: boolean }) {
  const number = job.plate.number;
  const path = { number, part: part.part };
  const chosen = part.version !== "";
  const borrowed = part.form === "borrowed";
  const figures = part.written && part.form === "full";
  const first: View = !chosen ? "choose" : figures ? "figures" : borrowed ? "sheet" : "settings";
  const [view, setView] = useState<View | null>(null);
  const shown = !chosen && view !== "other" && view !== "begin" ? "choose" : (view ?? first);
  const maps = useQuery({
    meta: { shown: true },
    queryKey: ["part-maps", number, part.part, job.plate.injectors, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/map-parts/{part}", { params: { path } })),
    placeholderData: (before) => before,
  });
  const choose = useAct(
    (asked: { key: string; ron: string | null }) =>
      take(api.POST("/api/jobs/{number}/map-parts/{part}/maps", { params: { path }, body: asked })),
    () => setView(null),
  );
  const whole = useAct(
    (key: string) =>
      take(api.POST("/api/jobs/{number}/map-sets", { params: { path: { number } }, body: { key } })),
    () => setView(null),
  );
  const upload = useAct(
    (file: File) => sendMap(number, part.part, file),
    () => setView(null),
  );
  const views: { value: View; label: string }[] = [
    { value: "choose", label: chosen ? "Choose another" : "Choose" },
    ...(chosen && figures ? [{ value: "figures" as const, label: "Injector figures" }] : []),
    ...(chosen ? [{ value: "settings" as const, label: borrowed ? "Figures" : "Settings" }] : []),
    ...(chosen ? [{ value: "sheet" as const, label: "Sheet" }] : []),
    ...(chosen ? [{ value: "versions" as const, label: "Versions" }] : []),
    ...(part.begins ? [{ value: "begin" as const, label: "Begin it here" }] : []),
    ...(!part.written && (borrowed || !chosen)
      ? [{ value: "other" as const, label: "Another program's table" }]
      : []),
  ];
  return (
    <>
      <div className="sheet row" style={{ justifyContent: "space-between" }}>
        <div style={{ flex: "1 1 360px" }}>
          <b>
            {part.device}: {borrowed ? "tables of another program" : part.title}
            {chosen && `, ${part.map} ${part.version}`}
          </b>
          {shown === "choose" && (
            <div className="soft">
              It holds {part.holds}. In: {part.enters}. Proof: {part.proof}.
            </div>
          )}
        </div>
        <div className="row">
          {chosen && !borrowed && part.form !== "full" && part.form !== "driver" && (
            <Link to={`/jobs/${number}/card/${part.part}`}>Card to print</Link>
          )}
          {!viewer && (
            <Upload
              accept=".json,.xlsx,.hex"
              showUploadList={false}
              beforeUpload={(file) => (upload.mutate(file), false)}
            >
              <Button loading={upload.isPending}>Map from a file</Button>
            </Upload>
          )}
        </div>
      </div>
      <Segmented value={shown} onChange={setView} options={views} style={{ margin: "4px 0 10px" }} />
      {shown === "choose" && maps.error && <p className="sheet">{maps.error.message}</p>}
      {shown === "choose" && maps.data && (
        <Candidates
          found={maps.data.candidates}
          busy={choose.isPending || whole.isPending}
          onSet={viewer ? undefined : (key) => whole.mutate(key)}
          onChoose={viewer ? undefined : (key, ron) => choose.mutate({ key, ron })}
        />
      )}
      {shown === "choose" && !viewer && (
        <Catalogue number={number} part={part.part} onTaken={() => setView(null)} />
      )}
      {shown === "figures" && <WrittenFigures job={job} />}
      {shown === "settings" && <SheetSettings number={number} part={part.part} viewer={viewer} />}
      {shown === "sheet" && <MapSheet number={number} part={part.part} viewer={viewer} />}
      {shown === "sheet" && borrowed && <BorrowedBack number={number} part={part.part} viewer={viewer} />}
      {shown === "begin" && <BeginMap number={number} part={part.part} onBegun={() => setView("settings")} />}
      {shown === "other" && <Borrowed number={number} part={part.part} onTaken={() => setView("sheet")} />}
      {!part.written && job.plate.injectors && <ToCopy number={number} />}
      {shown === "versions" && <Versions number={number} part={part.part} maps={maps.data} viewer={viewer} />}
    </>
  );
}

function Versions({
  number,
  part,
  maps,
  viewer,
}: {
  number: string;
  part: string;
  maps?: Schemas["PartMaps"];
  viewer: boolean;
}) {
  const { sheet } = useSheet(number, part);
  return (
    <>
      <Lineage number={number} part={part} tables={sheet.data?.tables.map((one) => one.name) ?? []} />
      {!viewer && (
        <div className="row">
          {maps?.versions.map((version) => (
            <span key={version.id} className="row">
              <span className="num">
                {version.version}, CRC-32 {version.crc32},{" "}
                {version.loaded ? "was loaded, verified" : "not in a computer"}
              </span>
              <KeepMap number={number} version={version} />
            </span>
          ))}
        </div>
      )}
    </>
  );
}

/** Flow and dead time of the map that is written from here. */
function WrittenFigures({ job }: { job: Job }) {
  const number = job.plate.number;
  const base = useQuery({
    meta: { shown: true },
    queryKey: ["base-map", number, job.plate.injectors, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/base-map", { params: { path: { number } } })),
    placeholderData: (before) => before,
  });
  if (!base.data?.current)
    return base.error ? <p className="sheet">{base.error.message}</p> : <div className="wait" />;
  return (
    <Figures
      job={job}
      sheet={base.data.sheet}
      current={base.data.current}
      fluid={base.data.fluid}
      referenced={base.data.referenced}
      key={base.data.versions.at(-1)?.sha256}
    />
  );
}

async function sendMap(number: string, part: string, file: File) {
  const body = new FormData();
  body.append("file", file);
  const answer = await fetch(`/api/jobs/${number}/map-parts/${part}/files`, {
    method: "POST",
    body,
    headers: { "X-CSRFToken": csrf() },
  });
  const told = await answer.json();
  if (!answer.ok) throw new ApiError(told.sentence, told.field, answer.status);
  return told as Schemas["VersionOut"];
}
