import { type DataPaths, dataPaths } from "./paths";
import { type Doing, setAside } from "./life";

/** What the engine is told by its environment, read once at its start. */
export interface Config {
  /** The folder of the program, with `dist`, `drizzle` and `demo`. */
  root: string;
  paths: DataPaths;
  /** Shared with the web process alone, 16 bytes or more. */
  secret: Buffer;
  port: number;
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
}

/** @throws where it was not started by the launcher */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const secret = Buffer.from(env.UMBER_ENGINE_SECRET ?? "");
  if (secret.length < 16) throw new Error("UMBER_ENGINE_SECRET is missing: start the program with ./umber.");
  return {
    root: env.UMBER_ROOT ?? process.cwd(),
    paths: dataPaths(),
    secret,
    port: Number(env.UMBER_ENGINE_PORT),
    address: env.UMBER_ADDRESS ?? "",
    logLevel: env.UMBER_LOG ?? "info",
    cache: Number(env.UMBER_CACHE ?? 8e9),
    exposed: env.UMBER_EXPOSED === "1",
    demo: env.UMBER_DEMO,
    aside: setAside(env.UMBER_SET_ASIDE),
  };
}
