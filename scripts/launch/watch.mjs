import { spawn } from "node:child_process";

/** Status with which the engine says that starting it again changes nothing (src/engine/life.ts). */
const IN_USE = 3;
/** Our own status after the engine could not be kept running. */
const CANNOT_RUN = 4;

/** Seconds in which a living engine is heard. */
const SILENCE = Number(process.env.UMBER_SILENCE ?? 30);
const ASK_EVERY = Math.min(2, SILENCE / 4);

/** A program that is kept running: started again when it ends by itself, and at most so often. What it says goes to the terminal and is `heard`. */
export function keepRunning({ name, args, cwd, env, stdout, watched, gone, heard }) {
  const say = (words) => {
    console.error(words);
    heard(`${new Date().toISOString()} ${words}\n`);
  };
  let leaving = false;
  let child;
  /** What the engine hung on: it leaves that alone from then on. */
  const aside = [];
  /** What it is doing now, oldest first. */
  let under = [];
  /** Early ends in a row. */
  let early = 0;

  const begin = () => {
    const started = Date.now();
    under = [];
    child = spawn(process.execPath, args, {
      cwd,
      env: { ...env, UMBER_SET_ASIDE: JSON.stringify(aside) },
      stdio: ["ignore", stdout, "pipe", "ipc"],
    });
    const pass = (from, to) =>
      from?.on("data", (d) => {
        to.write(d);
        heard(d);
      });
    pass(child.stdout, process.stdout);
    pass(child.stderr, process.stderr);
    if (process.env.UMBER_PIDS) console.log(`${name} ${child.pid}`);
    let asked = 0;
    child.on("message", (m) => {
      asked = 0;
      if (m?.begins) under.push(m.begins);
      if (m?.ends) {
        const at = under.findLastIndex((d) => d.key === m.ends);
        if (at >= 0) under.splice(at, 1);
      }
    });
    // questions are counted and not seconds: a machine that slept has asked none meanwhile
    const watch =
      watched &&
      setInterval(() => {
        if (asked * ASK_EVERY >= SILENCE) {
          clearInterval(watch);
          const hung = under.at(-1);
          if (hung) aside.push(hung);
          say(
            `The engine was silent for ${SILENCE} s${hung ? ` while it was ${hung.words}; it is started again, and that is set aside` : "; it is started again"}.`,
          );
          child.kill("SIGKILL");
          return;
        }
        asked++;
        if (child.connected) child.send("alive?", () => undefined);
      }, ASK_EVERY * 1000);
    child.on("error", () => undefined);
    child.on("close", (code) => {
      clearInterval(watch);
      if (leaving) return;
      if (code === IN_USE || code === CANNOT_RUN) return gone(code);
      // one that was killed is no failure of its own
      early = Date.now() - started < 10_000 && code ? early + 1 : 0;
      if (early > 5) {
        say(`The ${name} process ended ${early} times within seconds of its start and is not started again: see the messages above.`);
        return gone(CANNOT_RUN);
      }
      if (code !== 0) say(`The ${name} process ended (${code ?? "killed"}); it is started again.`);
      setTimeout(() => !leaving && begin(), early > 1 ? 1000 * early : 100);
    });
  };
  begin();
  return {
    /** Ends it: asked first, and after `patience` milliseconds no longer. */
    end(patience) {
      leaving = true;
      if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
      return new Promise((done) => {
        child.once("exit", done);
        child.kill("SIGTERM");
        setTimeout(() => child.kill("SIGKILL"), patience).unref();
      });
    },
  };
}
