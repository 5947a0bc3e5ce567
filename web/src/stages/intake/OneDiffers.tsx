import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { api, take, type ApiError, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

const FIELDS: [keyof Schemas["VariantIn"], string, string][] = [
  ["name", "What is this one called?", "the name of the model and what tells it apart"],
  ["tell_tale", "What is looked at to tell them apart?", "like: plug of the computer"],
  ["here", "What does it show here?", "like: 112 pins"],
  ["there", "What does it show on the other?", "like: 94 pins"],
];

/** This one differs from the one on the shelf: a variant of its own, and what tells them apart. */
export function OneDiffers({ job }: { job: Job }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<Schemas["VariantIn"]>({ name: "", tell_tale: "", here: "", there: "" });
  const [wrong, setWrong] = useState<ApiError | null>(null);
  const make = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/variant", {
          params: { path: { number: job.plate.number } },
          body: typed,
        }),
      ).catch((error: ApiError) => {
        setWrong(error);
        throw error;
      }),
    () => (setOpen(false), setWrong(null)),
  );
  return (
    <div className="sheet row">
      <span className="soft">Not quite {job.plate.vehicle}?</span>
      <Button onClick={() => setOpen(true)}>This one differs</Button>
      <Modal
        open={open}
        title={`A variant of ${job.plate.vehicle}`}
        okText="Make the variant"
        onCancel={() => setOpen(false)}
        confirmLoading={make.isPending}
        onOk={() => make.mutate(undefined)}
      >
        <p className="soft">
          It starts with all that is known of {job.plate.vehicle}; change what differs where a step shows it.
          Next time the tell-tale asks which of the two stands here.
        </p>
        {FIELDS.map(([field, label, hint]) => (
          <label key={field} className="tap">
            <span className="soft">{label}</span>
            <Input
              size="large"
              aria-label={label}
              placeholder={hint}
              value={typed[field]}
              status={wrong?.field === field ? "error" : undefined}
              onChange={(event) => setTyped({ ...typed, [field]: event.target.value })}
            />
          </label>
        ))}
        {wrong && (
          <p role="alert" style={{ color: "var(--oxide)" }}>
            {wrong.message}
          </p>
        )}
      </Modal>
    </div>
  );
}
