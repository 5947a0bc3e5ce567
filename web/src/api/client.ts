import createClient, { type Middleware } from "openapi-fetch";
import { ENTRY, mayWait, setAway, waitFor, waiting } from "../away/outbox";
import { KeptRequest } from "./kept";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Job = Schemas["JobOut"];
export type Call = Schemas["CallOut"];
export type Evidence = Schemas["EvidenceOut"];
export type Step = Schemas["StepOut"];
export type Slat = Schemas["SlatOut"];
export type Entry = Schemas["LedgerOut"];

/** A sentence for a person, and the input that it is about. */
export class ApiError extends Error {
  constructor(
    sentence: string,
    readonly field: string | null,
    readonly status: number,
  ) {
    super(sentence);
  }
}

/** It could not be sent: it is kept on this tablet and sent when the server is back. */
export class KeptHere extends ApiError {
  constructor() {
    super("The server is away. It is kept on this tablet, not sent yet.", null, 0);
  }
}

/** It could not be sent, and the tablet has no room to keep it: it stands only in the field where it was typed. */
export class NotKept extends ApiError {
  constructor() {
    super(
      "The server is away and this tablet has no room left: it is NOT kept. Leave this screen open, free some room on the tablet, and enter it again.",
      null,
      0,
    );
  }
}

export function csrf(): string {
  return document.cookie.match(/(?:^|; )csrftoken=([^;]*)/)?.[1] ?? "";
}

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrf());
    // The same key goes with it however often it is sent: the server does it once.
    if (mayWait(request.method, request.url)) request.headers.set(ENTRY, crypto.randomUUID());
    return request;
  },
};

/** Over the air: what may wait is kept where the server does not answer, and behind what waits already. */
async function overTheAir(request: Request): Promise<Response> {
  const may = mayWait(request.method, request.url);
  const copy = may ? request.clone() : null;
  const keep = async (asked: Request) => {
    const body = await asked.text();
    const key = asked.headers.get(ENTRY) ?? undefined;
    await waitFor(asked.method, asked.url, body, "application/json", key).catch(() => {
      throw new NotKept();
    });
    throw new KeptHere();
  };
  if (copy && waiting().length > 0) return keep(copy);
  try {
    const answer = await fetch(request);
    setAway(answer.headers.has("X-Seen"));
    return answer;
  } catch (error) {
    setAway(true);
    if (copy) return keep(copy);
    throw error;
  }
}

export const api = createClient<paths>({ fetch: overTheAir, Request: KeptRequest });
api.use(guard);

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer, or an `ApiError` with the server's own sentence. */
export async function take<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch (error) {
    if (error instanceof ApiError) throw error;
    throw new ApiError(
      "The server does not answer. Your entry is still here: try again when it is back.",
      null,
      0,
    );
  }
  if (answer.response.ok && answer.error === undefined) return answer.data as T;
  const told = answer.error as { sentence?: string; field?: string | null } | undefined;
  if (answer.response.status === 401 && !location.pathname.startsWith("/sign-in"))
    location.assign("/sign-in");
  throw new ApiError(
    told?.sentence ?? `The server refused (${answer.response.status}).`,
    told?.field ?? null,
    answer.response.status,
  );
}

/** Send a file as it is, with progress 0–1. */
export function sendFile<T>(
  address: string,
  file: File,
  progress: (share: number) => void,
): { done: Promise<T>; stop: () => void } {
  const request = new XMLHttpRequest();
  const done = new Promise<T>((resolve, reject) => {
    request.open("PUT", address);
    request.setRequestHeader("X-CSRFToken", csrf());
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => event.lengthComputable && progress(event.loaded / event.total);
    request.onload = () => {
      const body = (() => {
        try {
          return JSON.parse(request.responseText);
        } catch {
          return {};
        }
      })();
      if (request.status < 300) resolve(body as T);
      else
        reject(
          new ApiError(
            body.sentence ?? `The server refused (${request.status}).`,
            body.field ?? null,
            request.status,
          ),
        );
    };
    request.onerror = () => {
      setAway(true);
      if (!mayWait("PUT", address))
        return reject(new ApiError("The file did not arrive. Drop it again.", "file", 0));
      waitFor("PUT", address, file, "application/octet-stream").then(
        () => reject(new KeptHere()),
        () => reject(new NotKept()),
      );
    };
    request.onabort = () => reject(new ApiError("Stopped. Nothing was kept.", "file", 0));
    request.send(file);
  });
  return { done, stop: () => request.abort() };
}
