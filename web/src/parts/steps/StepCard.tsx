import { App, Button } from "antd";
import { useRef, useState } from "react";
import { api, take, type Job, type Schemas, type Step } from "../../api/client";
import { useAct, useSession } from "../../api/hooks";
import { useHeld } from "../../away/held";
import { AskedBesides, AskedFirst } from "./Asks";
import { Countdown } from "../figures/Countdown";
import { Entering } from "./Entering";
import { Figure, type FigureHandle } from "../figures/Figure";
import { StepGrid } from "../grids/StepGrid";
import { useKeys } from "../frame/keys";
import { plain, useConvert } from "../figures/Num";
import { Photos } from "./Photos";
import { CodesHere } from "./CodesHere";
import { ReadHere } from "./ReadHere";
import { SetAside } from "./SetAside";
import { Cautions, Knowing } from "./StepWords";
import { Words } from "./Words";

/** The limits of a reading, in the unit set of this tablet. */
function within(
  { low, high, unit }: Schemas["ReadingOut"],
  convert: (value: number, unit: string) => [number, string],
): string {
  const [least, most] = [low, high].map((end) => (end == null ? "" : plain(convert(end, unit)[0])));
  const shown = convert(0, unit)[1];
  if (least && most) return `limits ${least} to ${most} ${shown}`;
  return least ? `at least ${least} ${shown}` : most ? `at most ${most} ${shown}` : "";
}

type Said = { anyway?: boolean; answer?: string; words?: string };

/** One step: cautions and look-alikes before it, what to do, its evidence, how you know it is right, what goes wrong. */
export function StepCard({ job, step }: { job: Job; step: Step }) {
  const [typed, setTyped] = useState("");
  const field = useRef<FigureHandle>(null);
  const viewer = useSession().data?.role === "viewer";
  const timer = job.timers.find((t) => t.step === step.key);
  const act = useAct((said: Said) =>
    take(
      api.POST("/api/jobs/{number}/steps/{key}/done", {
        params: { path: { number: job.plate.number, key: step.key } },
        body: {
          reading: typed || null,
          unit: field.current?.unit ?? null,
          anyway: said.anyway ?? false,
          answer: said.answer ?? null,
          words: said.words ?? null,
        },
      }),
    ),
  );
  // A wait that still runs is ended early by no second tap: it is asked once more, and waiting on is what Enter means there.
  const [over, setOver] = useState<number | null>(null);
  const waits = step.evidence === "timer" && timer !== undefined && over !== timer.id;
  const { modal } = App.useApp();
  const early = () =>
    modal.confirm({
      title: `End this wait early: ${step.title}`,
      content: "Its time has not passed. What it waited for has to be so already.",
      okText: "It is so, go on",
      cancelText: "Wait on",
      autoFocusButton: "cancel",
      onOk: () => act.mutate({ anyway: true }),
    });
  const done = () => act.mutate({ anyway: step.evidence === "timer" && timer !== undefined });
  // What a step hangs on is answered first.
  const held = useHeld(job.plate.number);
  const unsent = held.entries.filter((one) => one.step === step.key && one.act !== "answers").length;
  const blocked = step.asks.some((ask) => ask.must && !held.answered(ask));
  const byHand = !["grid", "answer", "words"].includes(step.evidence) && !waits;
  useKeys(
    viewer
      ? {}
      : {
          Enter: waits ? early : byHand ? done : undefined,
          e: () => field.current?.focus(),
          t: step.evidence === "timer" && !timer ? done : undefined,
        },
  );
  const convert = useConvert();
  const limits = step.reading ? within(step.reading, convert) : "";
  const words = step.evidence === "words" && !viewer && (
    <Words
      busy={act.isPending}
      blocked={blocked}
      was={step.words}
      hint={step.hint}
      onDone={(words) => act.mutate({ words })}
    />
  );
  return (
    <>
      <Cautions step={step} />
      <AskedFirst job={job} step={step} />
      {unsent > 0 && (
        <p className="sheet unsent">
          <b>Not sent yet, so not judged:</b> {unsent === 1 ? "an entry" : `${unsent} entries`} of this step
        </p>
      )}
      <div className="sheet">
        {step.do && <p style={{ fontSize: 17, marginBottom: 12 }}>{step.do}</p>}
        {step.key.startsWith("load.read_back") ? (
          <Entering job={job} step={step} viewer={viewer}>
            {words}
          </Entering>
        ) : (
          words
        )}
        {step.grid && <StepGrid job={job} step={step} viewer={viewer} />}
        {step.evidence === "photo" && <Photos number={job.plate.number} step={step.key} viewer={viewer} />}
        <div className="row">
          {step.reading && (
            <Figure
              ref={field}
              label={step.reading.label}
              quantity={step.reading.quantity}
              unit={step.reading.unit}
              value={typed}
              onChange={setTyped}
              onEnter={done}
              hint={limits || undefined}
            />
          )}
          {!viewer && <ReadHere job={job} step={step} onRead={setTyped} />}
          {!viewer && <CodesHere job={job} step={step} />}
          {timer && (
            <span style={{ fontSize: 18 }}>
              Running <Countdown endsAt={timer.ends_at} onEnd={() => setOver(timer.id)} />
            </span>
          )}
          {step.evidence === "answer" &&
            !viewer &&
            step.answers.map((answer) => (
              <Button
                key={answer.key}
                size="large"
                className={`answer ${answer.verdict}`}
                disabled={blocked}
                loading={act.isPending && act.variables?.answer === answer.key}
                onClick={() => act.mutate({ answer: answer.key })}
              >
                {answer.label}
              </Button>
            ))}
          {!viewer && byHand && (
            <Button
              type="primary"
              size="large"
              disabled={!!step.waits_for || blocked}
              onClick={done}
              loading={act.isPending}
            >
              {step.evidence === "timer"
                ? timer
                  ? "Time has passed, go on"
                  : `Start the wait, ${Math.round(step.seconds / 60)} min`
                : step.reading
                  ? "Enter, next step"
                  : "Done, next step"}{" "}
              <kbd style={{ marginLeft: 8 }}>↵</kbd>
            </Button>
          )}
          {!viewer && waits && !step.firm && (
            <Button size="large" onClick={early}>
              End it early
            </Button>
          )}
          {!viewer && step.evidence === "timer" && !timer && !step.firm && (
            <Button size="large" disabled={blocked} onClick={() => act.mutate({ anyway: true })}>
              {step.key === "make-safe.cool" ? "It is cool already" : "That time has passed already"}
            </Button>
          )}
        </div>
        <Knowing step={step} />
        {!viewer && <SetAside number={job.plate.number} step={step} />}
      </div>
      <AskedBesides job={job} step={step} />
    </>
  );
}
