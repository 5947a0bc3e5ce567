import { Button, Input, Segmented } from "antd";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { api, take, type Entry, type Job } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { CallCard } from "./CallCard";
import { Num } from "../figures/Num";
import { Overrule } from "./Overrule";

const day = (at: string) => new Date(at).toLocaleDateString([], { day: "numeric", month: "short" });
const time = (at: string) =>
  new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

/** The running record at the right: calls that stand in this slat first, then everything, newest first. */
export function Ledger({ job, stage }: { job: Job; stage: string }) {
  const [scope, setScope] = useState<"slat" | "job">("slat");
  const [overruling, setOverruling] = useState<Entry | null>(null);
  const [note, setNote] = useState("");
  const viewer = useSession().data?.role === "viewer";
  const add = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/notes", {
          params: { path: { number: job.plate.number } },
          body: { stage, text: note },
        }),
      ),
    () => setNote(""),
    // A note that waits on the tablet is not left in the field, where a second tap would write it twice.
    () => setNote(""),
  );
  const [all, setAll] = useState(false);
  const whole = useQuery({
    queryKey: ["ledger", job.plate.number, job.plate.revision],
    enabled: all && job.ledger_older > 0,
    queryFn: () =>
      take(api.GET("/api/jobs/{number}/ledger", { params: { path: { number: job.plate.number } } })),
    placeholderData: (old) => old,
  });
  const here = ((all && whole.data) || job.ledger).filter(
    (entry) => scope === "job" || entry.stage === stage,
  );
  const standing = here
    .filter((entry) => entry.kind === "call" && entry.standing)
    .sort((a, b) => weight(b) - weight(a));
  const rest = here.filter((entry) => !(entry.kind === "call" && entry.standing));
  return (
    <aside className="ledger" aria-label="Ledger">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <span className="head">Ledger</span>
        <Segmented
          size="small"
          value={scope}
          onChange={(value) => setScope(value as "slat" | "job")}
          options={[
            { value: "slat", label: "This slat" },
            { value: "job", label: "Whole job" },
          ]}
        />
      </div>
      {standing.map((entry) => (
        <CallCard
          key={entry.id}
          verdict={entry.verdict}
          help={entry.stage}
          title={entry.title}
          because={entry.evidence}
          next={entry.text}
          source={entry.source}
          by={`${day(entry.at) === day(new Date().toISOString()) ? "" : `${day(entry.at)} `}${time(entry.at)} ${entry.who}`}
          aside={
            entry.overruled_by ? `Overruled by ${entry.overruled_by}: ${entry.overruled_reason}` : undefined
          }
          onOverrule={entry.may_be_overruled && !viewer ? () => setOverruling(entry) : undefined}
        >
          {entry.changed && <div className="by">Judged again: {entry.changed}.</div>}
          {entry.rests.length > 0 && (
            <details className="by">
              <summary>Rests on</summary>
              {entry.rests.map((fact) => (
                <div key={fact}>{fact}</div>
              ))}
            </details>
          )}
          {entry.verdict === "stop" && entry.protects && !entry.overruled_by && (
            <div className="by">Protects {entry.protects}: cannot be overruled.</div>
          )}
        </CallCard>
      ))}
      {!here.length && (
        <p className="soft">Nothing yet. Every reading and judgement of this slat will stand here.</p>
      )}
      {rest.length > 0 && <span className="head">Earlier</span>}
      {rest.map((entry, n) => (
        <Fragment key={entry.id}>
          {day(entry.at) !== (n ? day(rest[n - 1].at) : day(new Date().toISOString())) && (
            <span className="soft num" style={{ fontSize: 13 }}>
              {day(entry.at)}
            </span>
          )}
          <div className="entry">
            <span className="num">{time(entry.at)}</span>
            <span>
              <b>
                {entry.verdict && `${entry.verdict.toUpperCase()}: `}
                {entry.title}
              </b>
              {entry.evidence.length > 0 && entry.kind !== "call" && (
                <>
                  {" "}
                  ·{" "}
                  {entry.evidence.map((e, m) => (
                    <Fragment key={m}>
                      {m > 0 && ", "}
                      {e.label} <Num value={e.value} unit={e.unit} />
                    </Fragment>
                  ))}
                </>
              )}
              {entry.text && entry.kind !== "call" && <> · {entry.text}</>} · {entry.who}
            </span>
          </div>
        </Fragment>
      ))}
      {job.ledger_older > 0 && !all && (
        <Button type="text" loading={whole.isFetching} onClick={() => setAll(true)}>
          Show the <span className="num">{job.ledger_older}</span> before these
        </Button>
      )}
      {!viewer && (
        <Input.Search
          value={note}
          onChange={(event) => setNote(event.target.value)}
          onSearch={() => add.mutate(undefined)}
          enterButton={<Button>Note</Button>}
          placeholder="Write a note"
          aria-label="Note"
          style={{ marginTop: "auto", paddingTop: 8 }}
        />
      )}
      {overruling && <Overrule entry={overruling} onClose={() => setOverruling(null)} />}
    </aside>
  );
}

const weight = (entry: Entry) => (entry.overruled_by ? 0 : { stop: 3, hold: 2, go: 1, "": 0 }[entry.verdict]);
