import type { z } from "zod";
import type { Endpoint, Params } from "../../wire/endpoint";
import type { EndpointName, Endpoints } from "../../wire/endpoints";

/** What an answer is made of: the request's parameters, what was asked and what was sent, both checked. */
export interface Asked<E> {
  params: E extends Endpoint<infer P> ? Params<P> : never;
  query: E extends Endpoint<string, infer Q> ? z.output<Q> : never;
  body: E extends Endpoint<string, z.ZodType, infer B> ? z.output<B> : never;
}

/** JSON as the table says, or where it says null, a file or a stream. */
type Answer<E> = E extends { answer: infer A extends z.ZodType } ? z.input<A> : Response;

/** Answers every endpoint of the table. */
export type Answers = { [N in EndpointName]: (asked: Asked<Endpoints[N]>) => Promise<Answer<Endpoints[N]>> };

/** A picture's samples, with a header that says how they lie. */
export const samples = (bytes: Uint8Array, head: string, layout: object) =>
  new Response(bytes as Uint8Array<ArrayBuffer>, { headers: { "content-type": "application/octet-stream", [head]: JSON.stringify(layout) } });
