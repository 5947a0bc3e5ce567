import { useEffect, useState, type ComponentType } from "react";

type Fetch = () => Promise<{ default: ComponentType<never> }>;
const loaded = new Map<Fetch, ComponentType<never>>();

/** Fetch a screen's code, once. */
export function preload(fetch: Fetch): Promise<void> {
  return loaded.has(fetch)
    ? Promise.resolve()
    : fetch().then((module) => void loaded.set(fetch, module.default));
}

/**
 * A screen whose code is fetched when it is first shown. Not React's `lazy`: that holds every reveal back by a third of a
 * second, and a slat that was fetched already has to stand at once.
 */
export function useLoaded<P>(fetch: Fetch | undefined): ComponentType<P> | null {
  const [, again] = useState(0);
  const shown = fetch && (loaded.get(fetch) as ComponentType<P> | undefined);
  // As it was when this was drawn: code that arrives between drawing and here is drawn as well.
  const missing = fetch !== undefined && shown === undefined;
  useEffect(() => {
    if (!fetch || !missing) return;
    let wait: ReturnType<typeof setTimeout> | undefined;
    // A server that is away for a moment: asked again until it answers.
    const ask = () =>
      void preload(fetch).then(
        () => again((n) => n + 1),
        () => (wait = setTimeout(ask, 1500)),
      );
    ask();
    return () => clearTimeout(wait);
  }, [fetch, missing]);
  return shown ?? null;
}
