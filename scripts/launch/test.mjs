import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { buildEngine, buildWeb, installPackages, installPrograms, needFfmpeg, run } from "./steps.mjs";

/** Browser tests that begin when the unit tests or the other browser tests are done, so that both cores are busy to the end. */
const LATER = ["kills", "start", "survive", "tabs", "takes", "trouble"];

/** Every check that CI runs, ending with one line of all together. */
export async function test(root) {
  await installPackages(root);
  await needFfmpeg();
  await installPrograms(["chromium", "chromedriver"], ["chromium", "chromium-driver"]);
  await installPrograms(["povray"], ["povray", "povray-includes"]);
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
  const eslint = check("lint", bin("eslint"), ["."]);
  await check("format", bin("prettier"), ["--check", "--log-level", "warn", "."]);
  await check("import directions", bin("depcruise"), ["--config", ".dependency-cruiser.cjs", "src"]);
  await check("types", bin("tsc"), ["--noEmit", "-p", "."]);
  await check("types of core without page and Node", bin("tsc"), ["--noEmit", "-p", "src/core"]);
  await eslint;
  let built = true;
  try {
    await buildEngine(root);
    await buildWeb(root);
  } catch (e) {
    built = false;
    console.error(e.message);
  }
  count("build", built);
  const reports = join(root, "coverage");
  mkdirSync(reports, { recursive: true });
  // side by side: a browser test mostly waits, and leaves a core free for the others; some wait until one of both is done
  const browser = readdirSync(join(root, "e2e")).filter((f) => f.endsWith(".test.ts"));
  const later = browser.filter((f) => LATER.includes(f.replace(".test.ts", "")));
  const of = (files) => files.map((f) => `e2e/${f}`);
  const parts = [
    { name: "unit and integration", projects: ["unit", "integration"], files: [] },
    { name: "browser", projects: ["e2e"], files: of(browser.filter((f) => !later.includes(f))) },
    { name: "browser, later", projects: ["e2e"], files: of(later) },
  ].map((p, i) => ({ ...p, report: join(reports, `${i}-${p.projects[0]}.json`) }));
  for (const { report } of parts) rmSync(report, { force: true });
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
  const [unit, first, second] = parts;
  const lanes = [start(unit), start(first)];
  await Promise.all([...lanes, Promise.race(lanes).then(() => start(second))]);
  for (const { name, report } of parts) {
    if (!existsSync(report)) {
      count(`${name} tests`, false);
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
