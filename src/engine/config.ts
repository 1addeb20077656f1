import { readFileSync } from "node:fs";
import { join } from "node:path";
import { type DataPaths, dataPaths } from "./paths";
import { type Doing, setAside } from "./life";

/** What the engine is told by its environment, read once at its start. */
export interface Config {
  /** The folder of the program, with `dist`, `drizzle` and `demo`. */
  root: string;
  paths: DataPaths;
  /** Shared with the web process alone, 16 bytes or more. */
  secret: Buffer;
  /** Where it listens: a socket in a folder that only the user can open. */
  socket: string;
  /** Where the page answers, as a second start says it. */
  address: string;
  logLevel: string;
  /** Bytes of decoded frames that are kept, unless the user has set another number. */
  cache: number;
  /** Whether others than this machine may open the page. */
  exposed: boolean;
  /** Which takes of the demo production are brought in: "1" for all, a name for one, nothing for none. */
  demo: string | undefined;
  /** What the engine hung on before. */
  aside: Doing[];
  /** The program's own. */
  version: string;
}

/** @throws where it was not started by the launcher */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const secret = Buffer.from(env.UMBER_ENGINE_SECRET ?? "");
  if (secret.length < 16) throw new Error("UMBER_ENGINE_SECRET is missing: start the program with ./umber.");
  const root = env.UMBER_ROOT ?? process.cwd();
  return {
    root,
    paths: dataPaths(),
    secret,
    socket: env.UMBER_ENGINE_SOCKET ?? "",
    address: env.UMBER_ADDRESS ?? "",
    logLevel: env.UMBER_LOG ?? "info",
    cache: Number(env.UMBER_CACHE ?? 8e9),
    exposed: env.UMBER_EXPOSED === "1",
    demo: env.UMBER_DEMO,
    aside: setAside(env.UMBER_SET_ASIDE),
    version: (JSON.parse(readFileSync(join(root, "package.json"), "utf8")) as { version: string }).version,
  };
}
