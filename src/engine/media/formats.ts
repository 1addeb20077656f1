import type { PixelFormat } from "../../core/pixels/frame";

const f = (model: PixelFormat["model"], bits: number, subX: 0 | 1 = 0, subY: 0 | 1 = 0): PixelFormat => ({ model, bits, subX, subY, alpha: false });

/** Sample layouts we work in, by the decoder's name, with the planar name that holds the very same samples. */
export function formatOf(pixFmt: string): { format: PixelFormat; planar: string } | null {
  const name = pixFmt.replace(/^yuvj/, "yuv").replace(/be$/, "le");
  const yuv = /^yuv(420|422|444)p(?:(9|10|12|14|16)le)?$/.exec(name);
  if (yuv) {
    const bits = Number(yuv[2] ?? 8);
    const sub = yuv[1];
    return { format: f("yuv", bits, sub === "444" ? 0 : 1, sub === "420" ? 1 : 0), planar: name };
  }
  if (name === "nv12") return { format: f("yuv", 8, 1, 1), planar: "yuv420p" };
  if (name === "p010le") return { format: f("yuv", 10, 1, 1), planar: "yuv420p10le" };
  const gray = /^gray(?:(9|10|12|14|16)le)?$/.exec(name);
  if (gray) return { format: f("gray", Number(gray[1] ?? 8)), planar: name };
  const gbr = /^gbrp(?:(9|10|12|14|16)le)?$/.exec(name);
  if (gbr) return { format: f("rgb", Number(gbr[1] ?? 8)), planar: name };
  if (/^(rgb24|bgr24|rgb0|bgr0|0rgb|0bgr)$/.test(name)) return { format: f("rgb", 8), planar: "gbrp" };
  if (/^(rgb48le|bgr48le)$/.test(name)) return { format: f("rgb", 16), planar: "gbrp16le" };
  return null;
}
