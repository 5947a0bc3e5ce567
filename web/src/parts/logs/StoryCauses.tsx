import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Num } from "../figures/Num";

interface Props {
  log: Schemas["LogOut"];
  story: Schemas["StoryOut"];
}

const share = (weight: number) => <Num value={100 * weight} unit="%" digits={0} />;

/** What is likely behind findings that hang together, and the one check that tells the first two apart. */
export function StoryCauses({ log, story }: Props) {
  const client = useQueryClient();
  const answer = useAct(
    (body: Schemas["CheckAnswerIn"]) =>
      take(api.PUT("/api/logs/{log_id}/answers", { params: { path: { log_id: log.id } }, body })),
    (told) => client.setQueryData(["log", log.id], told),
  );
  if (!story.headline) return null;
  const { check } = story;
  return (
    <details className="causes">
      <summary>Likely {story.headline}</summary>
      {story.candidates.map((one) => (
        <div className="cause" key={one.key}>
          <span className="bar" style={{ width: `${100 * one.weight}%` }} />
          <span>
            {one.title} <b>{share(one.weight)}</b>
            {one.before !== null && <span className="soft"> was {share(one.before)}</span>}
          </span>
          {one.not_this && <div className="by">Not to be confused with {one.not_this}.</div>}
        </div>
      ))}
      {check && (
        <div className="check">
          <b>{story.candidates[1] ? "Tell the first two apart" : "Make sure"}</b>
          {check.caution && <p className="caution">{check.caution}</p>}
          <div>
            {check.ask}{" "}
            <span className="soft">
              (<Num value={check.minutes} unit="min" />, {check.needs})
            </span>
          </div>
          <div className="row">
            {check.answers.map((one) => (
              <Button
                key={one}
                loading={answer.isPending}
                onClick={() => answer.mutate({ check: check.key, answer: one })}
              >
                {one}
              </Button>
            ))}
          </div>
        </div>
      )}
    </details>
  );
}

/** Checks that were answered, each of which can be taken back. */
export function Answered({ log }: { log: Schemas["LogOut"] }) {
  const client = useQueryClient();
  const back = useAct(
    (check: string) =>
      take(
        api.PUT("/api/logs/{log_id}/answers", {
          params: { path: { log_id: log.id } },
          body: { check, answer: "" },
        }),
      ),
    (told) => client.setQueryData(["log", log.id], told),
  );
  return (
    <>
      {log.answered.map((one) => (
        <div className="by row" key={one.check}>
          <span>
            {one.ask}: <b>{one.answer}</b>
          </span>
          <Button type="text" onClick={() => back.mutate(one.check)}>
            Take back
          </Button>
        </div>
      ))}
    </>
  );
}
