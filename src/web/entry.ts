import { createHmac, randomBytes, timingSafeEqual } from "node:crypto";

/** Opened beyond this machine, the program asks for a passphrase; who gave it carries a cookie. */
export const COOKIE = "umber";

export const isExposed = () => process.env.UMBER_EXPOSED === "1";

/** Signs an entry: it counts until the program is started again, or somebody leaves by it. */
const signed = (id: string) =>
  createHmac("sha256", `${process.env.UMBER_ENGINE_SECRET}/${process.env.UMBER_PASSPHRASE}`).update(`umber moth entry ${id}`).digest("hex");

/** What pages and routes of this process share: they are bundled apart. */
interface Shared {
  left: Set<string>;
  /** Wrong guesses since the last right one, and when the next guess is heard, in milliseconds. */
  wrong: number;
  open: number;
}
const shared = ((globalThis as { umberEntry?: Shared }).umberEntry ??= { left: new Set(), wrong: 0, open: 0 });

/** Guesses that are heard one after another, all comers together; after them each waits twice as long as the one before. */
const FREE = 5;
const FIRST_WAIT = 30_000;
const LONGEST_WAIT = 3_600_000;

const given = (req: Request) => new RegExp(`(?:^|;\\s*)${COOKIE}=([0-9a-f]{32})\\.([0-9a-f]{64})(?:;|$)`).exec(req.headers.get("cookie") ?? "");

const same = (a: string, b: string) => {
  const [x, y] = [a, b].map((v) => createHmac("sha256", "compare").update(v).digest());
  return timingSafeEqual(x, y);
};

/** Whether a request carries the cookie. */
export function hasEntered(req: Request): boolean {
  const m = given(req);
  return m !== null && same(m[2], signed(m[1])) && !shared.left.has(m[1]);
}

/** Seconds until a guess is heard again; 0 when one is heard now. */
export const closedFor = (now: number): number => Math.max(0, Math.ceil((shared.open - now) / 1000));

/** Whether it is the passphrase. Wrong guesses are counted, all comers together, and said on the terminal. */
export function isPassphrase(guess: string, now: number): boolean {
  if (same(guess, process.env.UMBER_PASSPHRASE ?? "")) {
    shared.wrong = 0;
    return true;
  }
  shared.wrong++;
  if (shared.wrong >= FREE) shared.open = now + Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** (shared.wrong - FREE));
  process.stderr.write(
    `${new Date(now).toISOString()} a wrong passphrase was given (${shared.wrong} in a row); the next is heard in ${closedFor(now)} s\n`,
  );
  return false;
}

/** Behind https the cookie is not sent over http. */
const secure = (req: Request) => (req.headers.get("x-forwarded-proto") === "https" || req.url.startsWith("https:") ? "; Secure" : "");

export function entryCookie(req: Request): string {
  const id = randomBytes(16).toString("hex");
  return `${COOKIE}=${id}.${signed(id)}; Path=/; HttpOnly; SameSite=Strict${secure(req)}`;
}

/** Ends an entry for good. @returns the cookie that takes it from the browser */
export function leave(req: Request): string {
  const m = given(req);
  if (m) shared.left.add(m[1]);
  return `${COOKIE}=; Path=/; HttpOnly; SameSite=Strict; Max-Age=0${secure(req)}`;
}
