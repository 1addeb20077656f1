import { UserError } from "../../core/user-error";

/** Why the program cannot work on its data, in one sentence; starting once more changes nothing. */
export class StartFailure extends UserError {
  constructor(message: string) {
    super("trouble", message);
  }
}

/** Another program works on the data: this one has nothing to do and ends. */
export class InUse extends StartFailure {}

/** What an error of the file system or of the database means for the start. The folder is named as the user gave it. */
export function startFailure(e: unknown, folder: string): StartFailure {
  if (e instanceof StartFailure) return e;
  const text: string[] = [];
  for (let x: unknown = e; x instanceof Error; x = x.cause) text.push(`${(x as NodeJS.ErrnoException).code ?? ""} ${x.message}`);
  const said = text.join(" ");
  const is = (...codes: string[]) => codes.some((c) => said.includes(c));
  if (is("ENOSPC", "SQLITE_FULL", "disk is full"))
    return new StartFailure(`The disk with the data folder “${folder}” is full: make room on it, then start Umber Moth again; nothing is lost.`);
  if (is("ENOTDIR", "EEXIST"))
    return new StartFailure(`The data folder “${folder}” is a file, or lies below one: set UMBER_DATA to a folder, or move that file away.`);
  if (is("EACCES", "EPERM", "EROFS", "SQLITE_READONLY", "SQLITE_CANTOPEN", "readonly"))
    return new StartFailure(
      `The data folder “${folder}” cannot be written to: give yourself the right to write there, or set UMBER_DATA to another one.`,
    );
  if (is("SQLITE_NOTADB", "SQLITE_CORRUPT", "malformed", "not a database"))
    return new StartFailure(
      `The database in “${folder}” is damaged and was left as it is: go back to a kept copy on the first page, or with ./umber restore.`,
    );
  if (is("SQLITE_BUSY", "database is locked"))
    return new InUse(`The database in “${folder}” is being written to by another program: end that one first.`);
  return new StartFailure(`The data folder “${folder}” could not be opened: look at the messages on the terminal, then start Umber Moth again.`);
}
