import { Alert, Button, Checkbox, Form, Input, InputNumber, Select } from "antd";
import { useEffect, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { RulesNote } from "./RulesNote";
import { RunSheet } from "../../parts/RunSheet";
import { SymptomHelper } from "../../parts/SymptomHelper";
import { VariantFinder } from "./VariantFinder";

const CHANGES = ["exhaust", "filter", "catalyst", "intercooler", "cams", "injectors", "pump"];

const GOALS = [
  ["street", "street: drivability and mid-range"], ["track", "track: repeatable, temperature margin"], ["tow", "tow: torque low down"],
  ["economy", "economy"], ["learner", "learner: limited"], ["peak", "peak figure"],
].map(([value, label]) => ({ value, label }));

/** Who, which vehicle, what for. */
export default function Intake({ job }: { job: Job }) {
  const { plate } = job;
  const [form] = Form.useForm<Schemas["IntakeIn"]>();
  const [wrong, setWrong] = useState<ApiError | null>(null);
  const viewer = useSession().data?.role === "viewer";
  const save = useAct(
    (entered: Schemas["IntakeIn"]) => take(api.PUT("/api/jobs/{number}/intake", { params: { path: { number: plate.number } }, body: entered })).catch((error: ApiError) => {
      setWrong(error);
      throw error;
    }),
    () => setWrong(null),
  );
  const finish = (entered: Schemas["IntakeIn"]) => save.mutate({ ...entered, ethanol: entered.ethanol / 100, revision: plate.revision, odometer_km: entered.odometer_km ?? null });
  const field = (name: string) => (wrong?.field === name ? { validateStatus: "error" as const, help: wrong.message } : {});
  const path = { params: { path: { number: plate.number } } };
  // The form stands first; what lies below the fold follows in the next frame.
  const [settled, setSettled] = useState(false);
  useEffect(() => {
    const soon = setTimeout(() => setSettled(true), 30);
    return () => clearTimeout(soon);
  }, []);
  const diagnosis = useQuery({ queryKey: ["diagnosis", plate.number], queryFn: () => take(api.GET("/api/jobs/{number}/diagnosis", path)) });
  const keep = (complaint: string, signs: Record<string, boolean>) => take(api.PUT("/api/jobs/{number}/diagnosis", { ...path, body: { complaint, signs } }));
  return (
    <>
      <div className="title"><h1>Who, which vehicle, what for</h1></div>
      <div className="sheet">
        <Form form={form} layout="vertical" className="tight" requiredMark={false} disabled={viewer} initialValues={{ ...plate, ethanol: Math.round(1000 * plate.ethanol) / 10 }} onFinish={finish}>
          <div className="cols">
            <Form.Item name="vin" label="VIN, from the plate" {...field("vin")}><Input className="num" maxLength={20} /></Form.Item>
            <Form.Item name="registration" label="Registration"><Input /></Form.Item>
            <Form.Item name="owner" label="Owner"><Input /></Form.Item>
            <Form.Item name="odometer_km" label="Odometer"><InputNumber suffix="km" min={0} style={{ width: "100%" }} /></Form.Item>
            <Form.Item name="goal" label="Goal"><Select options={GOALS} /></Form.Item>
            <Form.Item name="power_goal_kw" label="Power goal at the crank, sea level" {...field("power_goal_kw")}><InputNumber suffix="kW" style={{ width: "100%" }} /></Form.Item>
            <Form.Item name="ron" label="Octane in the tank" {...field("ron")}><InputNumber suffix="RON" style={{ width: "100%" }} /></Form.Item>
            <Form.Item name="ethanol" label="Ethanol in the tank" {...field("ethanol")}><InputNumber suffix="%" style={{ width: "100%" }} /></Form.Item>
            <Form.Item name="altitude_m" label="Altitude of the shop" {...field("altitude_m")}><InputNumber suffix="m" style={{ width: "100%" }} /></Form.Item>
          </div>
          <Form.Item name="changes" label="Changed already"><Checkbox.Group options={CHANGES} /></Form.Item>
          <Form.Item name="complaint" label="Complaint, in the owner's words"><Input.TextArea rows={2} /></Form.Item>
          {wrong && <Alert type="error" title={wrong.message} style={{ marginBottom: 12 }} />}
          {!viewer && <Button type="primary" htmlType="submit" size="large" loading={save.isPending}>Save intake</Button>}
        </Form>
      </div>
      {settled && (
        <>
          <VariantFinder job={job} viewer={viewer} />
          <RunSheet job={job} stage="intake" />
          <RulesNote number={plate.number} />
          <SymptomHelper viewer={viewer} kept={diagnosis.data} keep={keep} />
        </>
      )}
    </>
  );
}
