import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { Lane } from "./Lane";
import type { Capturing } from "./Capture";
import { ROWS } from "./rows";

/** The last minute is drawn, twice a second, in so many lanes. */
const SHOWN_S = 60;
const STEP_S = 0.5;
const LANES = 4;
const NOTHING = () => undefined;

/** The last minute of a capture, as it comes. */
export function LiveLanes({ now }: { now: Capturing }) {
  const seen = useRef<[number, Record<string, number>][]>([]);
  const [drawn, setDrawn] = useState<[number, Record<string, number>][]>([]);
  useEffect(() => {
    const last = seen.current.at(-1)?.[0] ?? -STEP_S;
    if (now.at_s < last) seen.current = [];
    if (now.at_s < last + STEP_S) return;
    seen.current = [...seen.current, [now.at_s, now.values] as [number, Record<string, number>]].filter(
      ([at]) => at > now.at_s - SHOWN_S,
    );
    setDrawn(seen.current);
  }, [now]);
  const end = drawn.at(-1)?.[0] ?? 0;
  const lanes = ROWS.usual
    .map((names) => names.filter((name) => now.values[name] !== undefined))
    .filter((names) => names.length > 0)
    .slice(0, LANES);
  if (!drawn.at(1)) return null;
  return (
    <div className="lanes live-lanes">
      {lanes.map((names, n) => (
        <LiveLane key={names.join()} names={names} drawn={drawn} end={end} last={n === lanes.length - 1} />
      ))}
    </div>
  );
}

const LABELS: Record<string, string> = {
  rpm: "Engine speed",
  map: "Manifold",
  lambda: "Mixture",
  stft_1: "Trims",
  pulse: "Pulse",
  knock: "Knock retard",
  egt_1: "Exhaust",
  iat: "Intake air",
  battery: "Battery",
};

function LiveLane(props: {
  names: string[];
  drawn: [number, Record<string, number>][];
  end: number;
  last: boolean;
}) {
  const { names, drawn, end, last } = props;
  const lines: Schemas["Lane"][] = names.map((name) => {
    const there = drawn.filter(([, values]) => values[name] !== undefined);
    return { name, time_s: there.map(([at]) => at), values: there.map(([, values]) => values[name]) };
  });
  return (
    <>
      <span className="lane-label">{LABELS[names[0]] ?? names[0]}</span>
      <Lane
        lines={lines}
        span={[Math.max(0, end - SHOWN_S), Math.max(end, STEP_S)]}
        marks={NONE}
        thick={null}
        between={null}
        axis={last}
        label={`${LABELS[names[0]] ?? names[0]}, the last minute`}
        cursor={null}
        onCursor={NOTHING}
        onSpan={NOTHING}
        onCloser={NOTHING}
        onAlong={NOTHING}
      />
    </>
  );
}

const NONE: Schemas["FindingOut"][] = [];
