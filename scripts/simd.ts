/** Builds src/core/simd/assembly into modules that are loaded as text: `npm run simd`. */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import asc from "assemblyscript/asc";

const root = new URL("..", import.meta.url).pathname;

/** The program a source gives. @throws with the compiler's words */
export async function compiled(name: string): Promise<Uint8Array> {
  const from = join("src/core/simd/assembly", `${name}.ts`);
  const options = ["--outFile", "out.wasm", "-O3", "--noAssert", "--runtime", "stub", "--importMemory", "--noExportMemory", "--enable", "simd"];
  let binary: Uint8Array | null = null;
  const { error, stderr } = await asc.main([from, "--baseDir", root, ...options], {
    writeFile: (file, contents) => {
      if (file === "out.wasm") binary = contents as Uint8Array;
    },
  });
  if (error || !binary) throw new Error(`${from}: ${error?.message ?? ""}\n${String(stderr)}`);
  return binary;
}

export const textOf = (binary: Uint8Array) =>
  `/** Built from assembly/yuv-rows.ts by npm run simd. */\nexport const YUV_ROWS =\n  "${Buffer.from(binary).toString("base64")}"; // prettier-ignore\n`;

if (process.argv[1] === new URL(import.meta.url).pathname)
  writeFileSync(join(root, "src/core/simd/yuv-rows-code.ts"), textOf(await compiled("yuv-rows")));
