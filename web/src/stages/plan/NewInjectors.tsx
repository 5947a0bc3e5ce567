import { Button, Checkbox, Input, Modal, Radio } from "antd";
import { useState } from "react";
import { api, take, type ApiError, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Photos } from "../../parts/steps/Photos";
import { SOURCES } from "../../parts/steps/AskForm";

type Body = Schemas["NewInjectorsIn"];

/** A sheet of injectors typed or pasted, or those that are in left as they are. */
export function NewInjectors({ job }: { job: Job }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<Partial<Body>>({});
  const [wrong, setWrong] = useState<ApiError | null>(null);
  const path = { params: { path: { number: job.plate.number } } };
  const keep = useAct(
    () =>
      take(api.POST("/api/jobs/{number}/kit/new-injectors", { ...path, body: typed as Body })).catch(
        (error: ApiError) => {
          setWrong(error);
          throw error;
        },
      ),
    () => (setOpen(false), setTyped({}), setWrong(null)),
  );
  const stay = useAct(() => take(api.PUT("/api/jobs/{number}/plan", { ...path, body: { injectors: "" } })));
  const set = (field: keyof Body, value: unknown) => setTyped({ ...typed, [field]: value });
  const text = (field: keyof Body, label: string, placeholder = "") => (
    <label className="tap">
      <span className="soft">{label}</span>
      <Input
        size="large"
        aria-label={label}
        className={placeholder ? "num" : undefined}
        placeholder={placeholder}
        status={wrong?.field === field ? "error" : undefined}
        value={(typed[field] as string | undefined) ?? ""}
        onChange={(event) => set(field, event.target.value)}
      />
    </label>
  );
  const choice = (field: keyof Body, label: string, values: readonly string[]) => (
    <div className="tap" role="group" aria-label={label}>
      <span className="soft">{label}</span>
      <Radio.Group
        value={typed[field]}
        onChange={(event) => set(field, event.target.value)}
        optionType="button"
        buttonStyle="solid"
        options={[...values]}
      />
    </div>
  );
  const ready = typed.name && typed.flow && typed.rated && typed.fluid && typed.source;
  return (
    <div className="row" style={{ marginTop: 10 }}>
      <Button onClick={() => setOpen(true)}>Type a sheet of injectors</Button>
      <Button loading={stay.isPending} onClick={() => stay.mutate(undefined)}>
        Those that are in stay
      </Button>
      <Modal
        open={open}
        title="A sheet of injectors, onto the shelf"
        width={640}
        onCancel={() => setOpen(false)}
        okText="Keep the sheet"
        okButtonProps={{ disabled: !ready, size: "large" }}
        confirmLoading={keep.isPending}
        onOk={() => keep.mutate(undefined)}
      >
        {text("name", "Name or part number")}
        <div className="cols">
          {text("flow", "Static flow of each", "440 cm³/min")}
          {text("rated", "Rated at", "300 kPa")}
          {text("ohms", "Resistance, where the sheet gives it", "12 Ω")}
        </div>
        {choice("fluid", "Test fluid of the sheet", ["petrol", "n-heptane", "diesel test oil"])}
        <label className="tap">
          <span className="soft">
            Dead times: copy the table off the sheet and paste it, in any orientation
          </span>
          <Input.TextArea
            aria-label="Dead times, pasted"
            className="num"
            autoSize={{ minRows: 3, maxRows: 10 }}
            placeholder={"V \\ kPa\t250\t300\t400\n8\t1.82\t1.90\t2.05\n14\t0.71\t0.74\t0.80"}
            value={typed.dead_time ?? ""}
            onChange={(event) => set("dead_time", event.target.value)}
          />
        </label>
        <div className="tap">
          <span className="soft">A picture of the sheet, kept with the job</span>
          <Photos number={job.plate.number} step="plan.injectors" viewer={false} />
        </div>
        {choice("source", "Where these figures come from", SOURCES)}
        <Checkbox checked={typed.stock ?? false} onChange={(event) => set("stock", event.target.checked)}>
          These are the ones that are in now
        </Checkbox>
        {wrong && (
          <p role="alert" style={{ color: "var(--oxide)", marginTop: 8 }}>
            {wrong.message}
          </p>
        )}
      </Modal>
    </div>
  );
}
