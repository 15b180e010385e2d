import createClient from "openapi-fetch";
import { LostRequest, send, type Sent } from "./keys";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

export const client = createClient<paths>({ baseUrl: "", fetch: send });

/** How a file goes out as it is, by its type. */
export const asFile = (type: string) => ({
  headers: { "content-type": type },
  bodySerializer: (body: unknown) => body as BodyInit,
});

/** What a row says now that somebody else has changed, and its version. */
export interface Conflict {
  now: unknown;
  version: number;
}

/** An answer the server refused, with its sentences by field; `lost` when it did not answer at all. */
export class Problem extends Error {
  constructor(
    message: string,
    readonly fields: Record<string, string> = {},
    readonly lost = false,
    readonly conflict?: Conflict,
    /** The write that got no answer, to be sent again. */
    readonly sent: Sent | null = null,
  ) {
    super(message);
  }
}

/** 208: the write was made before, and its first answer is not held any more. */
const ALREADY = 208;

interface Detail {
  loc: (string | number)[];
  msg: string;
}

function problemOf(error: unknown): Problem {
  const detail = (error as { detail?: Detail[] | string } | undefined)?.detail;
  if (!Array.isArray(detail)) {
    const conflict = (error as Conflict | undefined)?.version ? (error as Conflict) : undefined;
    return new Problem(typeof detail === "string" ? detail : "That didn't work.", {}, false, conflict);
  }
  const fields: Record<string, string> = {};
  for (const { loc, msg } of detail) {
    const field = [...loc].reverse().find((part) => typeof part === "string") ?? "body";
    fields[String(field)] ??= msg;
  }
  return new Problem(detail[0]?.msg ?? "That didn't work.", fields);
}

/** Returns the data of a call, or throws a {@link Problem}. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response?: Response }>): Promise<T> {
  let result: { data?: T; error?: unknown; response?: Response };
  try {
    result = await call;
  } catch (lost) {
    const sent = lost instanceof LostRequest ? lost.sent : null;
    const says = "The server doesn't answer. What you typed is still here. Try again.";
    throw new Problem(says, {}, true, undefined, sent);
  }
  if (result.response?.status === ALREADY) throw new Problem("This was noted already. It's in the log once.");
  if (result.error !== undefined || result.data === undefined) throw problemOf(result.error);
  return result.data;
}
