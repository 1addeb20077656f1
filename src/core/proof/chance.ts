import { type CleanPicture, LEAST_LOOKS, lightsOf, litCells, type Look } from "./clean";
import type { CellGrid } from "./grid";
import { unlike, UNLIKE } from "./sight";
import { type ArcStep, arcSteps, edgeBands } from "./steps";

/** Where so much of an edge runs through what is alive, that is what chance makes there. */
const MOSTLY = 0.8;

/** How far in time two frames lie apart, as shares of all that are known. */
const FARTHER = [0.1, 0.25, 0.5];

/** What is known of the scene around a patch. */
interface Scene {
  grid: CellGrid;
  clean: CleanPicture;
  pivots: readonly number[];
  coarse: boolean;
  isAlive: (cell: number) => boolean;
}

/**
 * The steps along a mask that chance makes: two clean frames, one of them within the mask and the other around
 * it, as a patch's picture and its footage are.
 * @param mask its cells @param byPicture whether a patch's steps are told by its own picture, rather than by the clean one
 */
export function chanceSteps(scene: Scene, looks: readonly Look[], mask: Uint8Array, byPicture: boolean): ArcStep[][] {
  const { grid, clean, pivots, coarse, isAlive } = scene;
  const bands = edgeBands(grid, new Float32Array(mask), new Float32Array(mask));
  const known = (i: number) => clean.looks[i] >= LEAST_LOOKS;
  const edge = [...bands.inside, ...bands.outside].filter(({ cell }) => known(cell));
  // a subject that moves would make of two frames just the fault that is looked for
  const living = edge.filter(({ cell }) => isAlive(cell)).length > MOSTLY * edge.length;
  // what coding leaves stays for some frames, and comes again in others: near pairs and far ones
  const pairs = FARTHER.flatMap((share) => looks.map((look, k) => ({ look, other: looks[(k + Math.ceil(share * looks.length)) % looks.length] })));
  return pairs.map(({ look, other }) => {
    const free = (i: number) => !!look.free[i] && !!other.free[i] && known(i);
    const lit = (cells: Look["cells"]) =>
      litCells(
        cells,
        lightsOf(cells, look.cells, pivots, (i) => free(i) && !mask[i]),
      );
    const picture = lit(other.cells);
    const laid = look.cells.map((plane, p) => plane.map((v, i) => (mask[i] ? picture[p][i] : v)));
    return arcSteps(
      bands,
      laid,
      byPicture ? picture : lit(clean.cells),
      (i) => free(i) && (living || !isAlive(i)) && unlike(look.cells, picture, clean.spread, i, coarse, Math.SQRT2) < UNLIKE,
    );
  });
}
