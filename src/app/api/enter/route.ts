import { entryCookie, isPassphrase } from "@/server/entry";
import { Refusal, route } from "@/server/route";
import { z } from "zod";

const schema = z.strictObject({ passphrase: z.string().max(1000) });

/** Answers the passphrase with the cookie; a wrong one after a second. */
export const POST = route(
  async (req) => {
    const { passphrase } = schema.parse(await req.json());
    if (!isPassphrase(passphrase)) {
      await new Promise((r) => setTimeout(r, 1000));
      throw new Refusal(401, "This is not the passphrase: it is the one Umber Moth was started with (UMBER_PASSPHRASE).");
    }
    return Response.json({}, { headers: { "set-cookie": entryCookie(), "cache-control": "no-store" } });
  },
  { open: true },
);
