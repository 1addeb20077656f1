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
import { Panes } from "./Panes";
import { TroubleLine } from "./TroubleLine";
import { useAlone } from "./useAlone";
import { useKeys } from "./useKeys";

/** The editor: ledger, viewer, card, timeline. */
export function EditorScreen() {
  useKeys();
  const alone = useAlone();
  if (alone)
    return (
      <main className="flex h-screen flex-col" data-testid="alone">
        <Viewer />
      </main>
    );
  return (
    <div className="flex h-screen flex-col overflow-hidden">
      <Head />
      <Panes
        ledger={<Ledger />}
        picture={
          <main className="flex h-full min-w-0 flex-col">
            <ToolLine />
            <div className="relative flex min-h-0 flex-1 flex-col">
              {/* what comes and goes lies over the picture, and never moves it */}
              <div className="absolute inset-x-0 top-0 z-10">
                <WorkLine />
                <TroubleLine />
              </div>
              <Viewer />
            </div>
            <StatusLine />
          </main>
        }
        card={<Card />}
        timeline={<Timeline />}
      />
      <KeysDialog />
      <HistoryDialog />
      <ConflictDialog />
    </div>
  );
}
