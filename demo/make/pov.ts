import { execa } from "execa";
import { existsSync } from "node:fs";
import { mkdir, rename } from "node:fs/promises";
import { dirname, join } from "node:path";
import sharp from "sharp";

/** For what moves or is soft anyway. */
export const FEW_RAYS = { side: 2, from: 0.2 };

export const SCENES = new URL("../scenes/", import.meta.url).pathname;

export interface Trace {
  scene: string;
  width: number;
  height: number;
  /** Only this rectangle is traced; the rest stays black. Pixels, x1 and y1 outside. */
  rect?: { x0: number; y0: number; x1: number; y1: number };
  declare?: Record<string, number>;
  /** Saves, or loads, the radiosity of the empty set, so that every frame has the same light. */
  radiosity?: { file: string; mode: "save" | "load" };
  /** The alpha of what is drawn is kept: layers that are put over each other later. */
  alpha?: boolean;
  /** Rays per pixel and side where neighbours differ, and from which difference on. */
  rays?: { side: number; from: number } | "one";
  out: string;
}

/** Traces one picture as 16-bit PNG. A picture that is there already is not traced again. */
export async function trace(t: Trace): Promise<void> {
  if (existsSync(t.out)) return;
  await mkdir(dirname(t.out), { recursive: true });
  const part = t.out.replace(/\.png$/, ".part.png");
  const args = [
    `+I${join(SCENES, t.scene)}`,
    `+L${SCENES}`,
    `+L${dirname(t.out)}`,
    `+O${part}`,
    `+W${t.width}`,
    `+H${t.height}`,
    "-D",
    "+FN16",
    "-J",
    ...(t.rays === "one" ? ["-A"] : [`+A${t.rays?.from ?? 0.25}`]),
    ...(t.rays && t.rays !== "one" ? [`+R${t.rays.side}`] : []),
    ...(t.alpha ? ["+UA"] : []),
    ...(t.rect ? [`+SC${t.rect.x0 + 1}`, `+EC${t.rect.x1}`, `+SR${t.rect.y0 + 1}`, `+ER${t.rect.y1}`] : []),
    ...(t.radiosity ? [t.radiosity.mode === "save" ? "+RFO" : "+RFI", `+RF${t.radiosity.file}`] : []),
    ...Object.entries(t.declare ?? {}).map(([k, v]) => `Declare=${k}=${v}`),
  ];
  const run = await execa("povray", args, { reject: false });
  if (run.exitCode !== 0)
    throw new Error(
      `povray could not trace ${t.scene}: ${run.stderr
        .split("\n")
        .filter((l) => /rror/.test(l))
        .join(" ")}`,
    );
  await rename(part, t.out);
}

/** Draws a flat picture that a scene maps onto a surface. */
export async function drawMap(name: string, folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  await sharp(join(SCENES, `${name}.svg`))
    .png()
    .toFile(join(folder, `${name}.png`));
}
