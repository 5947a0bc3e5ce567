/** One hue, light to deep; the text always keeps 4.5 to 1 against it. `depth` is 0 to 1. */
export function ink(depth: number, dark: boolean): { back: string; text: string } {
  const light = dark ? 16 + 28 * depth : 91 - 62 * depth;
  // Between these no text colour is readable enough, so the ramp steps over them.
  const lightness = dark ? light : light > 58 ? light : light - 14;
  return {
    back: `hsl(${dark ? 190 : 178} ${24 + 32 * depth}% ${lightness}%)`,
    text: dark || lightness <= 50 ? "#FFFFFF" : "#12282C",
  };
}
