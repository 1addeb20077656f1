export type Lab = readonly [L: number, a: number, b: number];

const rad = (d: number) => (d * Math.PI) / 180;
/** Degrees, 0–360; 0 for grey. */
const hue = (a: number, b: number) => {
  if (a === 0 && b === 0) return 0;
  const h = (Math.atan2(b, a) * 180) / Math.PI;
  return h < 0 ? h + 360 : h;
};

/**
 * Colour difference ΔE₀₀ of two CIELAB colours with all parametric factors 1.
 * G. Sharma, W. Wu, E. N. Dalal, “The CIEDE2000 color-difference formula: implementation notes, supplementary test data, and
 * mathematical observations”, Color Research and Application 30 (2005), equations 2–22; also ISO/CIE 11664-6.
 */
export function ciede2000([L1, a1, b1]: Lab, [L2, a2, b2]: Lab): number {
  const mean = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2;
  const g = 0.5 * (1 - Math.sqrt(mean ** 7 / (mean ** 7 + 25 ** 7)));
  const [p1, p2] = [(1 + g) * a1, (1 + g) * a2];
  const [C1, C2] = [Math.hypot(p1, b1), Math.hypot(p2, b2)];
  const [h1, h2] = [hue(p1, b1), hue(p2, b2)];
  const dL = L2 - L1;
  const dC = C2 - C1;
  let dh = 0;
  if (C1 * C2 !== 0) {
    dh = h2 - h1;
    if (dh > 180) dh -= 360;
    else if (dh < -180) dh += 360;
  }
  const dH = 2 * Math.sqrt(C1 * C2) * Math.sin(rad(dh / 2));
  const L = (L1 + L2) / 2;
  const C = (C1 + C2) / 2;
  let h = h1 + h2;
  if (C1 * C2 !== 0) {
    if (Math.abs(h1 - h2) <= 180) h /= 2;
    else h = h < 360 ? (h + 360) / 2 : (h - 360) / 2;
  }
  const T = 1 - 0.17 * Math.cos(rad(h - 30)) + 0.24 * Math.cos(rad(2 * h)) + 0.32 * Math.cos(rad(3 * h + 6)) - 0.2 * Math.cos(rad(4 * h - 63));
  const turn = 30 * Math.exp(-(((h - 275) / 25) ** 2));
  const RC = 2 * Math.sqrt(C ** 7 / (C ** 7 + 25 ** 7));
  const SL = 1 + (0.015 * (L - 50) ** 2) / Math.sqrt(20 + (L - 50) ** 2);
  const SC = 1 + 0.045 * C;
  const SH = 1 + 0.015 * C * T;
  const RT = -Math.sin(rad(2 * turn)) * RC;
  return Math.sqrt((dL / SL) ** 2 + (dC / SC) ** 2 + (dH / SH) ** 2 + RT * (dC / SC) * (dH / SH));
}

// IEC 61966-2-1 (sRGB): its curve, and its matrix to XYZ under D65, with the white point that matrix itself gives
const toLinear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const M = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505];
const WHITE = [M[0] + M[1] + M[2], 1, M[6] + M[7] + M[8]];
// CIE 15:2004, 8.2.1.1
const root = (t: number) => (t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29);

/** CIELAB (D65) of R′G′B′ as seen on an sRGB screen, each 0–1. */
export function toLab(r: number, g: number, b: number): Lab {
  const [R, G, B] = [toLinear(r), toLinear(g), toLinear(b)];
  const f = [0, 1, 2].map((i) => root((M[i * 3] * R + M[i * 3 + 1] * G + M[i * 3 + 2] * B) / WHITE[i]));
  return [116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])];
}
