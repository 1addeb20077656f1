import { pass } from "@/server/engine";
import { route } from "@/server/route";

export const GET = route(() => pass("/state"));
