/** What each command does, for those who ask: nothing is installed, built or started for it. */
const COMMANDS = {
  demo: { use: "demo", says: "installs what is missing, builds, loads the demo production, starts, prints the address" },
  start: { use: "start", says: "the same with your own footage only" },
  test: {
    use: "test [--quick]",
    says: "installs what is missing, runs every check",
    options: { "--quick": "lint, format, import directions, types and the unit tests alone" },
  },
  render: {
    use: "render RECIPE.json --out FILE [--codec h264|prores|ffv1|vp9] [--preset medium] [--crf N] [--only patch|matte] [--handles N] [--convert]",
    says: "renders a recipe to a film, or to stills by a name such as frames/####.png",
    options: {
      "--out FILE": "where to; a name with # in it, ending in .png or .tif, means numbered stills",
      "--codec NAME": "h264 (default), prores, ffv1 (lossless) or vp9",
      "--preset NAME": "ultrafast … veryslow (default medium)",
      "--crf N": "0–51, lower is better (default 18)",
      "--only patch|matte": "the patches or their matte alone, as stills with transparency",
      "--handles N": "only the mended stretch, with N frames more on either side",
      "--convert": "convert what the codec cannot carry, instead of refusing",
    },
  },
  survey: { use: "survey FILE [--json]", says: "measures a take: stillness, light, cuts, grain, bars" },
  plate: {
    use: "plate FILE --out plate.png [--frame N | --from A --to B [--averaged]]",
    says: "a held frame as a picture, or one built from many",
    options: {
      "--frame N": "the frame that is held (default 0)",
      "--from A --to B": "built from these frames",
      "--averaged": "the mean of all clean frames",
    },
  },
  backup: { use: "backup DIR", says: "everything the application keeps, consistent, also while it runs; DIR must be new" },
  restore: { use: "restore [DIR | COPY]", says: "puts back a backup, or a kept copy of the database; without either it lists the kept copies" },
};

/** The whole help, or that of one command. */
export function help(command) {
  const c = Object.hasOwn(COMMANDS, command ?? "") ? COMMANDS[command] : null;
  if (c)
    return [
      `./umber ${c.use}`,
      `  ${c.says}`,
      ...Object.entries(c.options ?? {}).map(([name, says]) => `  ${name.padEnd(20)} ${says}`),
      "  --help               this",
    ].join("\n");
  const width = Math.max(...Object.keys(COMMANDS).map((k) => k.length));
  return [
    "Umber Moth takes booms, rigs and their shadows out of locked-off shots.",
    ...Object.entries(COMMANDS).map(([k, v]) => `  ./umber ${k.padEnd(width)}  ${v.says}`),
    "  ./umber COMMAND --help    what a command takes",
    "  ./umber --version         the version",
  ].join("\n");
}

/** Whether there is such a command. */
export const isCommand = (name) => Object.hasOwn(COMMANDS, name ?? "");
/** How a command is used, in a line. */
export const use = (name) => `./umber ${COMMANDS[name].use}`;
