/** Where the engine writes pictures and the web process reads them, below the data folder. */

/** Frames in one block of exact frames. */
export const BLOCK = 48;
export const blockFile = (k: number) => `block-${k}.raw`;
export const QUICK_PACK = "quick.pack";
/** End offsets of the quick frames in the pack, one 64-bit float each, little-endian. */
export const QUICK_INDEX = "quick.idx";

/** Header names between the processes. */
export const SECRET_HEADER = "x-umber-secret";
export const NAME_HEADER = "x-file-name";
/** How something was measured. */
export const MEASURED_HEADER = "x-measured";
/** Size and layout of a picture's planes. */
export const PICTURE_HEADER = "x-picture";

/** Films that are sent part by part begin so among what is coming in, followed by the upload's id. */
export const UPLOAD_PREFIX = "upload-";
