import { z } from "zod";

/** What names something in addresses, requests and folders. Nothing else may become part of a path. */
export const idSchema = z.string().regex(/^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/, "an id is allowed");
/** SHA-256 of something, in hexadecimal. */
export const hashSchema = z.string().regex(/^[0-9a-f]{64}$/, "a hash is allowed");
