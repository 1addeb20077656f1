import { z } from "zod";
import { type ErrorCode, UserError } from "../core/user-error";

/** The HTTP status that tells of each kind of error. */
export const STATUS: Record<ErrorCode, number> = {
  invalid: 400,
  unknown: 401,
  forbidden: 403,
  missing: 404,
  stale: 409,
  busy: 409,
  "too-large": 413,
  refused: 422,
  unsupported: 422,
  stopped: 422,
  "not-yet": 425,
  "too-many": 429,
  away: 503,
  trouble: 503,
  full: 507,
};

const FULL = "The disk is full, so this was not stored: make room, then do it again; everything before it is there.";

/** Whether a full disk is behind an error, of the file system or the database. */
function isFull(e: unknown): boolean {
  for (let x = e; x instanceof Error; x = x.cause)
    if (/SQLITE_FULL|disk is full|ENOSPC/i.test(`${"code" in x ? String(x.code) : ""} ${x.message}`)) return true;
  return false;
}

/**
 * What the user is to be told of an error; null for a fault of ours, which is logged with its stack and whose message may hold
 * paths and worse. The core refuses what it cannot compute by a RangeError in a whole sentence; those the language throws by itself
 * are none. The one place where errors of every kind become sentences, for web, engine and command line.
 */
export function userErrorOf(e: unknown): UserError | null {
  if (e instanceof UserError) return e;
  if (e instanceof z.ZodError)
    return new UserError("invalid", `The request is not valid: ${e.issues[0].path.join(".") || "body"}: ${e.issues[0].message}.`);
  if (e instanceof SyntaxError) return new UserError("invalid", "The request is not JSON.");
  if (e instanceof RangeError && /^.+ .+\.$/.test(e.message)) return new UserError("refused", e.message);
  return isFull(e) ? new UserError("full", FULL) : null;
}

/** The answer that tells of an error. */
export const errorAnswer = (e: UserError): { status: number; body: { error: string; code: ErrorCode } & Record<string, unknown> } => ({
  status: STATUS[e.code],
  body: { ...e.data, error: e.message, code: e.code },
});

/** An answer that tells of an error, as it is read. */
export const errorSchema = z.looseObject({
  /** One sentence for the user. */
  error: z.string(),
  /** What kind of thing went wrong. */
  code: z.string().optional(),
});
