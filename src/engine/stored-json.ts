/** What is stored as JSON; null where it is not there, cut off or damaged. */
export function storedJson<T>(text: string | null | undefined): T | null {
  try {
    return text ? (JSON.parse(text) as T) : null;
  } catch {
    return null;
  }
}
