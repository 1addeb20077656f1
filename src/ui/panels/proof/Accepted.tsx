"use client";
import type { Finding } from "@/core/proof/finding";
import { useEditor } from "../../editor/context";
import { useCounting } from "../../editor/usePreferences";
import { Button } from "../../parts/Button";
import { Section } from "../Section";
import { KIND_WORDS } from "@/core/proof/words";

/** What was found and left as it is, with the reason. */
export function Accepted({ list }: { list: readonly { finding: Finding; why: string }[] }) {
  const editor = useEditor();
  const { show } = useCounting();
  return (
    <Section title="Accepted">
      <ul className="space-y-2">
        {list.map(({ finding: f, why }) => (
          <li key={`${f.kind}/${f.layer}/${f.worst}`} className="flex items-start gap-2">
            <span className="min-w-0 flex-1">
              {KIND_WORDS[f.kind]} at frame {show(f.worst)}: <span className="text-dim">{why}</span>
            </span>
            <Button onClick={() => editor.proving.unaccept(f)}>Count it again</Button>
          </li>
        ))}
      </ul>
    </Section>
  );
}
