import { App, Button, Input, Modal } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../../parts/figures/said";

/** A version that proved right goes onto the shelf of maps under a name, for the next vehicle of the kind. */
export function KeepMap({ number, version }: { number: string; version: Schemas["VersionOut"] }) {
  const [name, setName] = useState<string | null>(null);
  const { message } = App.useApp();
  const keep = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/maps/{version_id}/shelved", {
          params: { path: { number, version_id: version.id } },
          body: { name: name ?? "" },
        }),
      ),
    (done) => (setName(null), void message.success(done.sentence)),
  );
  return (
    <>
      <Button type="text" onClick={() => setName("")}>
        Keep for the next one
      </Button>
      <Modal
        open={name !== null}
        title={`Map ${version.version}, onto the shelf`}
        okText="Keep it"
        onCancel={() => setName(null)}
        okButtonProps={{ disabled: !said(name) }}
        confirmLoading={keep.isPending}
        onOk={() => keep.mutate(undefined)}
      >
        <p className="soft">The number of this one vehicle does not go with it.</p>
        <Input
          autoFocus
          size="large"
          aria-label="Name of the map"
          value={name ?? ""}
          onChange={(event) => setName(event.target.value)}
        />
      </Modal>
    </>
  );
}
