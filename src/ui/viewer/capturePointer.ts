/** Keeps a pointer on an element while it is pressed. A press that comes from keys has no pointer to keep. */
export function capturePointer(el: Element, pointer: number): void {
  try {
    el.setPointerCapture(pointer);
  } catch {
    // the browser knows no such pointer
  }
}
