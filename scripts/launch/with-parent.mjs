/** Loaded before the pages' process begins: it ends when it is told to, and when its launcher has gone, however that ended. */
import http from "node:http";

process.on("disconnect", () => process.exit(0));
for (const s of ["SIGTERM", "SIGINT", "SIGHUP"]) process.on(s, () => process.exit(0));

// a film that is uploaded for longer than five minutes is no attack: what does not move any more is seen by its connection
const create = http.createServer;
http.createServer = (...args) => Object.assign(create(...args), { requestTimeout: 0 });
