import { Button, Input, Radio } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";

/** A link that does not come up: looked at rung by rung; the ledger says where it fails. */
export function LinkLadder({ number, viewer }: { number: string; viewer: boolean }) {
  const [open, setOpen] = useState(false);
  const [answers, setAnswers] = useState<Record<string, boolean>>({});
  const [ohms, setOhms] = useState("");
  const rungs = useQuery({
    queryKey: ["ladder", number],
    enabled: open,
    queryFn: () => take(api.GET("/api/jobs/{number}/link-ladder", { params: { path: { number } } })),
  });
  const climb = useAct(() =>
    take(
      api.POST("/api/jobs/{number}/link-ladder", { params: { path: { number } }, body: { answers, ohms } }),
    ),
  );
  if (viewer) return null;
  if (!open)
    return (
      <p>
        <Button type="link" style={{ padding: 0 }} onClick={() => setOpen(true)}>
          The link does not come up
        </Button>
      </p>
    );
  const failed = rungs.data?.findIndex((rung) => answers[rung.key] === false) ?? -1;
  const shown = failed < 0 ? rungs.data : rungs.data?.slice(0, failed + 1);
  const all = !!rungs.data?.length && rungs.data.every((rung) => answers[rung.key]);
  return (
    <div className="sheet">
      <h2>The link does not come up</h2>
      <table className="plain">
        <tbody>
          {shown?.map((rung) => (
            <tr key={rung.key}>
              <td>
                {rung.ask}
                {answers[rung.key] === false && (
                  <div style={{ color: "var(--ochre)" }}>
                    <b>{rung.mend}</b>
                  </div>
                )}
              </td>
              <td className="r">
                <Radio.Group
                  optionType="button"
                  value={answers[rung.key] ?? null}
                  onChange={(event) => setAnswers({ ...answers, [rung.key]: event.target.value })}
                  options={[
                    { value: true, label: "yes" },
                    { value: false, label: "no" },
                  ]}
                />
              </td>
            </tr>
          ))}
          {all && (
            <tr>
              <td>Power off: what is between the two wires of the bus?</td>
              <td className="r">
                <Input
                  aria-label="Between the wires"
                  style={{ width: 120 }}
                  value={ohms}
                  placeholder="60"
                  suffix="Ω"
                  onChange={(event) => setOhms(event.target.value)}
                />
              </td>
            </tr>
          )}
        </tbody>
      </table>
      <Button
        type="primary"
        style={{ marginTop: 10 }}
        loading={climb.isPending}
        disabled={failed < 0 && !(all && ohms.trim())}
        onClick={() => climb.mutate(undefined)}
      >
        Enter what was found
      </Button>
    </div>
  );
}
