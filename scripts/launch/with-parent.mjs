/** Loaded before the pages' process begins: it ends when it is told to, and when its launcher has gone, however that ended. */
process.on("disconnect", () => process.exit(0));
for (const s of ["SIGTERM", "SIGINT", "SIGHUP"]) process.on(s, () => process.exit(0));
