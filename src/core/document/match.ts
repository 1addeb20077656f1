import type { Keyed } from "../time/keyed";

/** Which tracks a patch is carried by; without one, that part stays where it is. */
export interface Tied {
  /** The track its shapes follow. */
  mask?: string;
  /** The track its picture follows. */
  to?: string;
  /** The track of what is shown, in its own take: its movement is taken off first. */
  from?: string;
}

/** Takes the light of what surrounds the patch onto it. */
export interface LightMatch {
  /** One gain for the whole patch, or one that goes along its rim and is spread inward. */
  by: "whole" | "rim";
  /** How much of it is done, 0 … 1; by default 1. */
  strength?: Keyed<number>;
}

/** Takes the difference along the patch's rim off it, spread inward. */
export interface SeamMatch {
  /** How much of it is done, 0 … 1; by default 0. */
  strength?: Keyed<number>;
  /** How far inward it reaches, in pixels, 1 … 2000; by default 200. */
  reach?: Keyed<number>;
  /** What is finer than so many pixels stays as it is, 0 … 64; by default 0. */
  detail?: Keyed<number>;
  /** Differences below so many codes are left, 0 … 64; by default 0. */
  over?: Keyed<number>;
  /** Over so many codes above that they come in by degrees, 0 … 64; by default 0. */
  soft?: Keyed<number>;
  /** Whose tone is kept at the rim: that of the footage, or that of the patch. */
  tone?: "footage" | "patch";
  /** What fills the patch: its picture, or its rim alone. */
  fill?: "picture" | "rim";
  /** How much of it goes by chance; published and not yet run. */
  vary?: Keyed<number>;
}

/** Makes the patch's picture as sharp as what surrounds it. */
export interface SharpnessMatch {
  /** Undoes a blur of so many pixels (standard deviation), to 2; below 0, to −8, it blurs by as many; by default 0. */
  amount?: Keyed<number>;
  /** Smears it along the track its picture follows, by this share of the way from frame to frame, 0 … 1; by default 0. */
  motion?: Keyed<number>;
}

/** Lays the grain of the footage over the patch. */
export interface GrainMatch {
  /** A profile of the recipe. */
  profile: string;
  /** How strong it is, 0 … 2; by default 1. */
  strength?: Keyed<number>;
}

/** How the grain of some footage is. */
export interface GrainProfile {
  /** What somebody calls it. */
  name?: string;
  /** What was measured, by its hash. */
  data: string;
}

/** What somebody has accepted although it was found. */
export interface Accepted {
  /** Names the finding by its kind, layer, stretch and place. */
  finding: string;
  /** How bad it was when it was accepted. */
  value: number;
  /** Why. */
  why: string;
}
