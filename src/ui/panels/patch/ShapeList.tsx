"use client";
import clsx from "clsx";
import { ArrowDown, ArrowUp, Copy, Eye, EyeOff, Lock, LockOpen, Trash2 } from "lucide-react";
import { type Placed, placeShape, shapeName } from "@/client/editor/shapes";
import { layerTitle } from "@/recipe/query";
import type { Mask, Op, Shape } from "@/core/document/mask";
import type { PatchLayer } from "@/core/document/layer";
import { useEditor, useEditorPick } from "../../editor/context";
import { IconButton } from "../../parts/Button";
import { NameField } from "../../parts/NameField";
import { valueAt } from "@/core/time/keyed";
import { NumberField } from "../../parts/NumberField";
import { KeyedField } from "./KeyedField";

type Oval = Extract<Shape, { kind: "ellipse" }>;
type Box = Extract<Shape, { kind: "box" }>;

const OPS: [Op, string][] = [
  ["add", "adds"],
  ["cut", "cuts"],
  ["cross", "crosses"],
];

/** The shapes of a mask in their order, each with how it joins those above it; the picked one opens. */
export function ShapeList({ layer, mask }: { layer: PatchLayer; mask: Mask }) {
  const editor = useEditor();
  const { picked, recipe } = useEditorPick("picked", "recipe");
  const title = layerTitle(recipe, layer.id);
  const open = picked.shapes.length === 1 ? picked.shapes[0] : picked.points.length ? picked.points[0].shape : null;
  return (
    <ul aria-label="Shapes of the mask" className="mt-1 border-t border-line pt-1">
      {mask.shapes.length === 0 && <li className="text-dim">No shape yet: draw one, with “as: add to mask”.</li>}
      {mask.shapes.map((s, i) => {
        const name = shapeName(s, i);
        const on = picked.shapes.includes(i);
        return (
          <li key={i} className={clsx("rounded-md", open === i && "bg-raised")}>
            <div className="flex h-7 items-center gap-1 pr-1">
              <button
                type="button"
                aria-pressed={on}
                onClick={(e) => {
                  const rest = picked.shapes.filter((k) => k !== i);
                  editor.masks.pick({ points: [], shapes: e.shiftKey ? (on ? rest : [...rest, i]) : [i] });
                }}
                className={clsx(
                  "min-w-0 flex-1 truncate px-1.5 text-left",
                  on ? "text-ochre" : "text-bone",
                  s.on === false && "line-through opacity-60",
                )}
              >
                {name}
              </button>
              {i > 0 ? (
                <select
                  aria-label={`${name} in the mask`}
                  className="h-6 rounded-md border border-line bg-ground px-0.5 text-[12px]"
                  value={s.op}
                  onChange={(e) =>
                    editor.masks.setShape(
                      i,
                      `${name} ${OPS.find(([o]) => o === e.target.value)![1]} in the mask of ${title}`,
                      (d) => void (d.op = e.target.value as Op),
                    )
                  }
                >
                  {OPS.map(([v, l]) => (
                    <option key={v} value={v}>
                      {l}
                    </option>
                  ))}
                </select>
              ) : null}
              <Small
                name={s.on === false ? `Switch ${name} on` : `Switch ${name} off`}
                onClick={() =>
                  editor.masks.setShape(
                    i,
                    `Switch ${name} of ${title} ${s.on === false ? "on" : "off"}`,
                    (d) => void (s.on === false ? delete d.on : (d.on = false)),
                  )
                }
              >
                {s.on === false ? <EyeOff size={13} /> : <Eye size={13} />}
              </Small>
              <Small
                name={s.locked ? `Unlock ${name}` : `Lock ${name}`}
                onClick={() =>
                  editor.masks.setShape(
                    i,
                    `${s.locked ? "Unlock" : "Lock"} ${name} of ${title}`,
                    (d) => void (s.locked ? delete d.locked : (d.locked = true)),
                  )
                }
              >
                {s.locked ? <Lock size={13} /> : <LockOpen size={13} />}
              </Small>
            </div>
            {open === i && <ShapeFields layer={layer} shape={s} index={i} name={name} count={mask.shapes.length} />}
          </li>
        );
      })}
    </ul>
  );
}

function Small({ name, onClick, disabled, children }: { name: string; onClick: () => void; disabled?: boolean; children: React.ReactNode }) {
  return (
    <IconButton name={name} side="left" className="!h-6 !w-5" disabled={disabled} onClick={onClick}>
      {children}
    </IconButton>
  );
}

/** What one shape has of its own: a name, an edge, its place in the order. */
function ShapeFields({ layer, shape, index, name, count }: { layer: PatchLayer; shape: Shape; index: number; name: string; count: number }) {
  const editor = useEditor();
  const { recipe } = useEditorPick("recipe");
  const edge = (field: "feather" | "grow", label: string, o: { min: number; max: number; least?: number; most?: number }) => (
    <KeyedField
      layer={layer}
      label={label}
      name={`${label.replace("Its ", "")} of ${name}`}
      value={shape[field] ?? 0}
      put={(v, words, dragging) => editor.masks.setShape(index, words, (d) => void (d[field] = v as typeof d.feather), dragging)}
      unit="px"
      reset={0}
      {...o}
    />
  );
  return (
    <div className="px-1.5 pb-1.5">
      <div className="flex items-center">
        <NameField
          label="Name of the shape"
          name={name}
          className="h-6 min-w-0 flex-1 rounded-md border border-line bg-ground px-1.5 outline-none focus:border-ochre"
          settle={(v) => editor.masks.setShape(index, `Name the shape ${v}`, (d) => void (v ? (d.name = v) : delete d.name))}
        />
        <Small name="Earlier in the order" disabled={index === 0} onClick={() => editor.masks.orderShape(index, index - 1)}>
          <ArrowUp size={13} />
        </Small>
        <Small name="Later in the order" disabled={index === count - 1} onClick={() => editor.masks.orderShape(index, index + 1)}>
          <ArrowDown size={13} />
        </Small>
        <Small name="Duplicate the shape" onClick={() => editor.masks.duplicateShape(index)}>
          <Copy size={13} />
        </Small>
        <Small
          name="Delete the shape"
          disabled={count === 1}
          onClick={() => {
            editor.masks.pick({ shapes: [index], points: [] });
            editor.masks.deletePicked();
          }}
        >
          <Trash2 size={13} />
        </Small>
      </div>
      {(shape.kind === "ellipse" || shape.kind === "box") && (
        <PlaceFields shape={shape} index={index} name={name} title={layerTitle(recipe, layer.id)} />
      )}
      {count > 1 && edge("feather", "Its feather", { min: 0, max: 300, most: 10_000 })}
      {count > 1 && edge("grow", "Its grow", { min: -300, max: 300, least: -10_000, most: 10_000 })}
    </div>
  );
}

/** Where an oval or a box lies at the frame shown, how large it is and how it is turned, by number. */
function PlaceFields({ shape, index, name, title }: { shape: Oval | Box; index: number; name: string; title: string }) {
  const editor = useEditor();
  const { frame } = useEditorPick("frame");
  const [x, y] = valueAt(shape.center, frame);
  const [w, h] = shape.kind === "ellipse" ? valueAt(shape.radii, frame).map((v) => 2 * v) : valueAt(shape.size, frame);
  const angle = valueAt(shape.angle ?? 0, frame);
  const field = (
    label: string,
    value: number,
    o: { min: number; max: number; unit?: string; step?: number },
    next: (v: number) => Partial<Placed>,
  ) => {
    const put = (v: number, dragging: boolean) =>
      editor.masks.changeShapes(`${label} of ${name} of ${title}`, [index], (s, _, holds) => placeShape(s, next(v), frame, holds), dragging);
    return <NumberField label={label} value={value} step={0.5} unit="px" {...o} onDrag={(v) => put(v, true)} onCommit={(v) => put(v, false)} />;
  };
  const far = { min: -20_000, max: 20_000 };
  const size = { min: 1, max: 20_000 };
  return (
    <>
      {field("Middle, across", x, far, (v) => ({ center: [v, y] }))}
      {field("Middle, down", y, far, (v) => ({ center: [x, v] }))}
      {field("Width", w, size, (v) => ({ size: [v, h] }))}
      {field("Height", h, size, (v) => ({ size: [w, v] }))}
      {field("Angle", angle, { min: -360, max: 360, unit: "°" }, (v) => ({ angle: v }))}
    </>
  );
}
