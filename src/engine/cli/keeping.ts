import { resolve } from "node:path";
import { backUp, putBack } from "../keeping/backup";
import { copies, goBackTo } from "../keeping/copies";
import { takeFolder } from "../keeping/lock";
import { dataPaths } from "../paths";
import { options, Usage } from "./usage";

/** One folder or name, or none. @throws Usage */
function oneName(command: string, args: string[]): string | undefined {
  const { rest } = options(args, {});
  if (rest.length > 1) throw new Usage(`${command} needs one DIR`);
  return rest[0];
}

const mega = (bytes: number) => `${(bytes / 1e6).toFixed(1)} MB`;

/** `umber backup DIR` */
export async function backupCommand(args: string[]): Promise<void> {
  const to = oneName("backup", args);
  if (to === undefined) throw new Usage("backup needs one DIR");
  const { files, bytes } = await backUp(dataPaths(), resolve(to));
  console.log(`Backed up: ${files} files, ${mega(bytes)}, each checked when it is put back with ./umber restore.`);
}

/** `umber restore [DIR | COPY]`: a backup, one of the kept copies of the database, or the list of them. */
export async function restoreCommand(args: string[]): Promise<void> {
  const from = oneName("restore", args);
  const paths = dataPaths();
  const kept = await copies(paths);
  if (from === undefined) {
    console.log(kept.length ? kept.map((c) => `${c.name}  ${mega(c.bytes)}`).join("\n") : "There is no kept copy of the database.");
    return;
  }
  const release = await takeFolder(paths.data, "");
  try {
    if (kept.some((c) => c.name === from)) {
      await goBackTo(paths, from, Date.now());
      console.log(`The database is that of ${from} again; what was there before lies in “set-aside”.`);
    } else {
      const { files } = await putBack(paths, resolve(from), Date.now());
      console.log(`Put back: ${files} files; what they replaced lies in “set-aside”.`);
    }
  } finally {
    release();
  }
}
