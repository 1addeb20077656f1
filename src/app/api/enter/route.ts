import { UserError } from "@/core/user-error";
import { closedFor, entryCookie, isPassphrase } from "@/web/entry";
import { jsonBody, route } from "@/web/route";
import { z } from "zod";

const schema = z.strictObject({ passphrase: z.string().max(1000) });

/** Guesses are heard one after another. */
let turn: Promise<unknown> = Promise.resolve();

/** Answers the passphrase with the cookie; a wrong one after a second, and after some of them none for a while, all comers together. */
export const POST = route(
  async (req) => {
    const { passphrase } = schema.parse(await jsonBody(req));
    const mine = turn.then(async () => {
      const wait = closedFor(Date.now());
      if (wait)
        throw new UserError(
          "too-many",
          `Too many wrong passphrases were given: the next is heard in ${wait < 100 ? `${wait} s` : `${Math.ceil(wait / 60)} minutes`}.`,
        );
      if (isPassphrase(passphrase, Date.now())) return;
      await new Promise((r) => setTimeout(r, 1000));
      throw new UserError("unknown", "This is not the passphrase: it is the one Umber Moth was started with (UMBER_PASSPHRASE).");
    });
    turn = mine.catch(() => undefined);
    await mine;
    return Response.json({}, { headers: { "set-cookie": entryCookie(req), "cache-control": "no-store" } });
  },
  { open: true },
);
