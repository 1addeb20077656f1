import type { MatrixName, PrimariesName, RangeName, SitingName, TransferName } from "../pixels/colour";

/** Footage that a recipe names. */
export interface TakeRef {
  /** Where the file lies, from the recipe's own folder; stills by a name with # in it. Only the command line resolves paths. */
  path?: string;
  /** The id of a take in the program's library, as stored recipes name it. */
  asset?: string;
  /** What was measured about it, by its hash: what matching and proving go by. */
  measured?: string;
  /** Of stills: frames a second, as a fraction of two whole numbers. */
  rate?: [number, number];
  /** Colour tags that count instead of the file's own. */
  colour?: {
    /** How R′G′B′ and Y′CbCr go over into each other. */
    matrix?: MatrixName;
    /** Whether code values keep room at both ends. */
    range?: RangeName;
    /** Where chroma samples lie between luma samples. */
    siting?: SitingName;
    /** The colours that R, G and B are. */
    primaries?: PrimariesName;
    /** How light becomes code values. */
    transfer?: TransferName;
  };
}
