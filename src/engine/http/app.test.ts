import pino from "pino";
import { describe, expect, it } from "vitest";
import { UserError } from "../../core/user-error";
import { SECRET_HEADER } from "../../wire/layout";
import { NotYet, Stale } from "../db/documents";
import type { Answers } from "./answer";
import { appOf } from "./app";
import { Listeners } from "./events";

const ID = "11111111-1111-4111-8111-111111111111";
const logged: unknown[] = [];
const log = pino({ level: "silent" });
log.error = (e: unknown) => void logged.push(e);
const secret = Buffer.from("a secret of ours");

const asked = (answers: Partial<Answers>, path: string, body?: unknown, more: Partial<Parameters<typeof appOf>[0]> = {}, key = "a secret of ours") =>
  appOf({ answers, secret, log, ...more }).request(path, {
    method: body === undefined ? "GET" : "POST",
    headers: { [SECRET_HEADER]: key },
    body: body === undefined ? undefined : typeof body === "string" ? body : JSON.stringify(body),
  });
const said = async (r: Response | Promise<Response>) => {
  const answer = await r;
  return [answer.status, ((await answer.json()) as { error: string }).error] as const;
};

describe("the engine's answers", () => {
  it("are for who has the secret, and for what the table knows", async () => {
    const answers: Partial<Answers> = { state: () => Promise.resolve({ productions: [], notices: [], exposed: false }) };
    expect((await asked(answers, "/state")).status).toBe(200);
    expect(await said(asked(answers, "/state", undefined, {}, "another"))).toEqual([403, "Only the web process may talk to the engine."]);
    expect(await said(asked(answers, "/nothing"))).toEqual([404, "There is nothing here."]);
    expect((await asked(answers, "/state", {})).status).toBe(404); // not by that method
  });

  it("are checked before anything is done: query and body as the table says, no longer than they may be", async () => {
    let done = 0;
    const answers: Partial<Answers> = {
      noteTake: () => (done++, Promise.reject(new Error("done"))),
      mediaFolder: ({ query }) => Promise.resolve({ root: query.root, path: query.path, name: "", entries: [] }),
    };
    expect(await said(asked(answers, `/takes/${ID}/note`, { note: 3 }))).toEqual([400, expect.stringContaining("note:")]);
    expect(await said(asked(answers, `/takes/${ID}/note`, "{"))).toEqual([400, "The request is not JSON."]);
    expect(await said(asked(answers, `/takes/${ID}/note`, { note: "x".repeat(65e6) }))).toEqual([413, "The request is larger than 64 MB."]);
    expect(done).toBe(0);
    expect(await (await asked(answers, "/media/list?root=2&path=a")).json()).toMatchObject({ root: 2, path: "a" });
    expect((await asked(answers, "/media/list?root=-1")).status).toBe(400);
  });

  it("tell what somebody can do something about; a fault of ours goes to the log and not to the page", async () => {
    const failing = (e: Error): Partial<Answers> => ({ state: () => Promise.reject(e) });
    const stale = await asked(failing(new Stale(7, [])), "/state");
    expect([stale.status, await stale.json()]).toEqual([409, { error: expect.any(String) as string, code: "stale", rev: 7, since: [] }]);
    expect(await said(asked(failing(new NotYet("Wait a moment.")), "/state"))).toEqual([425, "Wait a moment."]);
    logged.length = 0;
    const [status, words] = await said(asked(failing(new TypeError("/home/somebody/secret.ts is undefined")), "/state"));
    expect([status, words.includes("secret.ts"), logged.length]).toEqual([500, false, 1]);
  });

  it("leave alone what the engine hung on before, and say why nothing is answered", async () => {
    const answers: Partial<Answers> = { addProduction: () => Promise.resolve({ id: ID }) };
    const begun: { key: string }[] = [];
    const send = process.send;
    process.send = (m: { begins?: { key: string } }) => (m.begins && begun.push(m.begins), true);
    try {
      expect((await asked(answers, "/productions", { name: "A" })).status).toBe(200);
    } finally {
      process.send = send;
    }
    const aside = [{ key: begun[0].key, words: "" }];
    expect(await said(asked(answers, "/productions", { name: "A" }, { aside }))).toEqual([422, expect.stringContaining("was set aside")]);
    expect((await asked(answers, "/productions", { name: "B" }, { aside })).status).toBe(200);
    const trouble = new UserError("trouble", "The disk is gone.");
    const r = await asked({}, "/state", undefined, { trouble });
    expect([r.status, await r.json()]).toEqual([503, { error: "The disk is gone.", code: "trouble" }]);
  });
});

describe("the stream of events", () => {
  it("tells all who listen, and forgets who has gone", async () => {
    const listeners = new Listeners();
    const [a, b] = [listeners.stream().getReader(), listeners.stream().getReader()];
    const next = async (r: typeof a) => new TextDecoder().decode((await r.read()).value);
    expect([await next(a), await next(b)]).toEqual([": hello\n\n", ": hello\n\n"]);
    await b.cancel();
    listeners.tell({ type: "productions" });
    expect(await next(a)).toBe('data: {"type":"productions"}\n\n');
  });
});
