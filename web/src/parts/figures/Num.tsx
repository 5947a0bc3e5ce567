import { useSession } from "../../api/hooks";
import { useLook } from "../../theme/Look";

type Table = Record<string, { canonical: string; units: Record<string, { factor: number; offset: number }> }>;
const WHOLE = new Set(["rpm", "bytes", "m"]);
const OTHER_SET: Record<string, string> = {
  kPa: "psi",
  "°C": "°F",
  "cm³/min": "lb/h",
  kW: "hp",
  "N·m": "lb·ft",
  "km/h": "mph",
  mm: "in",
  m: "ft",
  km: "mi",
};

/** A unit with the shop's own money in it. */
export function useMoney() {
  const currency = useSession().data?.currency || "money";
  return (unit: string) => unit.replace(/^money/, currency);
}

export function useConvert() {
  const { imperial } = useLook();
  const inMoney = useMoney();
  const table = (useSession().data?.conversions ?? {}) as Table;
  return (value: number, unit: string): [number, string] => {
    if (unit.startsWith("money")) return [value, inMoney(unit)];
    const other = imperial ? OTHER_SET[unit] : undefined;
    const quantity = other && Object.values(table).find((q) => q.canonical === unit && other in q.units);
    if (!other || !quantity) return [value, unit];
    const { factor, offset } = quantity.units[other];
    return [value * factor + offset, other];
  };
}

/** What a canonical unit measures, where it can be typed in other units; empty where it is plain. */
export function useQuantity() {
  const table = (useSession().data?.conversions ?? {}) as Table;
  return (unit = "") => Object.keys(table).find((name) => table[name].canonical === unit) ?? "";
}

export function plain(value: number, digits?: number): string {
  const places =
    digits ??
    (Number.isInteger(value)
      ? 0
      : Math.abs(value) >= 1000
        ? 0
        : Math.abs(value) >= 100
          ? 1
          : Math.abs(value) >= 10
            ? 1
            : 3);
  // Places that are asked for stay, so that a column stands in line; others are as many as there is to say.
  const text =
    digits === undefined
      ? value
          .toFixed(places)
          .replace(/(\.\d*?)0+$/, "$1")
          .replace(/\.$/, "")
      : value.toFixed(places);
  return text.replace(/^-/, "−").replace(/\B(?=(\d{3})+(?!\d)(?<!\.\d*))/g, "\u202f");
}

/** Places for figures up to this size, so that a column stands in line: `fine` below ten. */
export const placesFor = (size: number, fine: number) =>
  Math.max(0, fine - Math.max(0, Math.floor(Math.log10(Math.abs(size) || 1))));

/** A figure with its unit, in the unit set of this tablet. */
export function Num({
  value,
  unit = "",
  digits,
}: {
  value: number | string | null | undefined;
  unit?: string;
  digits?: number;
}) {
  const convert = useConvert();
  if (value === null || value === undefined) return <span className="num">–</span>;
  if (typeof value === "string") return <span className="num">{unit ? `${value} ${unit}` : value}</span>;
  const [shown, shownUnit] = convert(value, unit);
  return (
    <span className="num">
      {plain(shown, digits ?? (WHOLE.has(shownUnit) ? 0 : undefined))}
      {shownUnit && ` ${shownUnit}`}
    </span>
  );
}
