import { statfs } from "node:fs/promises";
import { UserError } from "@/core/user-error";

/** What stays free beside what is taken in, since the database, indexes and quick frames have to grow: bytes at most, and share of the disk. */
const RESERVE = { most: 500e6, share: 0.02 };

const size = (bytes: number) => (bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(1)} GB`);

/**
 * Asks before anything is written whether a file fits on the disk.
 * @param bytes of the file, as the browser says; null where it does not @param folder on that disk
 * @throws UserError with how much is needed and how much there is
 */
export async function assertRoom(name: string, bytes: number | null, folder: string): Promise<void> {
  if (bytes === null) return;
  const disk = await statfs(folder).catch(() => null);
  if (!disk) return;
  const spare = Math.max(0, disk.bavail * disk.bsize - Math.min(RESERVE.most, RESERVE.share * disk.blocks * disk.bsize));
  if (bytes > spare)
    throw new UserError(
      "full",
      `The disk is full: “${name}” needs ${size(bytes)} and there are ${size(spare)} to spare; make room, or use it where it lies, by a media folder.`,
    );
}
