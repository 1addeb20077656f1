import type { Colour, PrimariesName, TransferName } from "../pixels/colour";
import type { ColourTable } from "./cube";

/** 3 × 3, by rows. */
type Matrix = readonly (readonly number[])[];
/** The x, y of red, green, blue and white. */
type Chromaticities = readonly [red: readonly number[], green: readonly number[], blue: readonly number[], white: readonly number[]];

const D65 = [0.3127, 0.329] as const;
/** BT.709-6 §1, BT.2020-2 table 3, SMPTE EG 432-1. Takes of other primaries keep theirs. */
const CHROMATICITIES: Partial<Record<PrimariesName, Chromaticities>> = {
  bt709: [[0.64, 0.33], [0.3, 0.6], [0.15, 0.06], D65],
  bt2020: [[0.708, 0.292], [0.17, 0.797], [0.131, 0.046], D65],
  smpte432: [[0.68, 0.32], [0.265, 0.69], [0.15, 0.06], D65],
}; // prettier-ignore

/** Brightness of diffuse white in a PQ or HLG programme, and with it of the screen's own white, in cd/m² (BT.2408-7 §2.1). */
export const WHITE = 203;
/** Brightest light a programme is taken to hold, in cd/m²: the nominal peak of HLG displays (BT.2100-2 table 5). */
export const PEAK = 1000;

/** How transfers that no screen here understands are called. */
const NAMED: Partial<Record<TransferName, string>> = {
  smpte2084: "PQ",
  "arib-std-b67": "HLG",
  log100: "logarithm of 100 : 1",
  log316: "logarithm of 316 : 1",
};

const [M1, M2, C1, C2, C3] = [2610 / 16384, (2523 / 4096) * 128, 3424 / 4096, (2413 / 4096) * 32, (2392 / 4096) * 32];
/** PQ: a code value of 0 … 1 as light of 0 … 10 000 cd/m² (SMPTE ST 2084; BT.2100-2 table 4). */
export function pqToLight(v: number): number {
  const p = Math.max(0, v) ** (1 / M2);
  return 10_000 * (Math.max(0, p - C1) / (C2 - C3 * p)) ** (1 / M1);
}
/** Its inverse. */
export function lightToPq(light: number): number {
  const y = (Math.max(0, light) / 10_000) ** M1;
  return ((C1 + C2 * y) / (1 + C3 * y)) ** M2;
}

/** HLG: a code value of 0 … 1 as light of the scene, 0 … 1 (BT.2100-2 table 5, inverse OETF). */
export function hlgToScene(v: number): number {
  const [a, b, c] = [0.17883277, 0.28466892, 0.55991073];
  return v <= 0.5 ? (Math.max(0, v) * Math.max(0, v)) / 3 : (Math.exp((v - c) / a) + b) / 12;
}

/** Logarithms of H.273 (transfer characteristics 9 and 10): a code value as light of 0 … 1. */
const logToLight = (v: number, decades: number): number => (v <= 0 ? 0 : 10 ** (decades * (v - 1)));

/** Light of 0 … 1 by the curve of a television camera (BT.709-6 §3). */
export const bt709 = (l: number): number => (l < 0.018 ? 4.5 * l : 1.099 * l ** 0.45 - 0.099);

/**
 * The brightness that a screen of `WHITE` shows for one of a programme of `PEAK`, in cd/m²: dark and middle tones as they are, what is
 * brighter rolled off by a cubic (BT.2390-10 §5.4.1, without its lift of black).
 */
export function rolledOff(light: number): number {
  const peak = lightToPq(PEAK);
  const most = lightToPq(WHITE) / peak;
  const knee = 1.5 * most - 0.5;
  const e = Math.min(1, lightToPq(light) / peak);
  if (e < knee) return light;
  const t = (e - knee) / (1 - knee);
  const [t2, t3] = [t * t, t * t * t];
  const bent = (2 * t3 - 3 * t2 + 1) * knee + (t3 - 2 * t2 + t) * (1 - knee) + (-2 * t3 + 3 * t2) * most;
  return pqToLight(bent * peak);
}

/** Light of R, G, B of these primaries as X, Y, Z, white of Y = 1 (SMPTE RP 177). */
function toXyz([red, green, blue, white]: Chromaticities): Matrix {
  const column = ([x, y]: readonly number[]) => [x / y, 1, (1 - x - y) / y];
  const [r, g, b] = [column(red), column(green), column(blue)];
  const m = [0, 1, 2].map((k) => [r[k], g[k], b[k]]);
  const s = times(inverse(m), column(white));
  return m.map((row) => row.map((v, k) => v * s[k]));
}
const times = (m: Matrix, v: readonly number[]) => m.map((row) => row[0] * v[0] + row[1] * v[1] + row[2] * v[2]);
function inverse(m: Matrix): Matrix {
  const of = (a: number, b: number, c: number, d: number) => m[a][b] * m[c][d] - m[a][d] * m[c][b];
  const adjugate = [
    [of(1, 1, 2, 2), of(0, 2, 2, 1), of(0, 1, 1, 2)],
    [of(1, 2, 2, 0), of(0, 0, 2, 2), of(0, 2, 1, 0)],
    [of(1, 0, 2, 1), of(0, 1, 2, 0), of(0, 0, 1, 1)],
  ];
  const determinant = m[0][0] * adjugate[0][0] + m[0][1] * adjugate[1][0] + m[0][2] * adjugate[2][0];
  return adjugate.map((row) => row.map((v) => v / determinant));
}

/** What makes light of some primaries light of BT.709's; null where it is that already, or the primaries are not known here. */
export function toBt709(primaries: PrimariesName): Matrix | null {
  const of = CHROMATICITIES[primaries];
  if (!of || primaries === "bt709") return null;
  const back = inverse(toXyz(CHROMATICITIES.bt709!));
  const columns = [0, 1, 2].map((k) =>
    times(
      back,
      toXyz(of).map((row) => row[k]),
    ),
  );
  return [0, 1, 2].map((k) => columns.map((c) => c[k]));
}

/** Whether a take needs a chain of its own to be looked at. */
export const needsViewing = (transfer: TransferName): boolean => NAMED[transfer] !== undefined;

/**
 * How R′G′B′ of a PQ, HLG or log take, 0 … 1, come to a screen of BT.709 and BT.1886: light by its own curve, of PQ and HLG with highlights
 * rolled off, by the primaries of the screen, as the screen's code values of 0 … 1.
 * @returns null for takes that are shown as they are
 */
export function viewingOf({ transfer, primaries }: Pick<Colour, "transfer" | "primaries">): ((rgb: readonly number[]) => number[]) | null {
  if (!needsViewing(transfer)) return null;
  const matrix = toBt709(primaries);
  const onScreen = (light: number[]) => (matrix ? times(matrix, light) : light).map((v) => Math.min(1, Math.max(0, v)));
  if (transfer === "log100" || transfer === "log316") {
    const decades = transfer === "log100" ? 2 : 2.5;
    return (rgb) => onScreen(rgb.map((v) => logToLight(v, decades))).map(bt709);
  }
  return (rgb) => {
    const light = transfer === "smpte2084" ? rgb.map(pqToLight) : hlgLight(rgb);
    // all three by the ratio of the brightest, so that hues stay
    const brightest = Math.max(...light);
    const k = brightest > 0 ? rolledOff(brightest) / brightest / WHITE : 0;
    return onScreen(light.map((v) => v * k)).map((v) => v ** (1 / 2.4));
  };
}

/** Light of an HLG display of `PEAK`: the scene's by its luminance to the power of 0.2 (BT.2100-2 table 5, OOTF). */
function hlgLight(rgb: readonly number[]): number[] {
  const scene = rgb.map(hlgToScene);
  const luminance = 0.2627 * scene[0] + 0.678 * scene[1] + 0.0593 * scene[2];
  return scene.map((v) => (luminance > 0 ? PEAK * luminance ** 0.2 * v : 0));
}

/** The same as a table of 65 entries a side, which is laid quicker. */
export function viewingTable(colour: Pick<Colour, "transfer" | "primaries">): ColourTable | null {
  const shown = viewingOf(colour);
  if (!shown) return null;
  const size = 65;
  const values = new Float32Array(3 * size ** 3);
  const at = (i: number) => i / (size - 1);
  let o = 0;
  for (let b = 0; b < size; b++) for (let g = 0; g < size; g++) for (let r = 0; r < size; r++, o += 3) values.set(shown([at(r), at(g), at(b)]), o);
  return { title: "", dimensions: 3, size, min: [0, 0, 0], max: [1, 1, 1], values };
}

/** The chain in words, for those who look through it; null where there is none. */
export function viewingSays({ transfer, primaries }: Pick<Colour, "transfer" | "primaries">): string | null {
  const name = NAMED[transfer];
  if (!name) return null;
  const gamut = toBt709(primaries) ? ", its primaries brought to BT.709" : "";
  return transfer === "smpte2084" || transfer === "arib-std-b67"
    ? `${name}, white at ${WHITE} cd/m², highlights to ${PEAK} rolled off${gamut}, as BT.1886`
    : `${name}, back to light${gamut}, as BT.709`;
}
