import { Input, Modal } from "antd";
import { useState } from "react";
import { api, take, type Entry } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../figures/said";

/** Setting a hold aside, with a name and a reason. */
export function Overrule({ entry, onClose }: { entry: Entry; onClose: () => void }) {
  const [reason, setReason] = useState("");
  const act = useAct(
    () =>
      take(
        api.POST("/api/ledger/{entry_id}/overrule", {
          params: { path: { entry_id: entry.id } },
          body: { reason },
        }),
      ),
    onClose,
  );
  return (
    <Modal
      open
      title={`Overrule: ${entry.title}`}
      onCancel={onClose}
      okText="Overrule"
      onOk={() => act.mutate(undefined)}
      confirmLoading={act.isPending}
      okButtonProps={{ disabled: !said(reason) }}
    >
      <p style={{ marginBottom: 10 }}>
        {entry.text} Your name and the reason stay with the job and stand in the report.
      </p>
      <Input.TextArea
        autoFocus
        rows={3}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        placeholder="Why this is acceptable here"
        aria-label="Reason"
      />
    </Modal>
  );
}
