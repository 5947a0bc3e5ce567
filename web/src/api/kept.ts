/** The greatest body that is let outlive its page: a browser holds 64 KiB for all of them together. */
export const OUTLIVES = 8_000;

/** What was entered is sent to its end, though the page is left, loaded anew or closed the moment after. */
export class KeptRequest extends Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(input, { ...init, keepalive: outlives(init) });
  }
}

/** Whether this write may outlive its page: asking need not, and a long body may not. */
export function outlives(init?: RequestInit): boolean {
  const { method = "GET", body } = init ?? {};
  if (method.toUpperCase() === "GET") return false;
  return body == null || (typeof body === "string" && body.length < OUTLIVES);
}
