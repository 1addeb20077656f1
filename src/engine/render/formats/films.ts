import type { Film } from "../../../wire/formats";
import { ffv1 } from "./ffv1";
import type { FilmFormat } from "./format";
import { h264 } from "./h264";
import { prores } from "./prores";
import { vp9 } from "./vp9";

/** How each film format is written. */
export const FILMS: Record<Film, FilmFormat> = { h264, prores, ffv1, vp9 };
