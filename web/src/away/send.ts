import { AGO, ago, drop, ENTRY, isAway, settle, setAway, waiting } from "./outbox";

let sending = false;
const csrf = () => document.cookie.match(/(?:^|; )csrftoken=([^;]*)/)?.[1] ?? "";

/** Send what the tablet kept, in its order; what the server refuses stays, with its sentence. How many were sent. */
export async function sendKept(): Promise<number> {
  if (sending) return 0;
  sending = true;
  let sent = 0;
  try {
    for (const entry of waiting()) {
      let answer: Response;
      try {
        answer = await fetch(entry.url, {
          method: entry.method,
          body: entry.body,
          headers: {
            "Content-Type": entry.type,
            "X-CSRFToken": csrf(),
            [ENTRY]: entry.id,
            [AGO]: ago(entry.at),
          },
        });
      } catch {
        setAway(true);
        return sent;
      }
      setAway(false);
      // Signed out meanwhile, or the server is not well: nothing is lost, it is tried again.
      if (answer.status === 401 || answer.status >= 500) return sent;
      if (answer.ok) {
        await drop(entry.id);
        sent += 1;
      } else {
        const told = (await answer.json().catch(() => ({}))) as { sentence?: string };
        await settle(entry.id, told.sentence ?? `The server refused (${answer.status}).`);
      }
    }
  } finally {
    sending = false;
  }
  return sent;
}

/** Whether there is reason to try: something waits, or the server was away. */
export const worthTrying = () => waiting().length > 0 || isAway();
