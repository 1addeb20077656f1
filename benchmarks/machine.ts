import { TAKE } from "./take";
import { ff, median, seconds } from "./measure";

/** A fixed loop of whole numbers and of floats, as pixels are worked on: what one core does in Node on this day. */
function loop(): number {
  const a = new Uint8Array(1 << 20);
  const b = new Float64Array(1 << 20);
  let sum = 0;
  for (let round = 0; round < 8; round++)
    for (let i = 0; i < a.length; i++) {
      a[i] = (a[i] * 31 + i) & 255;
      b[i] = 0.5 * b[i] + a[i];
      sum += b[i];
    }
  return sum;
}

/**
 * How fast the machine is just now, by two fixed pieces of work: frames of the benchmark's take that ffmpeg decodes in a second, and
 * the milliseconds of a loop. A row can be compared with another only where these are alike.
 */
export async function machineNow(): Promise<string> {
  const runs: number[] = [];
  for (let i = 0; i < 5; i++) runs.push(await seconds(loop));
  const decode = await seconds(() => ff("-i", TAKE, "-frames:v", "48", "-f", "null", "-"));
  return `decode ${(48 / decode).toFixed(0)} fps, loop ${(1000 * median(runs)).toFixed(0)} ms`;
}

/** The same in the browser: milliseconds of drawing a fixed picture to a canvas, each time as the screen shows it. */
export const CANVAS_LOOP = `const done = arguments[arguments.length - 1];
  const c = document.createElement("canvas");
  c.width = 640; c.height = 360;
  const g = c.getContext("2d"), p = new ImageData(640, 360);
  let n = 0;
  const t = performance.now();
  while (n++ < 100) { p.data[n] = n; g.putImageData(p, 0, 0); g.getImageData(0, 0, 1, 1); }
  done((performance.now() - t) / 100);`;
