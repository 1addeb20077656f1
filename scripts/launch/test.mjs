import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { buildEngine, buildWeb, installPackages, installPrograms, needFfmpeg, run } from "./steps.mjs";

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
  // side by side: a browser test mostly waits, and leaves a core free for the others
  const projects = ["unit", "e2e"].map((project) => ({ project, file: join(reports, `${project}.json`) }));
  for (const { file } of projects) rmSync(file, { force: true });
  await Promise.all(
    projects.map(({ project, file }) =>
      run(bin("vitest"), ["run", "--project", project, "--maxWorkers=1", "--reporter=default", "--reporter=json", `--outputFile=${file}`], root),
    ),
  );
  for (const { project, file } of projects) {
    if (!existsSync(file)) {
      count(`${project} tests`, false);
      continue;
    }
    const r = JSON.parse(readFileSync(file, "utf8"));
    passed += r.numPassedTests;
    // a file that could not even be loaded has no tests to count, and is a failure all the same
    failed += r.numFailedTests + r.testResults.filter((f) => f.status === "failed" && f.assertionResults.length === 0).length;
  }
  console.log(`${passed} passed, ${failed} failed`);
  return failed ? 1 : 0;
}
