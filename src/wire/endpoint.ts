import type { z } from "zod";

/** The names in a path: “/shots/:id/edits” has `id`. */
export type Params<P extends string> = P extends `${string}:${infer K}/${infer R}`
  ? { [N in K | keyof Params<`/${R}`>]: string }
  : P extends `${string}:${infer K}`
    ? { [N in K]: string }
    : Record<never, string>;

/** Who may ask: pages by way of the web process, or the web process alone (such requests and answers hold paths of this machine). */
export type Asker = "page" | "web";

/** One thing that can be asked of the engine. Pages ask it below /api. */
export interface Endpoint<
  P extends string = string,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  A extends z.ZodType | null = z.ZodType | null,
> {
  /** GET asks, POST changes something. */
  method: "GET" | "POST";
  /** Its path, with the names of its parameters: `id`s are ids, `hash`es are hashes, `k` and `n` whole numbers. */
  path: P;

  /** Who may ask it. */
  asker: Asker;
  /** What may stand after the question mark. */
  query?: Q;
  /** The JSON that is sent along. */
  body?: B;
  /** The JSON that is answered; null where the answer is a file or a stream. */
  answer: A;
}

interface Parts<Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType | null> {
  query?: Q;
  body?: B;
  answer: A;
  asker?: Asker;
}

export const get = <P extends string, A extends z.ZodType | null, Q extends z.ZodType = z.ZodType<undefined>>(path: P, parts: Parts<Q, z.ZodType<undefined>, A>): Endpoint<P, Q, z.ZodType<undefined>, A> => ({ method: "GET", asker: "page", ...parts, path }); // prettier-ignore
export const post = <P extends string, A extends z.ZodType | null, B extends z.ZodType = z.ZodType<undefined>>(path: P, parts: Parts<z.ZodType<undefined>, B, A>): Endpoint<P, z.ZodType<undefined>, B, A> => ({ method: "POST", asker: "page", ...parts, path }); // prettier-ignore

export type ParamsOf<E> = E extends Endpoint<infer P> ? Params<P> : never;
/** What a page sends. */
export type BodyOf<E> = E extends Endpoint<string, z.ZodType, infer B> ? z.input<B> : never;
export type AnswerOf<E> = E extends { answer: infer A extends z.ZodType } ? z.output<A> : never;

/** The address of an endpoint, without the /api of pages. */
export function addressOf<P extends string>(e: { path: P }, params: Params<P>, query: Record<string, string | number | undefined> = {}): string {
  const path = e.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent((params as Record<string, string>)[name]));
  const given = Object.entries(query).flatMap(([k, v]) => (v === undefined ? [] : [[k, String(v)]]));
  return given.length ? `${path}?${new URLSearchParams(given)}` : path;
}

/** The parameters that a path has for an endpoint; null where it is another's. */
export function paramsIn(e: Pick<Endpoint, "path">, path: string): Record<string, string> | null {
  const [is, asked] = [e.path.split("/"), path.split("/")];
  if (is.length !== asked.length) return null;
  const out: Record<string, string> = {};
  for (const [i, part] of is.entries()) {
    if (part.startsWith(":")) out[part.slice(1)] = asked[i];
    else if (part !== asked[i]) return null;
  }
  return out;
}
