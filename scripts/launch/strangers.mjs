import { readFileSync } from "node:fs";

/** The user on whose behalf a local connection was opened, by the system's own table (Linux, proc(5)); null where it does not say. */
export function userOf(port, tables = ["/proc/net/tcp", "/proc/net/tcp6"]) {
  const hex = `:${port.toString(16).toUpperCase().padStart(4, "0")}`;
  for (const t of tables) {
    let text;
    try {
      text = readFileSync(t, "utf8");
    } catch {
      continue; // no such system
    }
    // sl, local address, remote address, state, queues, timer, retransmissions, user
    for (const line of text.split("\n").slice(1)) {
      const f = line.trim().split(/\s+/);
      if (f[1]?.endsWith(hex)) return Number(f[7]);
    }
  }
  return null;
}

/**
 * Whether a connection on this machine comes from another user of it, to whom footage is none of their business. The superuser can
 * do anything anyhow; and a program that runs as superuser, as in a container, has nobody to tell apart.
 */
export function isStranger(socket) {
  const own = process.getuid?.() ?? 0;
  if (own === 0 || !socket.remotePort) return false;
  const user = userOf(socket.remotePort);
  return user !== null && user !== own && user !== 0;
}
