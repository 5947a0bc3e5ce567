import { Button, Input, Upload } from "antd";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ApiError, csrf, take, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { CallCard } from "../../parts/ledger/CallCard";

type Told = Schemas["TunerOut"];
const STATES: Record<string, string> = {
  packed: "packed, not sent",
  waiting: "sent, no answer yet",
  answered: "answered",
  taken: "taken",
  "set aside": "set aside: a newer file came",
};

/** Rounds with a remote tuner: the letter and the package out, the file in, judged before it is taken. */
export default function Tuner({ job, first }: { job: Job; first: boolean }) {
  const number = job.plate.number;
  const path = { number };
  const viewer = useSession().data?.role === "viewer";
  const client = useQueryClient();
  const [open, setOpen] = useState(first);
  const key = ["tuner", number, job.plate.revision];
  const asked = useQuery({
    queryKey: key,
    enabled: open,
    queryFn: () => take(api.GET("/api/jobs/{number}/tuner", { params: { path } })),
    placeholderData: (before) => before,
  });
  const got = (told: Told) => client.setQueryData(key, told);
  const [text, setText] = useState<string | null>(null);
  const pack = useAct(
    (letter: string) =>
      take(api.POST("/api/jobs/{number}/tuner/rounds", { params: { path }, body: { letter } })),
    (told) => {
      got(told);
      setText(null);
    },
  );
  const act = useAct(({ id, what }: { id: number; what: "post" | "take" | "leave" }) => {
    const params = { path: { number, round_id: id } };
    if (what === "post") return take(api.POST("/api/jobs/{number}/tuner/rounds/{round_id}/post", { params }));
    if (what === "leave")
      return take(api.POST("/api/jobs/{number}/tuner/rounds/{round_id}/leave", { params }));
    return take(api.POST("/api/jobs/{number}/tuner/rounds/{round_id}/take", { params }));
  }, got);
  const look = useAct(() => take(api.POST("/api/jobs/{number}/tuner/look", { params: { path } })), got);
  const receive = useAct((file: File) => sendReply(number, file), got);
  if (!open)
    return (
      <p>
        <Button type="link" style={{ padding: 0 }} onClick={() => setOpen(true)}>
          A remote tuner writes the map
        </Button>
      </p>
    );
  if (!asked.data) return null;
  const { rounds, calls, letter, sentence } = asked.data;
  const last = rounds.at(-1);
  const answered = rounds.find((one) => one.state === "answered");
  return (
    <section aria-label="Remote tuner">
      <div className="title">
        <h2>Rounds with the tuner</h2>
        <span className="soft">log and letter out, file in; nothing is taken before it is judged</span>
      </div>
      {answered && (
        <Answered
          round={answered}
          calls={calls}
          mayTake={asked.data.may_take}
          viewer={viewer}
          busy={act.isPending}
          onTake={() => act.mutate({ id: answered.id, what: "take" })}
          onLeave={() => act.mutate({ id: answered.id, what: "leave" })}
        />
      )}
      <RoundTable
        number={number}
        rounds={rounds}
        viewer={viewer}
        busy={act.isPending}
        onPost={(id) => act.mutate({ id, what: "post" })}
      />
      {!viewer && last && (
        <div className="row" style={{ margin: "10px 0" }}>
          {last.state === "waiting" && (
            <Button
              size="large"
              type="primary"
              loading={look.isPending}
              onClick={() => look.mutate(undefined)}
            >
              Look into the mailbox
            </Button>
          )}
          <Upload
            accept=".zip,.json"
            showUploadList={false}
            beforeUpload={(file) => {
              receive.mutate(file);
              return false;
            }}
          >
            <Button size="large" loading={receive.isPending}>
              A file came back
            </Button>
          </Upload>
          <span>{sentence}</span>
        </div>
      )}
      {!viewer && (
        <div className="sheet">
          <b>{last ? "The next round" : "The first round"}</b>
          <p className="soft">
            From what the log shows, in plain words. Change it as you like; it goes with the package.
          </p>
          <Input.TextArea
            aria-label="Letter to the tuner"
            autoSize={{ minRows: 8, maxRows: 18 }}
            value={text ?? letter}
            onChange={(event) => setText(event.target.value)}
          />
          <Button
            style={{ marginTop: 10 }}
            type={last ? "default" : "primary"}
            size="large"
            loading={pack.isPending}
            onClick={() => pack.mutate(text ?? letter)}
          >
            Pack this round
          </Button>
        </div>
      )}
    </section>
  );
}

type Round = Schemas["TunerRoundOut"];

/** What came back, with every call on it. */
function Answered({
  round,
  calls,
  mayTake,
  viewer,
  busy,
  onTake,
  onLeave,
}: {
  round: Round;
  calls: Told["calls"];
  mayTake: boolean;
  viewer: boolean;
  busy: boolean;
  onTake: () => void;
  onLeave: () => void;
}) {
  return (
    <div className="sheet">
      <b>
        Round {round.number} came back · <span className="num">{round.reply_sha256.slice(0, 16)}</span>
      </b>
      {round.reply_letter && <p style={{ whiteSpace: "pre-wrap" }}>{round.reply_letter}</p>}
      <div className="cols" style={{ margin: "10px 0" }}>
        {calls.map((call) => (
          <CallCard
            key={call.rule}
            verdict={call.verdict}
            title={call.title}
            because={call.because}
            next={call.do_next}
            source={call.source}
          />
        ))}
      </div>
      {!viewer && (
        <div className="row">
          <Button type="primary" size="large" loading={busy} onClick={onTake}>
            {!mayTake ? "Stopped: it is not taken" : "Take it as the next version"}
          </Button>
          <Button size="large" loading={busy} onClick={onLeave}>
            Leave it
          </Button>
        </div>
      )}
    </div>
  );
}

/** Every round, with its package. */
function RoundTable({
  number,
  rounds,
  viewer,
  busy,
  onPost,
}: {
  number: string;
  rounds: Round[];
  viewer: boolean;
  busy: boolean;
  onPost: (id: number) => void;
}) {
  if (!rounds.length) return null;
  return (
    <div className="sheet">
      <table className="plain" aria-label="Rounds">
        <tbody>
          {rounds.map((one) => (
            <tr key={one.id}>
              <td>
                <b>Round {one.number}</b> {one.map && <span className="num">map {one.map}</span>}
                <div className="soft">{one.by}</div>
              </td>
              <td>
                {STATES[one.state] ?? one.state}
                {one.taken && <span className="num"> as {one.taken}</span>}
              </td>
              <td className="r">
                <a href={`/api/jobs/${number}/tuner/rounds/${one.id}/package`}>Package</a>{" "}
                {one.state === "packed" && !viewer && (
                  <Button loading={busy} onClick={() => onPost(one.id)}>
                    To the mailbox of this bench
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

async function sendReply(number: string, file: File): Promise<Told> {
  const answer = await fetch(`/api/jobs/${number}/tuner/reply?name=${encodeURIComponent(file.name)}`, {
    method: "PUT",
    body: file,
    headers: { "X-CSRFToken": csrf(), "Content-Type": "application/octet-stream" },
  });
  const told = await answer.json();
  if (!answer.ok) throw new ApiError(told.sentence, told.field, answer.status);
  return told as Told;
}
