/** What is written for a shot is named alike: the shot, what it is, and of single pictures the frame, with leading zeros. */
const inFile = (s: string) => s.replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-|-$/g, "");

/** The name of what is written, without its ending: `Ticket-hall-mended`. */
export const writtenName = (shot: string, what: string): string => `${inFile(shot) || "shot"}-${inFile(what)}`;

/** The name of one picture, without its ending: `Ticket-hall-mended-0050`. */
export const pictureName = (shot: string, what: string, frame: number): string => `${writtenName(shot, what)}-${String(frame).padStart(4, "0")}`;

/** The next version of what is written: `Ticket-hall-mended`, then `Ticket-hall-mended-v2`. @param written files of the shot, with their endings */
export function nextVersion(base: string, written: readonly string[]): string {
  const versions = written.flatMap((file) => {
    if (!file.startsWith(base)) return [];
    const rest = /^(?:-v(\d+))?(?:\.[^.]+)?$/.exec(file.slice(base.length));
    return rest ? [Number(rest[1] ?? 1)] : [];
  });
  return versions.length ? `${base}-v${Math.max(...versions) + 1}` : base;
}
