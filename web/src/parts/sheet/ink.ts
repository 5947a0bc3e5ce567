/** One hue, light to deep; the text always keeps 4.5 to 1 against it. `depth` is 0 to 1. */
export function ink(depth: number, dark: boolean): { back: string; text: string } {
  if (dark) return { back: `hsl(190 ${24 + 32 * depth}% ${16 + 17 * depth}%)`, text: "#FFFFFF" };
  const light = 91 - 62 * depth;
  // Between these no text colour is readable enough, so the ramp steps over them.
  const lightness = light > 48 ? light : 29 + (light - 29) * 0.24;
  return {
    back: `hsl(178 ${24 + 32 * depth}% ${lightness}%)`,
    text: light > 48 ? "#12282C" : "#FFFFFF",
  };
}
