/** Loaded before the pages' process begins: it ends when it is told to, and when its launcher has gone, however that ended. */
import http from "node:http";
import { isStranger } from "./strangers.mjs";

process.on("disconnect", () => process.exit(0));
// the launcher may have gone before this line was read
if (process.connected === false) process.exit(0);
for (const s of ["SIGTERM", "SIGINT", "SIGHUP"]) process.on(s, () => process.exit(0));

const create = http.createServer;
http.createServer = (...args) => {
  // a film that is uploaded for longer than five minutes is no attack: what does not move any more is seen by its connection
  const server = Object.assign(create(...args), { requestTimeout: 0 });
  // opened beyond this machine, the passphrase decides
  if (process.env.UMBER_EXPOSED !== "1") server.prependListener("connection", (s) => isStranger(s) && s.destroy());
  return server;
};
