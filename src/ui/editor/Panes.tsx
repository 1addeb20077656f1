"use client";
import clsx from "clsx";
import { type ReactNode, useEffect } from "react";
import { Group, Panel, Separator, useDefaultLayout } from "react-resizable-panels";
import { foldPanes, type PaneName, PANES, panes } from "./folding";

/** A window in which not everything has room: half a small screen, or one that is read at 200 %. */
const SMALL = "(max-width: 899px), (max-height: 519px)";

interface Props {
  ledger: ReactNode;
  picture: ReactNode;
  card: ReactNode;
  timeline: ReactNode;
}

/** The picture with its panes: their edges can be dragged (or moved by arrow keys), their sizes stay, and nothing that comes or goes within them moves the picture. */
export function Panes({ ledger, picture, card, timeline }: Props) {
  const rows = useDefaultLayout({ id: "umber/rows", onlySaveAfterUserInteractions: true });
  const columns = useDefaultLayout({ id: "umber/columns", onlySaveAfterUserInteractions: true });
  useEffect(() => {
    const small = window.matchMedia(SMALL);
    const fit = () => foldPanes(["ledger", "timeline"], small.matches);
    if (small.matches) fit();
    small.addEventListener("change", fit);
    return () => small.removeEventListener("change", fit);
  }, []);
  return (
    <Group orientation="vertical" className="min-h-0 flex-1" defaultLayout={rows.defaultLayout} onLayoutChanged={rows.onLayoutChanged}>
      <Panel id="pane-work" minSize={160}>
        <Group orientation="horizontal" defaultLayout={columns.defaultLayout} onLayoutChanged={columns.onLayoutChanged}>
          <Pane name="ledger">{ledger}</Pane>
          <Edge name="Width of the ledger" />
          <Panel id="pane-picture" minSize={300}>
            {picture}
          </Panel>
          <Edge name="Width of the card" />
          <Pane name="card">{card}</Pane>
        </Group>
      </Panel>
      <Edge name="Height of the timeline" across />
      <Pane name="timeline">{timeline}</Pane>
    </Group>
  );
}

function Pane({ name, children }: { name: PaneName; children: ReactNode }) {
  const { usual, least, most, folded } = PANES[name];
  return (
    <Panel
      id={`pane-${name}`}
      defaultSize={usual}
      minSize={least}
      maxSize={most}
      collapsible
      collapsedSize={folded}
      groupResizeBehavior="preserve-pixel-size"
      panelRef={(pane) => void (pane ? panes.set(name, pane) : panes.delete(name))}
    >
      {children}
    </Panel>
  );
}

/** The edge between two panes: a hairline that is taken hold of within some pixels. */
const Edge = ({ name, across }: { name: string; across?: boolean }) => (
  <Separator
    aria-label={name}
    className={clsx(
      "bg-line outline-none hover:bg-ochre focus-visible:bg-ochre data-[separator=active]:bg-ochre data-[separator=hover]:bg-ochre",
      across ? "h-px" : "w-px",
    )}
  />
);
