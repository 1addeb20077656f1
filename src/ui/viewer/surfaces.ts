import type { ComponentType, RefObject } from "react";
import type { ModeName } from "@/client/editor/state/mode";
import { MaskLayer } from "./mask/MaskLayer";
import { RetouchLayer } from "./retouch/RetouchLayer";
import { FlatBoxLayer, ScoutLayer } from "./RingLayer";
import type { Viewport } from "./zoom";

/** What a surface over the picture is given. */
export interface SurfaceProps {
  viewport: Viewport;
  /** The stage's size in CSS pixels. */
  size: { w: number; h: number };
  /** A place on the page as a point of the take. */
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  /** The canvas with the picture. */
  picture: RefObject<HTMLCanvasElement | null>;
  /** Whether the pointer moves the picture instead. */
  blocked: boolean;
}

/** The surface of each mode: where its tools are used. */
export const SURFACES: Record<ModeName, ComponentType<SurfaceProps>> = {
  Scout: ScoutLayer,
  Plate: MaskLayer,
  Patch: MaskLayer,
  Match: FlatBoxLayer,
  Proof: MaskLayer,
  Render: MaskLayer,
  retouching: RetouchLayer,
};
