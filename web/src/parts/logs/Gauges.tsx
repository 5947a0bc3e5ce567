import { Num, useConvert } from "../figures/Num";
import type { Capturing } from "./Capture";

const GAUGES: [string, string, string, number][] = [
  ["rpm", "Engine speed", "rpm", 0],
  ["map", "Manifold", "kPa", 0],
  ["lambda", "Mixture", "lambda", 2],
  ["knock", "Knock retard", "°", 1],
  ["rail", "Rail", "kPa", 0],
  ["egt_1", "Exhaust 1", "°C", 0],
  ["duty", "Duty", "%", 0],
  ["pedal", "Pedal", "%", 0],
  ["lambda_target", "Target", "lambda", 2],
  ["stft_1", "Short trim", "%", 1],
  ["pulse", "Pulse", "ms", 2],
  ["coolant", "Coolant", "°C", 0],
  ["head_temp", "Head", "°C", 0],
  ["oil_temp", "Oil", "°C", 0],
  ["oil_pressure", "Oil pressure", "kPa", 0],
  ["iat", "Intake air", "°C", 0],
  ["ethanol", "Ethanol", "%", 0],
  ["battery", "Battery", "V", 1],
];
/** So many are read from the seat; the others stand small below. */
const LARGE = 6;

/** What is logged, large enough for the seat beside; what sounds is framed by word, shape and colour. */
export function Gauges({ now }: { now: Capturing }) {
  const there = GAUGES.filter(([name]) => now.values[name] !== undefined);
  // The lead channel of what sounds comes up among the large ones.
  const sounding = new Map<string | undefined, string>([
    [now.lifted_by, "stop"],
    ...now.alarms.map((one): [string | undefined, string] => [one.channels[0], one.verdict]),
  ]);
  const first = there.filter(([name]) => sounding.has(name));
  const order = [...first, ...there.filter(([name]) => !sounding.has(name))];
  return (
    <>
      <div className="gauges">
        {order.slice(0, LARGE).map((one) => (
          <Gauge key={one[0]} one={one} now={now} look={`gauge ${sounding.get(one[0]) ?? ""}`} />
        ))}
      </div>
      <div className="gauges small">
        {order.slice(LARGE).map((one) => (
          <Gauge key={one[0]} one={one} now={now} look="meter" />
        ))}
      </div>
    </>
  );
}

/** A value with its unit beside its name, so that the figure has the width. */
function Gauge({ one, now, look }: { one: (typeof GAUGES)[number]; now: Capturing; look: string }) {
  const [name, label, unit, digits] = one;
  const [value, shown] = useConvert()(now.values[name], unit);
  return (
    <div className={look}>
      <span>
        {label} <span className="soft">{shown}</span>
      </span>
      <Num value={value} digits={digits} />
    </div>
  );
}
