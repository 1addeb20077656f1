"use client";
import type { ComponentProps } from "react";
import type { Dragging } from "@/client/editor/state/document";
import { layerTitle } from "@/recipe/query";
import type { Layer } from "@/core/document/layer";
import { isKeyed, type Keyed, valueAt, withKey, withoutKey, withValue } from "@/core/time/keyed";
import { useEditorPick } from "../../editor/context";
import { NumberField } from "../../parts/NumberField";

type Range = Pick<ComponentProps<typeof NumberField>, "label" | "min" | "max" | "least" | "most" | "step" | "unit" | "reset">;
interface Props extends Range {
  layer: Pick<Layer, "id">;
  /** How it is called where the label alone would not do. */
  name?: string;
  value: Keyed<number>;
  put: (v: Keyed<number>, name: string, dragging: Dragging) => void;
  percent?: boolean;
}

/** A field over a number that can be keyed: shows its value at the frame shown, sets it there, and can key it. */
export function KeyedField({ layer, label, name = label, value: k, put, percent, ...rest }: Props) {
  const { frame, recipe } = useEditorPick("frame", "recipe");
  const f = percent ? 100 : 1;
  const title = layerTitle(recipe, layer.id);
  const here = isKeyed(k) && k.keys.some((x) => x.f === frame);
  const set = (v: number, dragging: boolean) =>
    put(withValue(k, frame, Number((v / f).toFixed(6))), `${name} of ${title}: ${v}${rest.unit ?? ""}`, dragging);
  return (
    <NumberField
      label={label}
      value={valueAt(k, frame) * f}
      {...rest}
      onDrag={(v) => set(v, true)}
      onCommit={(v) => set(v, false)}
      keyed={{
        here,
        any: isKeyed(k),
        toggle: () =>
          put(here ? withoutKey(k, frame) : withKey(k, frame), `${here ? "Remove" : "Set"} a keyframe of ${name.toLowerCase()} of ${title}`, false),
      }}
    />
  );
}
