/** A keyframe that is picked on the timeline: all that a layer has at a frame. */
export interface KeyframeMark {
  layer: string;
  /** The frame. */
  f: number;
}

/** What the timeline shows, and what is picked on it. */
export interface TimelineState {
  /** The part of the shot that the timeline shows, in frames; null for all of it. */
  span: { from: number; to: number } | null;
  keyframesPicked: KeyframeMark[];
  /** The value whose curve is open; its name in the layer. */
  curve: string | null;
}

export const firstTimeline: TimelineState = { span: null, keyframesPicked: [], curve: null };
