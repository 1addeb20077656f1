/**
 * Calls `end` once the process that started this one has gone, however that ended. It may have gone before this was asked, while
 * modules were still being read: `disconnect` has been emitted by then, to nobody.
 */
export function whenOrphaned(end: () => void): void {
  process.on("disconnect", end);
  // undefined where nobody ever was at the other end
  if (process.connected === false) end();
}
