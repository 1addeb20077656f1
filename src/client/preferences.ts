import { createStore } from "zustand/vanilla";
import { type Preferences, preferencesSchema } from "../wire/preferences";
import { fetchPreferences, storePreferences } from "./api";

/** How somebody likes to work: the same for every shot, kept by the engine. */
export const preferences = createStore<Preferences>(() => preferencesSchema.parse({}));

/** Reads what was kept; what cannot be read leaves the usual. */
export const loadPreferences = async (): Promise<void> => preferences.setState(await fetchPreferences().catch(() => ({})));

/** Changes something at once, and keeps it. @throws when it could not be kept; then it is as before. */
export async function prefer(part: Partial<Preferences>): Promise<void> {
  const before = preferences.getState();
  preferences.setState(part);
  try {
    await storePreferences(preferences.getState());
  } catch (e) {
    preferences.setState(before, true);
    throw e;
  }
}
