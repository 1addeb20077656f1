import type { PixelFormat } from "../../core/pixels/frame";

const f = (model: PixelFormat["model"], bits: number, subX: 0 | 1 = 0, subY: 0 | 1 = 0, alpha = false): PixelFormat => ({
  model,
  bits,
  subX,
  subY,
  alpha,
});

/**
 * Sample layouts we work in, by the decoder's name, with the planar name that holds the very same samples. `decoded` is
 * what ffmpeg is asked for where the planar name would change samples: it takes 4:2:0 of the name for full range to limited range, and
 * (5.1) R′G′B′ with alpha by one on the way to planes.
 */
export function formatOf(pixFmt: string): { format: PixelFormat; planar: string; decoded?: string } | null {
  const name = pixFmt.replace(/^yuvj/, "yuv").replace(/be$/, "le");
  const yuv = /^yuv(a?)(420|422|444)p(?:(9|10|12|14|16)le)?$/.exec(name);
  if (yuv) {
    const sub = yuv[2];
    return {
      format: f("yuv", Number(yuv[3] ?? 8), sub === "444" ? 0 : 1, sub === "420" ? 1 : 0, yuv[1] === "a"),
      planar: name,
      decoded: name === pixFmt.replace(/be$/, "le") ? undefined : pixFmt,
    };
  }
  if (name === "nv12") return { format: f("yuv", 8, 1, 1), planar: "yuv420p" };
  if (name === "p010le") return { format: f("yuv", 10, 1, 1), planar: "yuv420p10le" };
  const gray = /^gray(?:(9|10|12|14|16)le)?$/.exec(name);
  if (gray) return { format: f("gray", Number(gray[1] ?? 8)), planar: name };
  const gbr = /^gbr(a?)p(?:(9|10|12|14|16)le)?$/.exec(name);
  if (gbr) return { format: f("rgb", Number(gbr[2] ?? 8), 0, 0, gbr[1] === "a"), planar: name };
  if (/^(rgb24|bgr24|rgb0|bgr0|0rgb|0bgr)$/.test(name)) return { format: f("rgb", 8), planar: "gbrp" };
  if (/^(rgb48le|bgr48le)$/.test(name)) return { format: f("rgb", 16), planar: "gbrp16le" };
  if (/^(rgba|bgra|argb|abgr)$/.test(name)) return { format: f("rgb", 8, 0, 0, true), planar: "gbrap", decoded: "rgba" };
  if (/^(rgba64le|bgra64le)$/.test(name)) return { format: f("rgb", 16, 0, 0, true), planar: "gbrap16le", decoded: "rgba64le" };
  return null;
}
