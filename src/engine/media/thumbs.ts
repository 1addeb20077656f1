import { ff } from "./arguments";

/** Size of the small pictures from which cuts and the course of brightness are read while a take is decoded. */
export const THUMB = { width: 48, height: 27 };

/** The filter that makes one. */
export const toThumb = ff`scale=${THUMB.width}:${THUMB.height}:flags=area,format=gray`;
