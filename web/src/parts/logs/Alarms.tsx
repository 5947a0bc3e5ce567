import { EvidenceLine } from "../figures/EvidenceLine";
import { VerdictGlyph } from "../figures/Glyphs";
import type { Capturing } from "./Capture";

/** What sounds now, large: word, shape and colour; and what took the foot off. */
export function Alarms({ now }: { now: Capturing }) {
  return (
    <div role="alert" className="alarms">
      {now.deaf && (
        <div className="call hold">
          <b>Nobody listens: alarms do not sound any more. Watch the gauges, or stop and start it again.</b>
        </div>
      )}
      {now.alarms.map((one) => (
        <section key={one.kind} className={`call ${one.verdict}`}>
          <div className="alarm-head">
            <VerdictGlyph verdict={one.verdict} /> {one.verdict === "stop" ? "OFF THE LOAD" : "WATCH"}:{" "}
            {one.title}
          </div>
          {one.because.map((line) => (
            <EvidenceLine key={line.label} one={line} />
          ))}
          {one.do && <div>{one.do}</div>}
        </section>
      ))}
      {now.lifted && now.alarms.length === 0 && (
        <div className="call stop">
          <b>
            {now.off ? "Came off the load" : "A stop has sounded"}: {now.lifted}
          </b>
        </div>
      )}
    </div>
  );
}
