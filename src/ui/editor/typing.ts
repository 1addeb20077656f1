/** Whether a key belongs to a field that is being typed in. */
export function isTyping(e: KeyboardEvent): boolean {
  const t = e.target as HTMLElement | null;
  if (!t || !/^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName)) return false;
  return !(t instanceof HTMLInputElement && /^(checkbox|radio|range|file)$/.test(t.type));
}
