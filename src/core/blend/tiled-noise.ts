/** Side of a tile, a power of two. */
export const TILE_SIDE = 256;

/** Noise of mean 0 and variance 1 everywhere: that of a sample is the tile's, so much further on, round and round. */
export interface TiledNoise {
  tile: Float32Array;
  dx: number;
  dy: number;
}

/** Where a row of it begins in the tile. */
export const tileRow = ({ dy }: TiledNoise, y: number): number => ((y + dy) & (TILE_SIDE - 1)) * TILE_SIDE;
/** The place of a sample within its row. */
export const tileColumn = ({ dx }: TiledNoise, x: number): number => (x + dx) & (TILE_SIDE - 1);
