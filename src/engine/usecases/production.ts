import type { Library } from "../library/library";

/** The production that was asked for; without one the first, and where there is none a new one. */
export const productionFor = async (library: Library, id: string | null): Promise<string> =>
  id ?? (await library.productions())[0]?.id ?? (await library.addProduction("My production"));
