import { Button, Input } from "antd";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../figures/said";

/** What was edited becomes the next version, with a line that says why. */
export function KeepSheet({
  number,
  part,
  sheet,
}: {
  number: string;
  part: string;
  sheet: Schemas["SheetOut"];
}) {
  const [note, setNote] = useState("");
  const keep = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/sheets/{part}/kept", {
          params: { path: { number, part } },
          body: { note },
        }),
      ),
    () => setNote(""),
  );
  if (!sheet.changed) return null;
  return (
    <div className="sheet row" style={{ alignItems: "flex-end" }}>
      <label style={{ flex: "1 1 320px" }}>
        Why it was changed
        <Input
          size="large"
          value={note}
          maxLength={200}
          onChange={(event) => setNote(event.target.value)}
          placeholder="e.g. lean at 4 200 rpm in log 3"
        />
      </label>
      <Button
        type="primary"
        size="large"
        loading={keep.isPending}
        disabled={!said(note)}
        onClick={() => keep.mutate(undefined)}
      >
        Keep as the next version ({sheet.changed} changed)
      </Button>
    </div>
  );
}
