import { Alert, Button, Segmented } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, take, type Job } from "../../api/client";
import { NotYet } from "../../parts/steps/NotYet";
import { useAct, useSession } from "../../api/hooks";
import { plain } from "../../parts/figures/Num";
import { Cells } from "./Cells";
import { Rounds } from "./Rounds";
import { Scalars } from "./Scalars";

/** What the log says about the map: scalars first, then cells, each with its evidence; accept all or some. */
export default function Correct({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const go = useNavigate();
  const [view, setView] = useState<"before" | "proposal" | "change">("proposal");
  const [scalars, setScalars] = useState(true);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const [picked, setPicked] = useState<[number, number] | null>(null);
  const proposal = useQuery({
    meta: { shown: true },
    queryKey: ["proposal", number, scalars],
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/proposal", {
          params: { path: { number }, query: { take_scalars: scalars } },
        }),
      ),
    staleTime: 5000,
    placeholderData: (old, asked) => (asked?.queryKey[1] === number ? old : undefined),
  });
  const judge = useAct((log_id: number) =>
    take(api.POST("/api/jobs/{number}/mixture", { params: { path: { number }, query: { log_id } } })),
  );
  const make = useAct(
    (cells: [number, number][] | null) =>
      take(
        api.POST("/api/jobs/{number}/rounds", {
          params: { path: { number } },
          body: { log_id: proposal.data!.log_id, take_scalars: scalars, cells },
        }),
      ),
    () => void go(`/jobs/${number}/load`),
  );
  if (proposal.error) return <NotYet title="Correct" sentence={proposal.error.message} number={number} />;
  const p = proposal.data;
  if (!p) return <p className="soft">Reading the log…</p>;
  const judged = p.rounds.some((round) => round.version === p.version);
  const cells = p.changed.flatMap((row, i) =>
    row.flatMap((changed, j) => (changed && !left.has(`${i},${j}`) ? [[i, j] as [number, number]] : [])),
  );
  const total = p.changed.flat().filter(Boolean).length;
  const next = `r${Number(/\d+/.exec(p.version)?.[0] ?? 0) + 1}`;
  return (
    <>
      <div className="title">
        <h1>What the log says about filling</h1>
        <span className="soft">
          volumetric efficiency, % · <span className="num">{p.version}</span> in {p.log} · {plain(p.used)}{" "}
          steady samples, sensor delay <span className="num">{p.delay_s} s</span>
        </span>
      </div>
      <div className="sheet row" style={{ justifyContent: "space-between" }}>
        <span>
          <b style={{ fontSize: 19 }} className="num">
            {p.within} %
          </b>{" "}
          of driven time within {p.limits.within} % of target, done at {p.limits.done} %; with all of this
          loaded about <b className="num">{p.next_within} %</b> is expected
          {p.rounds_forced && `; still to go: ${p.rounds_forced}`}
        </span>
        {!viewer &&
          (judged ? (
            <span className="soft">entered in the ledger</span>
          ) : (
            <Button
              type="primary"
              loading={judge.isPending}
              // While another log is being read, what stands here is still the one before.
              disabled={proposal.isFetching}
              onClick={() => judge.mutate(p.log_id)}
            >
              Enter this judgement
            </Button>
          ))}
      </div>
      {p.stale && (
        <Alert
          type="warning"
          title={`A newer map than ${p.version} was made already. Load it and log again before the next round.`}
          style={{ marginBottom: 10 }}
        />
      )}
      <Scalars p={p} take={scalars} viewer={viewer} onTake={setScalars} />
      <div className="row" style={{ justifyContent: "space-between", marginBottom: 8 }}>
        <Segmented
          value={view}
          onChange={(value) => setView(value as typeof view)}
          options={[
            { value: "before", label: "Before" },
            { value: "proposal", label: "Proposal" },
            { value: "change", label: "Change" },
          ]}
        />
        <span className="soft">touch a changed cell to see why; touch it again to leave it out</span>
      </div>
      <Cells
        p={p}
        view={view}
        left={left}
        picked={picked}
        onPick={(i, j) => {
          const key = `${i},${j}`;
          if (picked?.[0] === i && picked[1] === j && p.changed[i][j])
            setLeft((old) => {
              const fresh = new Set(old);
              if (!fresh.delete(key)) fresh.add(key);
              return fresh;
            });
          setPicked([i, j]);
        }}
      />
      <Rounds p={p} picked={picked} />
      {!viewer && !p.stale && (
        <div className="row" style={{ marginTop: 12 }}>
          <Button
            type="primary"
            size="large"
            disabled={proposal.isFetching || (!cells.length && !p.scalars.length)}
            loading={make.isPending}
            onClick={() => make.mutate(left.size ? cells : null)}
          >
            Make map {next} with {cells.length} cells{p.scalars.length ? " and scalars" : ""}
          </Button>
          {total > cells.length && <Button onClick={() => setLeft(new Set())}>Take all {total}</Button>}
          <span className="soft">
            No cell moves its fuel by more than {p.limits.step} % in a round, scalars aside; without evidence
            none goes leaner under load.
          </span>
        </div>
      )}
    </>
  );
}
