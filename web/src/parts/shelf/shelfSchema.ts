export interface Schema {
  title?: string;
  type?: string;
  maxLength?: number;
  default?: unknown;
  enum?: (string | number)[];
  items?: Schema;
  required?: string[];
  properties: Record<string, Part>;
}
/** A field: its unit, and the kinds of device that have it where not all do. */
export type Part = Schema & { "x-unit"?: string; "x-kinds"?: string[] };

const isTexts = (part: Schema) => part.type === "array" && part.items?.type === "string" && !part.items.enum;
export const isDeep = (part: Schema) => part.type === "object" || (part.type === "array" && !isTexts(part));

export function asText(value: unknown, part: Schema): string {
  if (value === undefined || value === null) return "";
  if (isTexts(part)) return (value as string[]).join("; ");
  if (isDeep(part)) return JSON.stringify(value, null, 1);
  return String(value);
}

export function asValue(text: string, part: Schema): unknown {
  if (isTexts(part))
    return text
      .split(";")
      .map((item) => item.trim())
      .filter(Boolean);
  if (isDeep(part)) return JSON.parse(text);
  if (part.type === "boolean") return text === "true";
  if (part.type === "number" || part.type === "integer") {
    const value = Number(text.replace(",", "."));
    if (Number.isNaN(value)) throw new Error("no number");
    return value;
  }
  return text.trim();
}
