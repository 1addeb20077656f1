import { pass } from "@/web/engine";
import { route } from "@/web/route";

/** The kept copies of the database, and why the program does not work at the moment. */
export const GET = route(() => pass("/copies"));
