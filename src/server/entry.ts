import { createHmac, timingSafeEqual } from "node:crypto";

/** Opened beyond this machine, the program asks for a passphrase; who gave it carries a cookie. */
export const COOKIE = "umber";

export const isExposed = () => process.env.UMBER_EXPOSED === "1";

/** What the cookie holds: it ends when the program is started again. */
const mark = () =>
  createHmac("sha256", `${process.env.UMBER_ENGINE_SECRET}/${process.env.UMBER_PASSPHRASE}`).update("umber moth entry").digest("hex");

const same = (a: string, b: string) => {
  const [x, y] = [a, b].map((v) => createHmac("sha256", "compare").update(v).digest());
  return timingSafeEqual(x, y);
};

/** Whether a request carries the cookie. */
export function hasEntered(req: Request): boolean {
  const given = new RegExp(`(?:^|;\\s*)${COOKIE}=([0-9a-f]+)`).exec(req.headers.get("cookie") ?? "")?.[1];
  return given !== undefined && same(given, mark());
}

export const isPassphrase = (given: string) => same(given, process.env.UMBER_PASSPHRASE ?? "");

export const entryCookie = () => `${COOKIE}=${mark()}; Path=/; HttpOnly; SameSite=Strict`;
