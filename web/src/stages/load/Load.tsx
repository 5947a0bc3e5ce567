import { Alert, Button, Radio } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { ScreenAsks } from "../../parts/steps/Asks";
import { VerdictGlyph } from "../../parts/figures/Glyphs";
import { NotYet } from "../../parts/steps/NotYet";
import { Num } from "../../parts/figures/Num";
import { RunSheet } from "../../parts/steps/RunSheet";
import { Writes } from "../../parts/steps/Writes";
import { AfterWrite } from "./AfterWrite";
import { Firmware } from "./Firmware";
import { History } from "./History";
import { LinkLadder } from "./LinkLadder";
import { Ways } from "./Ways";
import { Writing } from "./Writing";

/** The call board, the write with its progress, and the way back when it is cut. */
export default function Load({ job }: { job: Job }) {
  const number = job.plate.number;
  const viewer = useSession().data?.role === "viewer";
  const client = useQueryClient();
  const board = useQuery({
    meta: { shown: true },
    queryKey: ["board", number],
    queryFn: () => take(api.GET("/api/jobs/{number}/load-board", { params: { path: { number } } })),
    refetchInterval: (asked) => (asked.state.data?.load?.state === "writing" ? 2000 : false),
  });
  const answer = useAct(
    (answers: Record<string, boolean | number | string | null>) =>
      take(api.PUT("/api/jobs/{number}/load-board", { params: { path: { number } }, body: { answers } })),
    (got) => client.setQueryData(["board", number], got),
  );
  const save = useAct(
    () => take(api.POST("/api/jobs/{number}/saved-images", { params: { path: { number } } })),
    (got) => client.setQueryData(["board", number], got),
  );
  const start = useAct(
    (way: string) =>
      take(
        api.POST("/api/jobs/{number}/loads", {
          params: {
            path: { number },
            query: { back: way === "stock", resume: way === "resume", firmware: way === "firmware" },
          },
        }),
      ),
    () => void client.invalidateQueries({ queryKey: ["board", number] }),
  );
  // The tap shows at once; the judgement follows from the server.
  const say = (answers: Record<string, boolean | number | string | null>) => {
    client.setQueryData<Schemas["BoardOut"]>(
      ["board", number],
      (now) => now && { ...now, answers: { ...now.answers, ...answers } },
    );
    answer.mutate(answers);
  };
  if (board.error) return <NotYet title="Load" sentence={board.error.message} number={number} />;
  if (!board.data) return null;
  const { load, version } = board.data;
  const writing = load?.state === "writing";
  const written = job.steps.find((step) => step.key === "load.write")?.done && load?.state === "verified";
  const open = board.data.calls.filter((call) => call.verdict !== "go").length;
  const cut = load && (load.state === "interrupted" || load.state === "stopped");
  return (
    <>
      <ScreenAsks job={job} steps={["load.write"]} />
      <div className="title">
        <h1>
          {writing
            ? `Writing ${load.what}`
            : written
              ? board.data.cycled
                ? "Written, and the ignition cycled"
                : "Written: now cycle the ignition"
              : `Before writing map ${version.version}`}
        </h1>
        <span className="soft num">CRC-32 {version.crc32}</span>
        <span className="soft">{board.data.inside}</span>
      </div>
      {writing && <Writing load={load} viewer={viewer} />}
      {cut && !writing && (
        <Alert
          type="error"
          style={{ marginBottom: 12 }}
          title="The write was cut: nothing is loaded"
          description={
            <>
              <p>
                {load.sentence} Written <Num value={load.written} unit="bytes" /> of{" "}
                <Num value={load.total} unit="bytes" />. Leave the ignition on and do not start the engine.
              </p>
              {!viewer && (
                <Ways
                  ways={board.data.ways}
                  busy={start.isPending}
                  onTake={(key) => start.mutate(key === "restart" && load.of_firmware ? "firmware" : key)}
                />
              )}
            </>
          }
        />
      )}
      {!writing && !written && (
        <Board
          board={board.data}
          viewer={viewer}
          busy={answer.isPending}
          onAnswer={say}
          onSave={() => save.mutate(undefined)}
          saving={save.isPending}
        />
      )}
      {!writing && !written && !viewer && (
        <div className="sheet">
          <p style={{ marginBottom: 8 }}>
            <b>Lights to expect:</b> {board.data.lights.join("; ")}. Nobody panics.
          </p>
          <div className="row">
            {board.data.slots.length > 1 && (
              <Radio.Group
                aria-label="Slot"
                size="large"
                optionType="button"
                value={board.data.slot}
                onChange={(event) => say({ slot: event.target.value })}
                options={board.data.slots.map((held, place) => ({
                  value: place + 1,
                  label: `slot ${place + 1}: ${held}`,
                }))}
              />
            )}
            <Button
              type="primary"
              size="large"
              disabled={board.data.verdict !== "go"}
              loading={start.isPending}
              onClick={() => start.mutate("restart")}
            >
              Write map {version.version}
            </Button>
            <span className="soft">
              {board.data.verdict === "go"
                ? "Every call is go. From here on nobody touches the cable."
                : open === 1
                  ? "One call is not go yet."
                  : `${open} calls are not go yet.`}
            </span>
          </div>
        </div>
      )}
      {written && !writing && <AfterWrite job={job} board={board.data} viewer={viewer} />}
      {written && !writing && <Writes number={number} boxed />}
      {!writing && !written && !!board.data.calls.length && (
        <Firmware
          number={number}
          viewer={viewer}
          needed={board.data.firmware_first}
          busy={start.isPending}
          onWrite={() => start.mutate("firmware")}
        />
      )}
      {!writing && !written && <History number={number} viewer={viewer} />}
      {!writing && !written && <LinkLadder number={number} viewer={viewer} />}
      {!writing && <RunSheet job={job} stage="load" />}
    </>
  );
}

function Board({
  board,
  viewer,
  busy,
  onAnswer,
  onSave,
  saving,
}: {
  board: Schemas["BoardOut"];
  viewer: boolean;
  busy: boolean;
  onAnswer: (a: Record<string, boolean | number | string | null>) => void;
  onSave: () => void;
  saving: boolean;
}) {
  const answers = board.answers as Record<string, boolean | string | undefined>;
  return (
    <div className="sheet">
      <table className="plain">
        <tbody>
          {board.calls.map((call) => {
            const field = call.rule.replace("load.", "");
            const pair = board.words[field];
            return (
              <tr key={call.rule} className={`call ${call.verdict}`} style={{ border: 0 }}>
                <td style={{ width: 86 }}>
                  <span className="word">
                    <VerdictGlyph verdict={call.verdict} />
                    {call.verdict.toUpperCase()}
                  </span>
                </td>
                <td>
                  <b>{call.title}</b>
                  <div className="soft" style={{ fontSize: 14 }}>
                    {call.do_next}
                  </div>
                </td>
                <td className="r" style={{ whiteSpace: "nowrap" }}>
                  {pair && (
                    <Radio.Group
                      disabled={viewer}
                      value={answers[field] ?? null}
                      onChange={(event) => onAnswer({ [field]: event.target.value })}
                      options={[
                        { value: true, label: pair[0] },
                        { value: false, label: pair[1] },
                      ]}
                      optionType="button"
                    />
                  )}
                  {field === "laptop" && (
                    <Radio.Group
                      disabled={viewer}
                      value={answers.laptop ?? null}
                      onChange={(event) => onAnswer({ laptop: event.target.value })}
                      options={Object.entries(board.laptop).map(([value, label]) => ({ value, label }))}
                      optionType="button"
                    />
                  )}
                  {field === "saved" &&
                    (answers.saved === "equal" ? (
                      <span className="soft">{board.saved}</span>
                    ) : (
                      <Button loading={saving} disabled={viewer} onClick={onSave}>
                        Read it twice and save
                      </Button>
                    ))}
                  {field === "battery" && (
                    <>
                      <Num
                        value={call.because[0]?.value}
                        unit={typeof call.because[0]?.value === "number" ? "V" : ""}
                      />{" "}
                      <Button loading={busy} disabled={viewer} onClick={() => onAnswer({ measure: true })}>
                        Measure and read identity
                      </Button>
                    </>
                  )}
                  {["identity", "matched", "newest", "firmware"].includes(field) && (
                    <span className="num">{call.because[0]?.value}</span>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
