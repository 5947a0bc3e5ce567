import { get, set } from "idb-keyval";
import { useSyncExternalStore } from "react";

/** An entry that was made while the server was away: kept on this tablet until it is sent. */
export interface Kept {
  id: string;
  who: string;
  method: string;
  url: string;
  body: string | Blob;
  type: string;
  job: string;
  step: string;
  /** What is done to the step: done, answers, grid, photos … */
  act: string;
  at: number;
  /** The server's own sentence, where it did not take it. */
  refused?: string;
}

/** The header that carries an entry's own key: sent again because the answer was lost, it is done once. */
export const ENTRY = "X-Entry";
/** The header that says how long ago an entry was made [s], by this tablet's own clock both times. */
export const AGO = "X-Entered-Ago";
export const ago = (made: number) => ((Date.now() - made) / 1000).toFixed(1);
const STORE = "ventmap.outbox";
/** What may wait on the tablet: work on the steps of a job, notes, Intake, pictures. Writes to a vehicle never do. */
const MAY_WAIT = /^\/api\/jobs\/([^/]+)\/(?:steps\/([^/]+)\/(done|answers|grid|undo)|(notes|intake|photos))$/;

let entries: Kept[] = [];
/** What is said to be kept: only what the tablet has written down, so that a page that is left now loses nothing. */
let written: Kept[] = [];
let away = false;
let who = "";
const listeners = new Set<() => void>();
const tell = () => listeners.forEach((listener) => listener());
/** Write down what waits, as it is now. A tablet that has no room takes back what it could not write. */
const keep = async (next: Kept[]): Promise<void> => {
  const before = entries;
  entries = next;
  try {
    await set(STORE, next);
  } catch (error) {
    const known = new Set(before.map((entry) => entry.id));
    const kept = new Set(next.map((entry) => entry.id));
    // Only what this change made is taken back: others may have changed the list meanwhile.
    entries = [
      ...before.filter((entry) => !kept.has(entry.id) && !entries.some((one) => one.id === entry.id)),
      ...entries.filter((entry) => known.has(entry.id) || !kept.has(entry.id)),
    ].sort((one, other) => one.at - other.at);
    throw error;
  } finally {
    written = entries;
    tell();
  }
};

/** Take up what the tablet kept, when somebody signs in. */
export async function openOutbox(username: string): Promise<void> {
  who = username;
  written = entries = (await get<Kept[]>(STORE).catch(() => undefined)) ?? [];
  tell();
}

export function setAway(now: boolean): void {
  if (away !== now) {
    away = now;
    tell();
  }
}
export const isAway = () => away;

/** Whether an entry to this address may wait; and the job, step and act it is about. */
export function mayWait(method: string, address: string): { job: string; step: string; act: string } | null {
  const path = new URL(address, location.origin).pathname;
  const found = method === "POST" || method === "PUT" ? MAY_WAIT.exec(path) : null;
  return found
    ? { job: found[1], step: decodeURIComponent(found[2] ?? ""), act: found[3] ?? found[4] }
    : null;
}

/**
 * Keep an entry; settled once the tablet has written it down, and refused where it has no room for it. A grid or
 * Intake filled again takes the place of its earlier state, from the same revision.
 */
export async function waitFor(
  method: string,
  address: string,
  body: string | Blob,
  type: string,
  key: string = crypto.randomUUID(),
): Promise<void> {
  const about = mayWait(method, address);
  if (!about) throw new Error("This is done at the vehicle: it never waits.");
  const url = address.replace(location.origin, "");
  let kept = body;
  let rest = entries;
  if (method === "PUT" && typeof body === "string" && about.act !== "answers") {
    const before = waiting().find((entry) => entry.url === url);
    if (before && typeof before.body === "string") {
      const first = JSON.parse(before.body) as { revision?: number };
      kept = JSON.stringify({ ...(JSON.parse(body) as object), revision: first.revision });
      rest = entries.filter((entry) => entry !== before);
    }
  }
  await keep([...rest, { ...about, id: key, who, method, url, body: kept, type, at: Date.now() }]);
}

export const drop = (id: string) => keep(entries.filter((entry) => entry.id !== id));
/** The server did not take it: it stays, with the server's sentence. */
export const settle = (id: string, refused: string) =>
  keep(entries.map((entry) => (entry.id === id ? { ...entry, refused } : entry)));
/** What this person's tablet has to send, in the order in which it was made. */
export const waiting = () => entries.filter((entry) => entry.who === who && !entry.refused);

const isGrid = (job: string, step: string) => (one: Kept) =>
  one.job === job && one.step === step && one.act === "grid";
/** What was entered into a step's grid and waits here, newer than what the server knows of it. */
export function keptGrid(job: string, step: string): Record<string, unknown> | null {
  const entry = waiting().find(isGrid(job, step));
  if (typeof entry?.body !== "string") return null;
  return (JSON.parse(entry.body) as { data: Record<string, unknown> }).data;
}

export const gridRefused = (job: string, step: string) =>
  entries.some((entry) => entry.who === who && entry.refused && isGrid(job, step)(entry));

/** What waits here or was refused, of this person alone: of somebody else it says nothing and stops nothing. */
const mine = () => written.filter((entry) => entry.who === who);
let shown: { of: Kept[]; who: string; list: Kept[] } = { of: written, who, list: [] };
const kept = () => {
  if (shown.of !== written || shown.who !== who) shown = { of: written, who, list: mine() };
  return shown.list;
};

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};
export const useKept = () => useSyncExternalStore(subscribe, kept);
export const useAway = () => useSyncExternalStore(subscribe, () => away);
