/** A moment as a person of this place writes it: one style on every screen, hours from 0 to 24. */
export const when = (at: string | number): string =>
  new Date(at).toLocaleString([], { dateStyle: "short", timeStyle: "short", hourCycle: "h23" });

/** The day alone. */
export const day = (at: string | number): string =>
  new Date(at).toLocaleDateString([], { dateStyle: "short" });

/** The time alone. */
export const time = (at: string | number): string =>
  new Date(at).toLocaleTimeString([], { timeStyle: "short", hourCycle: "h23" });
