"use client";
import { proofNow } from "@/client/editor/actions/proving";
import { VERDICT_WORDS } from "@/core/proof/words";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { ReportMenu } from "../../parts/ReportMenu";
import { Section } from "../Section";
import { Accepted } from "./Accepted";
import { FindingTable } from "./FindingTable";

/** What is still wrong in the shot, measured by itself. */
export function ProofCard() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "proof", "mode", "shot");
  const now = proofNow(s);
  const { running, at } = s.proof;
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5" role="status" aria-label="Proof">
        <h2 className="font-semibold">{now ? VERDICT_WORDS[now.verdict] : running ? "Measuring …" : "Not measured yet"}</h2>
        <p className="mt-1 text-[12px] text-dim">
          {now
            ? `Looked at: ${now.looked}.`
            : running?.total
              ? `${running.done} of ${running.total} frames. You can go on working: it begins anew when something changes.`
              : "It begins by itself once everything is stored."}
        </p>
        {!now && running && running.total > 0 && (
          <div className="mt-2 h-1 overflow-hidden rounded bg-ground">
            <div className="h-full bg-ochre" style={{ width: `${(100 * running.done) / running.total}%` }} />
          </div>
        )}
        {!now && !running && (
          <Button className="mt-2" onClick={() => void editor.proving.prove()}>
            Measure now
          </Button>
        )}
      </div>
      {now && now.findings.length > 0 && <FindingTable findings={now.findings} at={at} />}
      {now && now.doubts.length > 0 && (
        <Section title="Could not be told">
          <ul className="space-y-2">
            {now.doubts.map((d) => (
              <li key={`${d.layer}/${d.says}`}>{d.says}</li>
            ))}
          </ul>
        </Section>
      )}
      {now && now.accepted.length > 0 && <Accepted list={now.accepted} />}
      {now && (
        <Section title="For others">
          <p className="pb-2 text-[12px] text-dim">What was measured, what was accepted and why, with pictures of the spots.</p>
          <ReportMenu of="shot" id={s.shot.id} name={s.shot.name} />
        </Section>
      )}
    </>
  );
}
