import type { QueryCache } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";

/** Something on the screen that could not be read: the server's sentence, and how it is asked again. */
export interface Unread {
  sentence: string;
  again: () => void;
}

const AWAY = "The server does not answer: part of this screen could not be read.";

let found: Unread[] = [];
const listeners = new Set<() => void>();

/**
 * What the queries of the screens now shown could not read and have nothing older to show for. A query whose own
 * component says it carries `meta: { shown: true }`.
 */
function unreadOf(cache: QueryCache): Unread[] {
  const failed = cache
    .getAll()
    .filter(
      (query) =>
        query.state.status === "error" &&
        query.state.data === undefined &&
        query.getObserversCount() > 0 &&
        !query.meta?.shown,
    );
  const sentences = new Map<string, typeof failed>();
  for (const query of failed) {
    const error = query.state.error as (Error & { status?: number }) | null;
    const sentence = error?.status === 0 ? AWAY : (error?.message ?? AWAY);
    sentences.set(sentence, [...(sentences.get(sentence) ?? []), query]);
  }
  return [...sentences].map(([sentence, queries]) => ({
    sentence,
    again: () => queries.forEach((query) => void query.fetch().catch(() => undefined)),
  }));
}

/** Keep watch over a cache: whatever fails there is told, whether its component looks or not. */
export function watchUnread(cache: QueryCache): () => void {
  return cache.subscribe(() => {
    const next = unreadOf(cache);
    if (next.map((one) => one.sentence).join() === found.map((one) => one.sentence).join()) return;
    found = next;
    listeners.forEach((listener) => listener());
  });
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};
export const unread = () => found;
export const useUnread = () => useSyncExternalStore(subscribe, unread);
