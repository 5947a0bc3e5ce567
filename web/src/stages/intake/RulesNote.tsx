import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { Num } from "../../parts/figures/Num";

/** A job keeps the rules it was opened under; where the shop's have changed since, it says so. */
export function RulesNote({ number }: { number: string }) {
  const lead = useSession().data?.role === "lead";
  const path = { params: { path: { number } } };
  const apart = useQuery({
    queryKey: ["job-rules", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/house-rules", path)),
  });
  const adopt = useAct(() => take(api.POST("/api/jobs/{number}/house-rules", path)));
  if (!apart.data?.length) return null;
  return (
    <div className="sheet">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>House rules changed since this job was opened</h2>
        {lead && (
          <Button loading={adopt.isPending} onClick={() => adopt.mutate(undefined)}>
            Judge it by today's from here on
          </Button>
        )}
      </div>
      {apart.data.map((rule) => (
        <div key={rule.key}>
          {rule.text}: here <Num value={rule.job} unit={rule.unit} />, today{" "}
          <Num value={rule.today} unit={rule.unit} />
        </div>
      ))}
    </div>
  );
}
