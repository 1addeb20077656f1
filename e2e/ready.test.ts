import { expect, it } from "vitest";
import { startReady } from "./support/ready";
import { Session } from "./support/session";

/** Made first: what the other browser tests begin with. */
it("the demo production is read and surveyed, and opens so from a copy", async () => {
  const app = await startReady();
  expect((await new Session(app).takes()).map((t) => t.state)).toEqual(Array(7).fill("ready"));
  await app.stop();
});
