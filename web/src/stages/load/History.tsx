import { Button } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Writes } from "../../parts/steps/Writes";

/** A dry run before the write, and every write that this vehicle ever had. */
export function History({ number, viewer }: { number: string; viewer: boolean }) {
  const [said, setSaid] = useState("");
  const dry = useAct<void, Schemas["DryRunOut"]>(
    () => take(api.POST("/api/jobs/{number}/dry-runs", { params: { path: { number } } })),
    (got) => setSaid(got.sentence),
  );
  return (
    <div className="sheet">
      <div className="row">
        {!viewer && (
          <Button size="large" loading={dry.isPending} onClick={() => dry.mutate(undefined)}>
            Dry run
          </Button>
        )}
        <span className="soft" role="status">
          {said || "Session, key and a few blocks read; nothing is erased or written."}
        </span>
      </div>
      <Writes number={number} />
    </div>
  );
}
