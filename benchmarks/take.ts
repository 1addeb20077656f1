import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { recipeWith } from "../testkit/pictures";
import { ff, file, root } from "./measure";

/** Frames of the take that is measured: the demo's hall, twice over, at 1080p with noise. */
export const FRAMES = 192;
export const TAKE = file("take.mp4");
export const RECIPE = file("r.json");
/** The same picture through the same soft edge, for ffmpeg's overlay. */
export const PATCH = file("patch.png");
export const PATCH_AT = { x: 600, y: 108 };

const patch = { center: [900, 300], size: [576, 360], feather: 24 };

export const recipe = recipeWith(
  [
    {
      id: "l",
      kind: "patch",
      in: 0,
      out: FRAMES - 1,
      source: { plate: "p" },
      mask: { shapes: [{ kind: "box", op: "add", ...patch }] },
    },
  ],
  { takes: { a: { path: "take.mp4" } }, shot: { take: "a", in: 0, out: FRAMES - 1 }, plates: { p: { from: { take: "a", frame: 20 }, touches: [] } } },
);

export function makeTake(): void {
  const look = "scale=1920:1080:flags=bicubic,noise=alls=3:allf=t";
  const hall = ["-stream_loop", "1", "-i", join(root, "demo/takes/hall.mp4"), "-frames:v", String(FRAMES)];
  ff(...hall, "-vf", look, "-an", "-c:v", "libx264", "-preset", "fast", "-b:v", "16M", "-pix_fmt", "yuv420p", TAKE);
  writeFileSync(RECIPE, JSON.stringify(recipe));
  // α rises over 24 px, half of them beyond the box
  const [w, h] = [patch.size[0] + 24, patch.size[1] + 24];
  const edge = `clip(min(min(X+0.5,${w}-X-0.5),min(Y+0.5,${h}-Y-0.5))/24,0,1)`;
  const alpha = `geq=r='r(X,Y)':g='g(X,Y)':b='b(X,Y)':a='255*${edge}*${edge}*(3-2*${edge})'`;
  const cut = `select=eq(n\\,20),crop=${w}:${h}:${PATCH_AT.x}:${PATCH_AT.y},format=rgba,${alpha}`;
  ff("-i", TAKE, "-vf", cut, "-frames:v", "1", PATCH);
}
