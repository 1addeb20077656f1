import { pass } from "@/web/engine";
import { route } from "@/web/route";

export const GET = route(() => pass("/state"));
