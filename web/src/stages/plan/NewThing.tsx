import { Button, Input, Modal, Radio } from "antd";
import { useState } from "react";
import { api, take, type Job } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../../parts/figures/said";

/** A device or pump that no shelf knows: kind and name; what its fitting needs is asked as its step comes. */
export function NewThing({ job, kinds }: { job: Job; kinds: string[] }) {
  const [open, setOpen] = useState<"device" | "pump" | null>(null);
  const [kind, setKind] = useState("");
  const [name, setName] = useState("");
  const path = { params: { path: { number: job.plate.number } } };
  const keep = useAct(
    () =>
      open === "device"
        ? take(api.POST("/api/jobs/{number}/kit/new-device", { ...path, body: { kind, name } }))
        : take(api.POST("/api/jobs/{number}/kit/new-pump", { ...path, body: { name } })),
    () => (setOpen(null), setName(""), setKind("")),
  );
  return (
    <div className="sheet row">
      <span className="soft">Not on the shelf?</span>
      <Button onClick={() => setOpen("device")}>A device that is not there</Button>
      <Button onClick={() => setOpen("pump")}>A pump that is not there</Button>
      <Modal
        open={open !== null}
        title={`A new ${open ?? "thing"}, onto the shelf and into the kit`}
        onCancel={() => setOpen(null)}
        okText="Take it"
        okButtonProps={{ disabled: !said(name) || (open === "device" && !kind), size: "large" }}
        confirmLoading={keep.isPending}
        onOk={() => keep.mutate(undefined)}
      >
        {open === "device" && (
          <div className="tap" role="group" aria-label="Kind of device">
            <span className="soft">Kind of device</span>
            <Radio.Group
              value={kind}
              onChange={(event) => setKind(event.target.value)}
              optionType="button"
              buttonStyle="solid"
              options={kinds}
            />
          </div>
        )}
        <label className="tap">
          <span className="soft">What is it called?</span>
          <Input
            size="large"
            aria-label={`Name of the ${open ?? "thing"}`}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <p className="soft">
          What its fitting needs (grounds, locks, twins, levels, torques) is asked as its step comes, and kept
          for the next one.
        </p>
      </Modal>
    </div>
  );
}
