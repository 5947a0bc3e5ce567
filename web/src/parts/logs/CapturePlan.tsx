import { Button, Checkbox, Select } from "antd";
import { useState, type ReactNode } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { Num } from "../figures/Num";
import type { Wish } from "./Capture";
import { Limits } from "./Limits";
import { useKeptLook } from "./useKeptLook";

interface Props {
  number: string;
  vehicle: string;
  baseline: boolean;
  /** Whether a log is captured from here, or only planned for another logger. */
  here: boolean;
  start: { isPending: boolean; mutate: (wish: Wish) => void };
  buttons: (go: (watched: boolean) => void) => ReactNode;
}

/** So many of what waits for a channel are named. */
const NAMED = 4;
type Plan = Schemas["LogPlanOut"];

/** What somebody wants to know, what is logged for it, how often it comes, and what is heard meanwhile. */
export function CapturePlan({ number, vehicle, baseline, here, start, buttons }: Props) {
  const [question, setQuestion] = useState("full");
  const [link, setLink] = useState("here");
  const [only, setOnly] = useState<string[] | null>(null);
  const [lift, setLift] = useState(true);
  const [onPulls, setOnPulls] = useState(false);
  const [open, setOpen] = useState(false);
  const { look, keep } = useKeptLook(vehicle);
  const plan = useQuery({
    queryKey: ["log-plan", number, question, link, baseline, only],
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/log-plan", {
          params: {
            path: { number },
            query: { question, link, baseline, only: only?.join(",") ?? "" },
          },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
    meta: { shown: true },
  });
  const told = plan.data;
  const go = (watched: boolean) =>
    start.mutate({ watched, question, channels: only ?? [], limits: look.limits, lift, on_pulls: onPulls });
  return (
    <>
      <div className="row">
        <Select
          aria-label="What do you want to know?"
          style={{ minWidth: 210 }}
          value={question}
          onChange={(chosen) => (setQuestion(chosen), setOnly(null))}
          options={told?.questions.map((one) => ({ value: one.key, label: one.title })) ?? []}
        />
        {here && buttons(go)}
        {told && <Rate told={told} />}
      </div>
      {plan.error && <p className="wrong">{plan.error.message}</p>}
      {told && (
        <details className="log-plan" open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
          <summary>
            <b>{told.channels.filter((one) => one.hz !== null).length} channels</b>
            {here && ", what sounds, what is kept"}
          </summary>
          {open && (
            <>
              {here && (
                <div className="row">
                  <Checkbox checked={lift} onChange={(event) => setLift(event.target.checked)}>
                    Off the load at a stop
                  </Checkbox>
                  <Checkbox checked={onPulls} onChange={(event) => setOnPulls(event.target.checked)}>
                    Keep pulls alone
                  </Checkbox>
                </div>
              )}
              {told.unheard.length > 0 && (
                <p className="soft">
                  With these channels nothing sounds for: <b>{told.unheard.join(", ")}</b>.
                </p>
              )}
              {here && <Limits look={look} keep={keep} channels={told.channels} />}
              <div className="row">
                <Select
                  aria-label="How it is asked"
                  style={{ minWidth: 250 }}
                  value={told.link}
                  onChange={setLink}
                  options={told.links.map((one) => ({ value: one.key, label: one.title }))}
                />
                {only && <Button onClick={() => setOnly(null)}>All of them again</Button>}
              </div>
              <Channels told={told} only={only} setOnly={setOnly} />
            </>
          )}
        </details>
      )}
    </>
  );
}

/** What the link gives, and whether it is enough. */
function Rate({ told }: { told: Plan }) {
  const rates = told.channels.flatMap((one) => (one.hz === null ? [] : [one.hz]));
  return (
    <span className="soft num" style={{ flex: "1 1 200px" }}>
      <Num value={Math.max(...rates)} digits={1} unit="1/s" /> at best, about{" "}
      <Num value={told.megabytes_per_minute} unit="MB/min" digits={2} />
      {told.calls.length > 0 && (
        <b className="late">
          {" "}
          · too slow for {told.calls.length}: {told.calls[0].do_next}
        </b>
      )}
    </span>
  );
}

function Channels(props: { told: Plan; only: string[] | null; setOnly: (names: string[]) => void }) {
  const { told, only, setOnly } = props;
  const kept = only ?? told.channels.filter((one) => one.there).map((one) => one.name);
  const flip = (name: string) =>
    setOnly(kept.includes(name) ? kept.filter((one) => one !== name) : [...kept, name]);
  return (
    <table className="plain wanted">
      <thead>
        <tr>
          <th>Channel</th>
          <th className="r">Needs, 1/s</th>
          <th className="r">Comes, 1/s</th>
          <th>Waits for it</th>
        </tr>
      </thead>
      <tbody>
        {told.channels.map((one) => (
          <tr key={one.name} className={one.there ? "" : "soft"}>
            <td>
              <Checkbox
                checked={one.there && kept.includes(one.name)}
                disabled={!one.there}
                onChange={() => flip(one.name)}
              >
                {one.label}
              </Checkbox>
            </td>
            <td className="r">
              <Num value={one.wanted_hz} digits={0} />
            </td>
            <td className={`r ${one.hz !== null && one.hz < one.wanted_hz ? "late" : ""}`}>
              {one.hz === null ? one.there ? "left out" : "not there" : <Num value={one.hz} digits={1} />}
            </td>
            <td className="soft" title={one.waits.join(", ")}>
              {one.waits.slice(0, NAMED).join(", ")}
              {one.waits[NAMED] && `, and ${one.waits.length - NAMED} more`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
