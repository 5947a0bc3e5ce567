import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { api, take, type Step } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { said } from "../figures/said";

/** A step that does not apply to this job: the lead says why, and the report tells it. */
export function SetAside({ number, step }: { number: string; step: Step }) {
  const lead = useSession().data?.role === "lead";
  const [open, setOpen] = useState(false);
  const [because, setBecause] = useState("");
  const act = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/steps/{key}/set-aside", {
          params: { path: { number, key: step.key } },
          body: { because },
        }),
      ),
    () => setOpen(false),
  );
  if (!lead || !step.aside) return null;
  return (
    <>
      <Button type="link" style={{ paddingLeft: 0, marginTop: 6 }} onClick={() => setOpen(true)}>
        Does not apply to this job
      </Button>
      <Modal
        open={open}
        title={`Does not apply: ${step.title}`}
        okText="Record it"
        onCancel={() => setOpen(false)}
        onOk={() => act.mutate(undefined)}
        confirmLoading={act.isPending}
        okButtonProps={{ disabled: !said(because) }}
      >
        <p style={{ marginBottom: 10 }}>The report tells the owner that it was not done, and why.</p>
        <Input.TextArea
          autoFocus
          rows={3}
          value={because}
          onChange={(event) => setBecause(event.target.value)}
          aria-label="Why it does not apply"
        />
      </Modal>
    </>
  );
}
