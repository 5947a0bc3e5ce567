/** The build that this page is of; the server says which one it serves. */
export const BUILD = document.querySelector('meta[name="build"]')?.getAttribute("content") ?? "";

/** Register the service worker, where the page was built with one. */
export function startWorker(): void {
  if (BUILD && "serviceWorker" in navigator)
    addEventListener(
      "load",
      () => void navigator.serviceWorker.register("/worker.js").catch(() => undefined),
    );
}

/** Take the newer shell: the worker that waits is let in, then the page is loaded anew. Unsent entries stay. */
export async function takeNewer(): Promise<void> {
  const registered = await navigator.serviceWorker?.getRegistration().catch(() => undefined);
  await registered?.update().catch(() => undefined);
  const fresh = registered?.waiting ?? registered?.installing;
  if (fresh) {
    const taken = new Promise((done) =>
      navigator.serviceWorker.addEventListener("controllerchange", done, { once: true }),
    );
    fresh.postMessage("take");
    await Promise.race([taken, new Promise((done) => setTimeout(done, 3000))]);
  }
  location.reload();
}

/** Nobody is signed in: what was seen is not shown to the next one. */
export function forgetSeen(): void {
  navigator.serviceWorker?.controller?.postMessage("forget");
}
