import "fake-indexeddb/auto";
import { clear } from "idb-keyval";
import { beforeEach, expect, test, vi } from "vitest";

vi.stubGlobal("location", { origin: "http://shop" });
vi.stubGlobal("document", { cookie: "csrftoken=abc" });

const STEP = "http://shop/api/jobs/0001/steps/fit.torque";
/** A tablet as it is when it is switched on: nothing in the page's own memory, the store as it was. */
async function tablet(who = "installer") {
  vi.resetModules();
  const outbox = await import("./outbox");
  const { sendKept } = await import("./send");
  await outbox.openOutbox(who);
  return { ...outbox, sendKept };
}
const answer = (status: number, body: object = {}) => new Response(JSON.stringify(body), { status });

beforeEach(() => clear());

test("what is kept is there after the page was left, in its order", async () => {
  const first = await tablet();
  await first.waitFor("POST", `${STEP}/done`, '{"anyway":false}', "application/json");
  await first.waitFor("POST", "http://shop/api/jobs/0001/notes", '{"text":"a"}', "application/json");
  const again = await tablet();
  expect(again.waiting().map((entry) => entry.act)).toEqual(["done", "notes"]);
});

test("a tablet without room refuses, keeps what it had and says nothing is kept", async () => {
  const full = await tablet();
  await full.waitFor("POST", `${STEP}/done`, "{}", "application/json");
  const put = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
    throw new DOMException("no room", "QuotaExceededError");
  });
  await expect(full.waitFor("PUT", `${STEP}/grid`, '{"revision":1}', "application/json")).rejects.toThrow();
  put.mockRestore();
  expect(full.waiting().map((entry) => entry.act)).toEqual(["done"]);
  expect((await tablet()).waiting().map((entry) => entry.act)).toEqual(["done"]);
});

test("a grid filled again without room goes back to the state that was kept", async () => {
  const full = await tablet();
  await full.waitFor("PUT", `${STEP}/grid`, '{"revision":4,"data":{"a":"1"}}', "application/json");
  const put = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
    throw new DOMException("no room", "QuotaExceededError");
  });
  const again = '{"revision":5,"data":{"a":"2"}}';
  await expect(full.waitFor("PUT", `${STEP}/grid`, again, "application/json")).rejects.toThrow();
  put.mockRestore();
  expect(full.keptGrid("0001", "fit.torque")).toEqual({ a: "1" });
});

test("a grid filled again takes the place of its earlier state, from the revision first seen", async () => {
  const { waitFor, waiting } = await tablet();
  await waitFor("PUT", `${STEP}/grid`, '{"revision":4,"data":{"a":"1"}}', "application/json");
  await waitFor("PUT", `${STEP}/grid`, '{"revision":9,"data":{"a":"2"}}', "application/json");
  expect(waiting().map((entry) => JSON.parse(entry.body as string))).toEqual([
    { revision: 4, data: { a: "2" } },
  ]);
});

test.each([
  ["PUT", "/api/jobs/0001/load-board"],
  ["POST", "/api/jobs/0001/loads"],
  ["POST", "/api/jobs/0001/ignition"],
  ["POST", "/api/jobs/0001/codes/clear"],
  ["GET", "/api/jobs/0001/steps/a/done"],
])("what touches the vehicle never waits: %s %s", async (method, path) => {
  const { mayWait, waitFor, waiting } = await tablet();
  expect(mayWait(method, `http://shop${path}`)).toBeNull();
  await expect(waitFor(method, `http://shop${path}`, "{}", "application/json")).rejects.toThrow();
  expect(waiting()).toEqual([]);
});

test("sent in order; what the server refuses stays with its sentence and holds nothing up", async () => {
  const { waitFor, waiting, sendKept } = await tablet();
  for (const act of ["done", "answers", "undo"])
    await waitFor("POST", `${STEP}/${act}`, `{"act":"${act}"}`, "application/json");
  const sent: string[] = [];
  vi.stubGlobal("fetch", async (url: string) => {
    sent.push(url);
    return url.endsWith("answers") ? answer(409, { sentence: "Somebody answered it." }) : answer(200);
  });
  expect(await sendKept()).toBe(2);
  expect(sent.map((url) => url.split("/").at(-1))).toEqual(["done", "answers", "undo"]);
  expect(waiting()).toEqual([]);
  const after = await tablet();
  expect(after.waiting()).toEqual([]);
  vi.stubGlobal("fetch", async () => answer(200));
  expect(await after.sendKept()).toBe(0);
});

test.each([401, 500, 503])(
  "nothing is lost where the server answers %i: it is tried again",
  async (status) => {
    const { waitFor, waiting, sendKept } = await tablet();
    await waitFor("POST", `${STEP}/done`, "{}", "application/json");
    vi.stubGlobal("fetch", async () => answer(status));
    expect(await sendKept()).toBe(0);
    expect(waiting()).toHaveLength(1);
  },
);

test("another person's entries are neither sent nor counted", async () => {
  const { waitFor } = await tablet("installer");
  await waitFor("POST", `${STEP}/done`, "{}", "application/json");
  const other = await tablet("lead");
  expect(other.waiting()).toEqual([]);
  vi.stubGlobal("fetch", async () => answer(200));
  expect(await other.sendKept()).toBe(0);
  expect((await tablet("installer")).waiting()).toHaveLength(1);
});

test("an entry keeps its key however often it is sent, and the one that had no answer keeps its own", async () => {
  const { waitFor, sendKept, ENTRY } = await tablet();
  await waitFor("POST", "http://shop/api/jobs/0001/notes", '{"text":"a"}', "application/json", "key-1");
  const sent: string[] = [];
  const server = vi.fn((_: string, given: RequestInit) => {
    sent.push((given.headers as Record<string, string>)[ENTRY]);
    return Promise.resolve(answer(200));
  });
  const lost = (url: string, given: RequestInit) =>
    server(url, given).then(() => Promise.reject(new TypeError("lost")));
  vi.stubGlobal("fetch", lost);
  await sendKept();
  await sendKept();
  vi.stubGlobal("fetch", server);
  await sendKept();
  expect(sent).toEqual(["key-1", "key-1", "key-1"]);
});

test("what waits is one person's: neither shown to another nor in the way of what the other enters", async () => {
  const first = await tablet("installer");
  await first.waitFor("PUT", `${STEP}/grid`, '{"revision":4,"data":{"a":"1"}}', "application/json");
  await first.settle(first.waiting()[0].id, "refused");
  await first.waitFor("PUT", `${STEP}/grid`, '{"revision":4,"data":{"a":"2"}}', "application/json");
  const other = await tablet("lead");
  expect(other.waiting()).toEqual([]);
  expect(other.keptGrid("0001", "fit.torque")).toBeNull();
  expect(other.gridRefused("0001", "fit.torque")).toBe(false);
  await other.waitFor("PUT", `${STEP}/grid`, '{"revision":7,"data":{"b":"3"}}', "application/json");
  expect(JSON.parse(other.waiting()[0].body as string)).toEqual({ revision: 7, data: { b: "3" } });
  expect((await tablet("installer")).keptGrid("0001", "fit.torque")).toEqual({ a: "2" });
});
