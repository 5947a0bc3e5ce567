import { Button, Form, Input, Modal, Select } from "antd";
import { useEffect, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { api, take, type Schemas } from "../api/client";
import { useAct, useSession } from "../api/hooks";
import { DropLog } from "../parts/DropLog";
import { SlatGlyph } from "../parts/Glyphs";
import { Countdown } from "../parts/Countdown";
import { Num } from "../parts/Num";

/** The floor: what each job needs next, and a place to drop any log. */
export function FloorPage({ all = false }: { all?: boolean }) {
  const session = useSession().data;
  const go = useNavigate();
  const jobs = useQuery({
    queryKey: ["jobs"],
    queryFn: () => take(api.GET("/api/jobs")),
    refetchInterval: 3000,
  });
  const [opening, setOpening] = useState(false);
  useEffect(() => {
    document.title = `${all ? "Jobs" : "Floor"} · Vent Map`;
  }, [all]);
  return (
    <main className="floor" id="work">
      <div className="title">
        <h1>{all ? "Jobs" : "On the floor"}</h1>
        <span className="soft">
          {session?.house}, {session?.town} · <Num value={session?.altitude_m} unit="m" />
        </span>
        <div className="end">
          {session?.role !== "viewer" && (
            <Button type="primary" onClick={() => setOpening(true)}>
              Open a job
            </Button>
          )}
        </div>
      </div>
      {jobs.data?.length === 0 && (
        <p className="sheet">No job is open. Open one for the vehicle that stands in the bay.</p>
      )}
      {jobs.data?.map((job) => (
        <JobLine key={job.number} job={job} />
      ))}
      {!all && (
        <>
          <h2 style={{ margin: "18px 0 8px" }}>A look at any log</h2>
          <DropLog
            onRead={(log) => void go(`/look/${log.id}`)}
            hint="Drop a datalog here, or choose a file: it is read and judged without a job."
          />
        </>
      )}
      {opening && <OpenJob onClose={() => setOpening(false)} />}
    </main>
  );
}

function JobLine({ job }: { job: Schemas["JobRow"] }) {
  return (
    <article className="sheet jobline">
      <Link
        to={`/jobs/${job.number}/${job.stage}`}
        style={{ font: "600 24px 'Barlow Condensed'", textDecoration: "none" }}
      >
        {job.number}
      </Link>
      <div>
        <b>{job.vehicle}</b>
        <div className="soft">
          {job.registration} · {job.owner}
        </div>
        <div className="soft">
          {job.kit} · {job.goal}
        </div>
      </div>
      <div>
        <div
          className="mini"
          role="img"
          aria-label={job.slats.map((s) => `${s.label} ${s.state}`).join(", ")}
        >
          {job.slats.map((slat) => (
            <i key={slat.key} className={slat.state} title={`${slat.label}: ${slat.state}`} />
          ))}
        </div>
        <div className="soft" style={{ marginTop: 5, display: "flex", gap: 12 }}>
          <span>{job.stage_label}</span>
          {job.holds > 0 && (
            <span style={{ color: "var(--ochre)" }}>
              <SlatGlyph state="held" /> {job.holds} held
            </span>
          )}
          {job.stops > 0 && (
            <span style={{ color: "var(--oxide)" }}>
              <SlatGlyph state="stopped" /> {job.stops} stopped
            </span>
          )}
        </div>
      </div>
      <div>
        <span className="soft">Next</span> <b>{job.next}</b>
        {job.timers.map((timer) => (
          <div key={timer.id}>
            {timer.label} <Countdown endsAt={timer.ends_at} />
          </div>
        ))}
      </div>
      <Link to={`/jobs/${job.number}/${job.stage}`}>
        <Button type="primary">Go on</Button>
      </Link>
    </article>
  );
}

/** Vehicles of the shelf under their kinds, for a list that is searched. */
function byKind(items: { key: string; name: string; body: Record<string, unknown> }[]) {
  const kinds = [...new Set(items.map((item) => String(item.body.kind)))].sort();
  return kinds.map((kind) => ({
    label: kind,
    options: items
      .filter((item) => item.body.kind === kind)
      .map((item) => ({ value: item.key, label: item.name })),
  }));
}

function OpenJob({ onClose }: { onClose: () => void }) {
  const go = useNavigate();
  const vehicles = useQuery({
    queryKey: ["shelf", "vehicle"],
    queryFn: () => take(api.GET("/api/shelf-items", { params: { query: { kind: "vehicle" } } })),
  });
  const open = useAct(
    (body: Schemas["NewJob"]) => take(api.POST("/api/jobs", { body })),
    (job) => void go(`/jobs/${job.number}/intake`),
  );
  const first = vehicles.data?.[0]?.key;
  return (
    <Modal open onCancel={onClose} title="Open a job" footer={null}>
      {vehicles.data && !first && (
        <p>
          The shelf holds no vehicle yet. <Link to="/shelf/vehicle">Add one on the Shelf</Link>, or bring a
          JSON file there; then open the job.
        </p>
      )}
      {first && (
        <Form
          layout="vertical"
          requiredMark={false}
          initialValues={{ registration: "", owner: "" }}
          onFinish={(entered) => open.mutate(entered)}
        >
          <Form.Item
            name="vehicle"
            label="Vehicle"
            rules={[{ required: true, message: "Which vehicle is it?" }]}
          >
            <Select
              showSearch={{ optionFilterProp: "label" }}
              placeholder="Type a name, or choose by kind"
              options={byKind(vehicles.data ?? [])}
            />
          </Form.Item>
          <Form.Item name="registration" label="Registration">
            <Input />
          </Form.Item>
          <Form.Item name="owner" label="Owner" rules={[{ required: true, message: "Whose vehicle is it?" }]}>
            <Input />
          </Form.Item>
          <Button type="primary" htmlType="submit" loading={open.isPending} block>
            Open
          </Button>
        </Form>
      )}
    </Modal>
  );
}
