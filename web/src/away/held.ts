import type { Kept } from "./outbox";
import { useKept } from "./outbox";

/** What waits on this tablet for a job, by its steps. */
export function useHeld(job: string): {
  entries: Kept[];
  done: (step: { key: string; stage: string; evidence: string }) => boolean;
  answered: (ask: { key: string; field: string }) => boolean;
} {
  const entries = useKept().filter((entry) => entry.job === job && !entry.refused);
  const bodies = entries
    .filter((entry) => typeof entry.body === "string")
    .map((entry) => ({ entry, body: JSON.parse(entry.body as string) as Record<string, unknown> }));
  return {
    entries,
    // What makes it safe is judged before anybody goes on: such a reading stays in front until it is sent.
    // A wait that was started without the server runs only when the server knows of it.
    done: (step) =>
      bodies.some(
        ({ entry, body }) =>
          entry.step === step.key &&
          entry.act === "done" &&
          !(step.stage === "make-safe" && ["reading", "answer"].includes(step.evidence)) &&
          (step.evidence !== "timer" || body.anyway === true),
      ),
    answered: (ask) =>
      bodies.some(
        ({ entry, body }) => entry.act === "answers" && body.key === ask.key && body.field === ask.field,
      ),
  };
}
