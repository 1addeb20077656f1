import { pass } from "@/server/engine";
import { route } from "@/server/route";

/** The kept copies of the database, and why the program does not work at the moment. */
export const GET = route(() => pass("/copies"));
