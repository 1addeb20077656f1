import type { PanelImperativeHandle } from "react-resizable-panels";

/** The panes round the picture, with their usual sizes in CSS pixels. */
export const PANES = {
  ledger: { usual: 245, least: 180, most: 420, folded: 0 },
  card: { usual: 288, least: 248, most: 460, folded: 0 },
  /** Folded, the ruler stays. */
  timeline: { usual: 184, least: 96, most: 480, folded: 33 },
} as const;
export type PaneName = keyof typeof PANES;

/** The panes that are on the page, as they can be folded and sized. */
export const panes = new Map<PaneName, PanelImperativeHandle>();

/** Folds some panes, or gives them their usual sizes. */
export function foldPanes(names: readonly PaneName[], folded: boolean): void {
  for (const name of names) {
    const pane = panes.get(name);
    if (folded) pane?.collapse();
    else pane?.resize(PANES[name].usual);
  }
}

/** Folds every pane; where any is folded or has another size than usual, puts all back. */
export function togglePanes(): void {
  const all = [...panes.keys()];
  foldPanes(
    all,
    all.every((name) => Math.abs(panes.get(name)!.getSize().inPixels - PANES[name].usual) < 2),
  );
}
