/** Arrows point down only: app → ui → client → wire → recipe → core; app → web → wire; engine → wire → recipe → core. */
const layer = (name) => `^src/${name}/`;
const no = (from, to) => ({
  name: `${from}-not-${to.join("-")}`,
  severity: "error",
  from: { path: layer(from) },
  to: { path: to.map(layer).join("|") },
});

module.exports = {
  forbidden: [
    no("core", ["recipe", "wire", "engine", "web", "client", "ui", "app"]),
    no("recipe", ["wire", "engine", "web", "client", "ui", "app"]),
    no("wire", ["engine", "web", "client", "ui", "app"]),
    no("engine", ["web", "client", "ui", "app"]),
    no("web", ["engine", "client", "ui", "app"]),
    no("client", ["engine", "web", "ui", "app"]),
    no("ui", ["engine", "web", "app"]),
    no("app", ["engine"]),
    {
      name: "core-stands-alone",
      severity: "error",
      from: { path: "^src/core/", pathNot: "\\.test\\.ts$" },
      to: { dependencyTypes: ["npm", "npm-dev", "core"] },
    },
    { name: "no-circles", severity: "error", from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } } },
    { name: "resolves", severity: "error", from: { path: "^src/" }, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "node", "default", "types"],
      extensions: [".ts", ".tsx", ".js", ".mjs", ".css"],
    },
  },
};
