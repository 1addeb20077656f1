import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { buildEngine, buildWeb, installPackages, installPrograms, needFfmpeg, run } from "./steps.mjs";

/** Browser tests that take long: begun first, so that none of them is left over at the end. */
const LONG = ["held-out", "follow", "scout", "proof", "match", "editor", "retouch", "walk", "takes", "start", "moving", "survive", "library", "demo"];

/** Tests of the whole program that take about as long together as all the others of their kind. */
const HEAVY = ["shaken", "plate", "frames", "render"];

/** Every check that CI runs, ending with one line of all together; quick for the inner loop, without building, browser and whole program. */
export async function test(root, quick = false) {
  await installPackages(root);
  await needFfmpeg();
  if (!quick) {
    await installPrograms(["chromium", "chromedriver"], ["chromium", "chromium-driver"]);
    await installPrograms(["povray"], ["povray", "povray-includes"]);
  }
  const bin = (name) => join(root, "node_modules", ".bin", name);
  let passed = 0;
  let failed = 0;
  const count = (name, ok) => {
    console.error(`${ok ? "ok" : "FAILED"}: ${name}`);
    if (ok) passed++;
    else failed++;
  };
  const check = async (name, program, args) => count(name, (await run(program, args, root)) === 0);
  // two at a time: each of them keeps one core busy
  const style = (async () => {
    await check("lint", bin("eslint"), ["."]);
    await check("format", bin("prettier"), ["--check", "--log-level", "warn", "."]);
    await check("import directions", bin("depcruise"), ["--config", ".dependency-cruiser.cjs", "src"]);
  })();
  await check("types", bin("tsc"), ["--noEmit", "-p", "."]);
  await check("types of core without page and Node", bin("tsc"), ["--noEmit", "-p", "src/core"]);
  if (!quick) {
    let built = true;
    try {
      await buildEngine(root);
      await buildWeb(root);
    } catch (e) {
      built = false;
      console.error(e.message);
    }
    count("build", built);
  }
  await style;
  const reports = join(root, "coverage");
  // three lanes for two cores, as browser tests wait for much of their time: two begin with halves of the integration tests, one with
  // the longest browser test; each goes on with what is left. What browser tests begin with is made before the second and third lane set
  // out: surveys give way to all other work, and would be late on a busy machine
  const names = readdirSync(join(root, "e2e")).filter((f) => f.endsWith(".test.ts") && f !== "ready.test.ts");
  const rank = (f) => (LONG.indexOf(f.replace(".test.ts", "")) + LONG.length + 1) % (LONG.length + 1);
  const browser = names.toSorted((a, b) => rank(a) - rank(b)).map((f) => ({ name: `e2e/${f}`, projects: ["e2e"], files: [`e2e/${f}`] }));
  const unit = { name: "unit tests", projects: ["unit"], files: [] };
  const whole = readdirSync(join(root, "tests", "integration")).filter((f) => f.endsWith(".test.ts"));
  const integration = (name, wanted) => ({
    name,
    projects: ["integration"],
    files: whole.filter((f) => wanted(f.replace(".test.ts", ""))).map((f) => `tests/integration/${f}`),
  });
  const heavy = integration("integration tests that take long", (f) => HEAVY.includes(f));
  const light = integration("integration tests", (f) => !HEAVY.includes(f));
  const [longest, second, ...others] = browser;
  const made = { name: "e2e/ready.test.ts", projects: ["e2e"], files: ["e2e/ready.test.ts"] };
  const parts = (quick ? [unit] : [made, heavy, longest, light, second, unit, ...others]).map((p, i) => ({
    ...p,
    report: join(reports, `${i}.json`),
  }));
  rmSync(reports, { recursive: true, force: true });
  mkdirSync(reports, { recursive: true });
  const start = ({ projects, files, report }) =>
    run(
      bin("vitest"),
      [
        "run",
        ...projects.flatMap((p) => ["--project", p]),
        "--maxWorkers=1",
        "--reporter=default",
        "--reporter=json",
        `--outputFile=${report}`,
        ...files,
      ],
      root,
    );
  const queue = quick ? [...parts] : parts.slice(1);
  const rest = async () => {
    for (let next = queue.shift(); next; next = queue.shift()) await start(next);
  };
  const first = rest();
  if (!quick) await start(parts[0]);
  await Promise.all([first, rest(), rest()]);
  for (const { name, report } of parts) {
    if (!existsSync(report)) {
      count(name, false);
      continue;
    }
    const r = JSON.parse(readFileSync(report, "utf8"));
    passed += r.numPassedTests;
    // a file that could not even be loaded has no tests to count, and is a failure all the same
    failed += r.numFailedTests + r.testResults.filter((f) => f.status === "failed" && f.assertionResults.length === 0).length;
  }
  console.log(`${passed} passed, ${failed} failed`);
  return failed ? 1 : 0;
}
