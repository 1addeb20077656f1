import type { Finding } from "@/core/proof/finding";
import { useEditor } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { KIND_WORDS } from "@/core/proof/words";
import type { Axis } from "./axis";

interface Props {
  findings: readonly Finding[];
  /** All that was found, in whose order a finding is looked at. */
  all: readonly Finding[];
  axis: Axis;
  height: number;
}

/** What is wrong with an intruder's patches, as bars at the foot of its row. */
export function FindingMarks({ findings, all, axis, height }: Props) {
  const editor = useEditor();
  const { show } = useCounting();
  return findings.map((f, i) => (
    <button
      key={`${f.kind}/${f.layer}/${f.worst}/${i}`}
      type="button"
      data-testid="finding"
      className="absolute h-[4px] min-w-[4px] rounded-[1px] bg-brick hover:brightness-125"
      style={{ left: axis.x(f.in), width: axis.x(f.out + 1) - axis.x(f.in), top: height - 6 }}
      title={`${KIND_WORDS[f.kind]}, ${f.in === f.out ? `frame ${show(f.in)}` : `frames ${show(f.in)} to ${show(f.out)}`}`}
      aria-label={`${KIND_WORDS[f.kind]}, worst at frame ${show(f.worst)}`}
      onClick={(e) => {
        e.stopPropagation();
        editor.mode.setStage("Proof");
        editor.proving.look(all.indexOf(f));
      }}
    />
  ));
}
