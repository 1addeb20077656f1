import { mkdirSync, writeFileSync } from "node:fs";
import { Runner } from "../../src/engine/jobs/runner";
import { ingest } from "../../src/engine/media/ingest";
import { against, cli, ff, file, median, peakMemory, repeated, root, type Row } from "../measure";
import { FRAMES, PATCH, PATCH_AT, RECIPE, recipe, TAKE } from "../take";
import { join } from "node:path";

export async function render(): Promise<Row[]> {
  // as the application renders: a process of its own, on a take that was read when it came in
  const data = file("data");
  mkdirSync(join(data, "takes", "take"), { recursive: true });
  writeFileSync(join(data, "takes", "take", "index.json"), JSON.stringify(await ingest(TAKE)));
  const { takes: _, ...rest } = recipe;
  const spec = {
    ...{ recipe: { ...rest, takes: { a: { asset: "take" } } }, takes: { a: "take" }, pictures: {}, file: "job.mp4" },
    ...{ codec: "h264" as const, preset: "medium", crf: 18, what: "result" as const, convert: false },
  };
  const runner = new Runner(join(root, "dist/job.mjs"), data, () => 4e9);
  let jobs = 0;
  const write = async () => {
    const job = `job-${jobs++}`;
    mkdirSync(join(data, "renders", job), { recursive: true });
    await runner.run("render", { ...spec, job });
  };
  const x264 = ["-c:v", "libx264", "-preset", "medium", "-crf", "18", "-pix_fmt", "yuv420p"];
  const [ours, judge] = await against(
    () => cli("render", RECIPE, "--out", file("o.mp4"), "--codec", "h264"),
    () => ff("-i", TAKE, "-i", PATCH, "-filter_complex", `overlay=${PATCH_AT.x}:${PATCH_AT.y}`, ...x264, file("j.mp4")),
    3,
  );
  const job = median(await repeated(3, write));
  const row = (how: string, s: number): Row => ({
    what: `Render, H.264 medium CRF 18, 1080p, patch over 10 %: ${how}`,
    ours: `${(FRAMES / s).toFixed(1)} fps (${(judge / s).toFixed(2)} ×)`,
    reach: "≥ 1.0 ×",
    judge: `ffmpeg overlay, whole command ${(FRAMES / judge).toFixed(1)} fps`,
    ok: judge / s >= 1,
  });
  return [row("the whole command, which reads the take first", ours), row("in the application, where it was read when it came in", job)];
}

export async function memory(): Promise<Row[]> {
  const mb = await peakMemory(process.execPath, [join(root, "dist/cli.mjs"), "render", RECIPE, "--out", file("m.mp4")]);
  return [{ what: "Memory of a 1080p render, all processes", ours: `${mb.toFixed(0)} MB`, reach: "< 900 MB", judge: "sampled RSS", ok: mb < 900 }];
}
