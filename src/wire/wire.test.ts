import { describe, expect, it } from "vitest";
import { z } from "zod";
import { NotSupportedYet } from "../core/document/recipe";
import { UserError } from "../core/user-error";
import { addressOf, type Endpoint, paramsIn } from "./endpoint";
import { ENDPOINTS } from "./endpoints";
import { errorAnswer, errorSchema, STATUS, userErrorOf } from "./errors";
import { CODECS, FORMATS, isStills, mediaType } from "./formats";

const all = Object.entries<Endpoint>(ENDPOINTS);

describe("the table of endpoints", () => {
  it("names no method and path twice, in whatever words the parameters are called", () => {
    const named = all.map(([, e]) => `${e.method} ${e.path.replace(/:\w+/g, ":")}`);
    expect(named.filter((n, i) => named.indexOf(n) !== i)).toEqual([]);
  });

  it("means with every path one endpoint: no parameter swallows a word of another", () => {
    for (const [name, e] of all) {
      const path = e.path.replace(/:\w+/g, "x1");
      const meant = all.filter(([, o]) => o.method === e.method && paramsIn(o, path)).map(([n]) => n);
      expect([name, meant]).toEqual([name, [name]]);
    }
  });

  it("makes addresses that lead back to their parameters, also of odd names, and no endpoint of another length", () => {
    const e = ENDPOINTS.makeBlock;
    const at = addressOf(e, { id: "a b/c", k: "3" });
    expect(at).toBe("/takes/a%20b%2Fc/blocks/3");
    expect(paramsIn(e, at)).toEqual({ id: "a%20b%2Fc", k: "3" });
    expect(paramsIn(e, "/takes/x/blocks")).toBe(null);
    expect(addressOf(ENDPOINTS.mediaFolder, {}, { root: 0, path: "a&b" })).toBe("/media/list?root=0&path=a%26b");
    expect(addressOf(ENDPOINTS.still, { id: "x" }, { what: "frame", frame: 3, layer: undefined })).toBe("/shots/x/still?what=frame&frame=3");
  });

  it("keeps from pages what names paths of this machine", () => {
    const forPages = all.filter(([, e]) => e.asker === "page");
    for (const [name, e] of forPages) {
      const fields = e.body instanceof z.ZodObject ? Object.keys(e.body.shape) : [];
      expect([name, fields.includes("folder")]).toEqual([name, false]);
    }
    expect(["addTake", "addStills", "addPicture", "rendered", "exported"].map((n) => ENDPOINTS[n as "addTake"].asker)).toEqual(Array(5).fill("web"));
  });
});

describe("errors", () => {
  it("become one sentence with a code and the status that HTTP has for it (RFC 9110, 6585, 4918, 8470)", () => {
    const refused = errorAnswer(userErrorOf(new UserError("stale", "Changed.", { rev: 4 }))!);
    expect(refused).toEqual({ status: 409, body: { error: "Changed.", code: "stale", rev: 4 } });
    expect(errorSchema.parse(refused.body)).toMatchObject({ rev: 4 });
    // read from the documents named above
    expect(STATUS).toMatchObject({ invalid: 400, unknown: 401, forbidden: 403, missing: 404, "too-large": 413, refused: 422, "not-yet": 425, "too-many": 429, away: 503, full: 507 }); // prettier-ignore
  });

  it("of a schema, of JSON, of the core and of a full disk are told; a fault of ours is not", () => {
    const of = (e: unknown) => userErrorOf(e)?.code ?? null;
    const invalid = z.object({ a: z.number() }).safeParse({ a: "x" });
    expect(of(invalid.error)).toBe("invalid");
    expect(of(new SyntaxError("Unexpected token"))).toBe("invalid");
    expect(of(new RangeError("The stroke has no length."))).toBe("refused");
    expect(of(new RangeError("Invalid array length"))).toBe(null);
    expect(of(new NotSupportedYet("A reframe"))).toBe("unsupported");
    expect(of(new Error("write", { cause: Object.assign(new Error("no space"), { code: "ENOSPC" }) }))).toBe("full");
    expect(of(new TypeError("x is undefined"))).toBe(null);
  });
});

describe("the table of delivery formats", () => {
  it("has for each the end of a name it may be written to, and stills apart from films", () => {
    for (const c of CODECS) expect([c, FORMATS[c].containers.includes(FORMATS[c].extension as never)]).toEqual([c, true]);
    expect(CODECS.filter(isStills)).toEqual(["png", "tiff"]);
    // media types as the IANA registry has them; Matroska's from RFC 9559 is older here, as browsers know it
    expect([".mp4", ".mov", ".webm", ".mkv"].map(mediaType)).toEqual(["video/mp4", "video/quicktime", "video/webm", "video/x-matroska"]);
  });
});
