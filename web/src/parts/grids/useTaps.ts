import { useCallback, useReducer, useRef } from "react";

export type Data = Record<string, unknown>;
export type Change = (data: Data) => Data;

/**
 * Taps that come faster than the server answers: each shows at once, they are entered in turn, and none is lost.
 * `stands` reads what is on file at that moment; a change is made upon it, so what another tablet entered stays.
 */
export function useTaps(stands: () => Data, send: (data: Data) => Promise<unknown>) {
  const waiting = useRef<Change[]>([]);
  const sending = useRef(false);
  const [, drawAnew] = useReducer((n: number) => n + 1, 0);
  const made = useCallback((upon: Data) => waiting.current.reduce((data, change) => change(data), upon), []);
  const tap = async (change: Change) => {
    waiting.current.push(change);
    drawAnew();
    if (sending.current) return;
    sending.current = true;
    try {
      while (waiting.current.length) {
        const sent = waiting.current.length;
        await send(made(stands()));
        waiting.current.splice(0, sent);
      }
    } catch {
      // What was refused is said by the sender; the grid shows what is on file again.
      waiting.current = [];
    } finally {
      sending.current = false;
      drawAnew();
    }
  };
  return { made, tap, waiting: waiting.current.length > 0 };
}
