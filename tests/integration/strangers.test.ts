import { spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { connect, createServer } from "node:net";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { isStranger, userOf } from "../../scripts/launch/strangers.mjs";

const user = userOf as (port: number, tables?: string[]) => number | null;
const stranger = isStranger as (s: { remotePort?: number }) => boolean;

describe("who has opened a connection on this machine", () => {
  it("is read from the system's table, whose form is that of proc(5)", () => {
    const table = join(mkdtempSync(join(tmpdir(), "umber-proc-")), "tcp");
    writeFileSync(
      table,
      `  sl  local_address rem_address   st tx_queue rx_queue tr tm->when retrnsmt   uid  timeout inode
   0: 0100007F:1306 00000000:0000 0A 00000000:00000000 00:00000000 00000000  1000        0 20917 1 0000000000000000 100 0 0 10 0
   1: 0100007F:C001 0100007F:1306 01 00000000:00000000 00:00000000 00000000  1007        0 20919 1 0000000000000000 20 4 30 10 -1
`,
    );
    expect(user(0xc001, [table])).toBe(1007);
    expect(user(0x1306, [table])).toBe(1000);
    expect(user(9, [table])).toBeNull();
    expect(user(9, [`${table}-none`])).toBeNull();
  });

  it.runIf(process.platform === "linux")("our own connections are ours", async () => {
    const server = createServer().listen(0, "127.0.0.1");
    await new Promise((r) => server.once("listening", r));
    const socket = connect((server.address() as AddressInfo).port, "127.0.0.1");
    await new Promise((r) => socket.once("connect", r));
    expect(user(socket.localPort!)).toBe(process.getuid!());
    expect(stranger({ remotePort: socket.localPort })).toBe(false);
    socket.destroy();
    server.close();
  });

  it.runIf(process.platform === "linux" && process.getuid?.() === 0)(
    "another user's connection is cut, the superuser's and one's own are not",
    () => {
      const script = `
      import { createServer, connect } from "node:net";
      import { spawn } from "node:child_process";
      import { isStranger } from ${JSON.stringify(new URL("../../scripts/launch/strangers.mjs", import.meta.url).pathname)};
      const said = [];
      const server = createServer((s) => { said.push(isStranger(s)); s.end(); }).listen(0, "127.0.0.1", async () => {
        const { port } = server.address();
        const ask = (uid) => new Promise((r) => spawn(process.execPath, ["-e", "require('net').connect(" + port + ", '127.0.0.1').on('close', () => process.exit())"], { uid }).on("close", r));
        await ask(1234); await ask(0);
        process.setuid(1234);
        await ask(1234);
        console.log(JSON.stringify(said));
        process.exit();
      });`;
      // the server is the superuser's first, who has nobody to tell apart
      const r = spawnSync(process.execPath, ["--input-type=module", "-e", script], { encoding: "utf8" });
      expect(JSON.parse(r.stdout)).toEqual([false, false, false]);
      const own = script
        .replace("const server", "const initial = process.getuid; process.getuid = () => 4321; const server")
        .replace("process.setuid(1234);", "");
      const other = spawnSync(process.execPath, ["--input-type=module", "-e", own], { encoding: "utf8" });
      expect(JSON.parse(other.stdout)).toEqual([true, false, true]);
    },
  );
});
