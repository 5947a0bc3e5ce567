import { QueryCache, QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { unread, watchUnread } from "./unread";

test("a query that fails with nothing to show is told until it is read; one that is shown elsewhere is not", async () => {
  const cache = new QueryCache();
  const stop = watchUnread(cache);
  const client = new QueryClient({ queryCache: cache, defaultOptions: { queries: { retry: false } } });
  let well = false;
  const ask = (key: string, meta?: { shown: boolean }) =>
    new QueryObserver(client, {
      queryKey: [key],
      meta,
      queryFn: () => (well ? "read" : Promise.reject(new Error("There is no such pump."))),
    }).subscribe(() => undefined);
  const leave = ask("pumps");
  ask("sheet", { shown: true });
  await expect.poll(() => unread().map((one) => one.sentence)).toEqual(["There is no such pump."]);
  well = true;
  unread()[0]!.again();
  await expect.poll(unread).toEqual([]);
  well = false;
  client.removeQueries({ queryKey: ["pumps"] });
  leave();
  const gone = ask("wires");
  await expect.poll(() => unread().length).toBe(1);
  gone();
  await expect.poll(unread).toEqual([]);
  stop();
});
