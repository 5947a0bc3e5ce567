import { Button, InputNumber, Select, Upload } from "antd";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, sendFile, take, type ApiError, type Call, type Job, type Schemas } from "../../api/client";
import { when } from "../figures/when";
import { CallCard } from "../ledger/CallCard";

/** Files of other programs: kept byte for byte; what a tool is about to write or read back is held against them. */
export function ProgramFiles({ job, viewer }: { job: Job; viewer: boolean }) {
  const number = job.plate.number;
  const client = useQueryClient();
  const [role, setRole] = useState("file to write");
  const [round, setRound] = useState(0);
  const [chosen, setPart] = useState<string | null>(null);
  const [wrong, setWrong] = useState("");
  const [call, setCall] = useState<Call | null>(null);
  const kept = useQuery({
    meta: { shown: true },
    queryKey: ["program-files", number, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/files", { params: { path: { number } } })),
    placeholderData: (before) => before,
  });
  const part = chosen ?? kept.data?.parts[0]?.part ?? "";
  if (!kept.data?.parts.length) return null;
  const send = async <T,>(file: File, route: string, more: Record<string, string>): Promise<T | null> => {
    setWrong("");
    const asked = new URLSearchParams({ name: file.name, part, ...more });
    try {
      return await sendFile<T>(`/api/jobs/${number}/${route}?${asked}`, file, () => undefined).done;
    } catch (error) {
      setWrong((error as ApiError).message);
      return null;
    } finally {
      void client.invalidateQueries();
    }
  };
  const pick = (label: string, taken: (file: File) => void, primary = false) => (
    <Upload showUploadList={false} beforeUpload={(file) => (taken(file), false)}>
      <Button type={primary ? "primary" : "default"}>{label}</Button>
    </Upload>
  );
  const hold = async (file: File, readBack: boolean) =>
    setCall(await send<Schemas["CallOut"]>(file, "held-files", { read_back: `${readBack}` }));
  const about = kept.data.roles.find((one) => one.role === role);
  return (
    <section className="sheet" style={{ marginTop: 14 }} aria-label="Files of other programs">
      <span className="head">Files of other programs</span>
      {kept.data.files.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>file</th>
              <th>what it is</th>
              <th className="r">round</th>
              <th>SHA-256</th>
              <th>picked to write, read back</th>
            </tr>
          </thead>
          <tbody>
            {kept.data.files.map((file) => (
              <tr key={file.id}>
                <td>
                  <a href={`/api/jobs/${number}/files/${file.id}/content`}>{file.name}</a>
                  <div className="soft">
                    {file.size} bytes · {file.who}, {when(file.at)}
                  </div>
                </td>
                <td>{file.role}</td>
                <td className="r num">{file.round}</td>
                <td className="num">{file.sha256.slice(0, 12)}</td>
                <td>
                  {file.picked_at ? `picked ${when(file.picked_at)}, ${file.picked_by}` : "not picked yet"}
                  {file.read_back_at && `; read back ${when(file.read_back_at)}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {!viewer && (
        <>
          <div className="row" style={{ alignItems: "flex-end", margin: "8px 0" }}>
            {kept.data.parts.length > 1 && (
              <label className="stacked">
                For
                <Select
                  value={part}
                  onChange={setPart}
                  style={{ minWidth: 200 }}
                  options={kept.data.parts.map((one) => ({ value: one.part, label: one.name }))}
                />
              </label>
            )}
            <label className="stacked">
              What it is
              <Select
                value={role}
                onChange={setRole}
                style={{ minWidth: 170 }}
                options={kept.data.roles.map((one) => ({ value: one.role, label: one.role }))}
              />
            </label>
            <span className="stacked">
              Round
              <InputNumber
                min={0}
                max={999}
                value={round}
                onChange={(value) => setRound(value ?? 0)}
                aria-label="Round of the file"
              />
            </span>
            {pick("Keep a file", (file) => void send(file, "files", { role, round: `${round}` }))}
          </div>
          {about && (
            <p className="soft">{about.what_for}. Nobody looks into it: a file is what its bytes are.</p>
          )}
          <div className="row" style={{ margin: "8px 0" }}>
            {pick("Hold what will be written against it", (file) => void hold(file, false), true)}
            {pick("Hold what was read back", (file) => void hold(file, true))}
          </div>
        </>
      )}
      {wrong && <p className="sheet unsent">{wrong}</p>}
      {call && (
        <CallCard
          verdict={call.verdict}
          title={call.title}
          because={call.because}
          next={call.do_next}
          source={call.source}
        />
      )}
    </section>
  );
}
