"use client";
import { Card } from "../panels/Card";
import { Ledger } from "../panels/Ledger";
import { ConflictDialog } from "../dialogs/ConflictDialog";
import { HistoryDialog } from "../dialogs/HistoryDialog";
import { KeysDialog } from "../dialogs/KeysDialog";
import { Timeline } from "../timeline/Timeline";
import { StatusLine } from "../viewer/StatusLine";
import { ToolLine } from "../viewer/ToolLine";
import { Viewer } from "../viewer/Viewer";
import { WorkLine } from "../viewer/WorkLine";
import { Head } from "./Head";
import { TroubleLine } from "./TroubleLine";
import { useAlone } from "./useAlone";
import { useKeys } from "./useKeys";

/** The bench: ledger, viewer, card, timeline. */
export function BenchScreen() {
  useKeys();
  const alone = useAlone();
  if (alone)
    return (
      <main className="flex h-screen flex-col" data-testid="alone">
        <Viewer />
      </main>
    );
  return (
    <div className="grid h-screen min-w-[1024px] grid-cols-[245px_minmax(0,1fr)_288px] grid-rows-[44px_minmax(0,1fr)_auto] overflow-hidden">
      <Head />
      <Ledger />
      <main className="flex min-h-0 min-w-0 flex-col border-x border-line">
        <ToolLine />
        <TroubleLine />
        <div className="relative flex min-h-0 flex-1 flex-col">
          <WorkLine />
          <Viewer />
        </div>
        <StatusLine />
      </main>
      <Card />
      <Timeline />
      <KeysDialog />
      <HistoryDialog />
      <ConflictDialog />
    </div>
  );
}
