import { Button, Checkbox, Popconfirm } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

/** Whether a look is kept beyond its month, and its end: the file goes, the ledger keeps that it was there. */
export function LogKeeping({ log, onGone }: { log: Schemas["LogOut"]; onGone: () => void }) {
  const client = useQueryClient();
  const go = useNavigate();
  const path = { params: { path: { log_id: log.id } } };
  const keep = useAct(
    (kept: boolean) => take(api.PUT("/api/logs/{log_id}/kept", { ...path, body: { kept } })),
    (got) => client.setQueryData(["log", String(log.id)], got),
  );
  const remove = useAct(
    () => take(api.DELETE("/api/logs/{log_id}", path)),
    () => {
      onGone();
      void client.invalidateQueries();
      if (!log.job) void go("/look");
    },
  );
  if (!log.may_delete) return null;
  return (
    <div className="row" style={{ margin: "12px 0" }}>
      {!log.job && (
        <Checkbox checked={log.kept} onChange={(event) => keep.mutate(event.target.checked)}>
          keep it longer than 30 days
        </Checkbox>
      )}
      <Popconfirm
        title="Delete this log and its file for good?"
        okText="Delete it"
        cancelText="No"
        onConfirm={() => remove.mutate(undefined)}
      >
        <Button danger loading={remove.isPending}>
          Delete this log
        </Button>
      </Popconfirm>
    </div>
  );
}
