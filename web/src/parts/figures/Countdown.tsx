import { useEffect, useState } from "react";

/** Time left to a moment, counting on when it has passed. */
export function Countdown({ endsAt, onEnd }: { endsAt: string; onEnd?: () => void }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(tick);
  }, []);
  const left = Math.round((Date.parse(endsAt) - now) / 1000);
  useEffect(() => {
    if (left <= 0) onEnd?.();
  }, [left <= 0]); // eslint-disable-line
  const size = Math.abs(left);
  const text = `${String(Math.floor(size / 60)).padStart(2, "0")}:${String(size % 60).padStart(2, "0")}`;
  return <span className="time num">{left >= 0 ? text : `over by ${text}`}</span>;
}
