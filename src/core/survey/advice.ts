import type { Riding } from "../follow/riding";
import { LIGHT_HOLDS } from "./sentences";
import type { Survey } from "./survey";

/** What is known of a thing that was outlined, and of the shot around it. Frames count in the take, ends included. */
export interface Facts {
  /** First and last frame of the shot. */
  shot: { in: number; out: number };
  /** Whether it is there all the time; where it is not, when it is seen. */
  never: boolean;
  first: number;
  last: number;
  /** Frames in which its place is clean, the best first: how far they are off there, in units of the noise. */
  clean: readonly { frame: number; off: number }[];
  /** Stretches in which something else is in its place, and in which it reaches beyond its outline. */
  others: readonly (readonly [number, number])[];
  beyond: readonly (readonly [number, number])[];
  /** Whether what it sits on moves with it. */
  rides?: Riding | null;
  /** Other takes of the production. */
  otherTakes: number;
  survey: Pick<Survey, "stillness" | "light"> | null;
}

export type WayName = "follow" | "hold" | "built" | "slip" | "cut-out" | "paint" | "take";
/** A way to take a thing out: whether it can work here, and why or why not. */
export interface Way {
  way: WayName;
  can: "yes" | "part" | "no";
  says: string;
}

/** A place is clean, or nearly so, below so many times its noise. */
export const CLEAN = 2;
export const NEARLY = 3.5;
/** Pixels from which a thing is said to move. */
export const MOVING = 12;
/** Frames that are painted one by one without complaint. */
const FEW = 8;
/** Fewest frames that can go to and fro without being noticed (common practice). */
const STRETCH = 12;

const times = (off: number) => `${off.toFixed(1)} times the noise`;
const stretch = ([a, b]: readonly [number, number], show: (n: number) => string) => (a === b ? show(a) : `${show(a)}–${show(b)}`);

/** Which ways can take a thing out here, in the order in which they are tried. @param show a frame as it is counted on the page */
export function waysFor(f: Facts, show: (n: number) => string = String): Way[] {
  const verdict = f.survey?.stillness.verdict ?? "locked";
  const off = f.survey ? f.survey.stillness.maxShift.toFixed(1) : "0";
  const moves = verdict === "moves";
  const [best] = f.clean;
  const seen = f.last - f.first + 1;
  const sides = [
    [f.shot.in, f.first - 1],
    [f.last + 1, f.shot.out],
  ] as const;
  const [from, to] = sides[0][1] - sides[0][0] >= sides[1][1] - sides[1][0] ? sides[0] : sides[1];
  const free = f.never ? 0 : Math.max(0, to - from + 1);
  const camera = verdict === "drifts" || verdict === "settles" ? " Let the patch follow the camera." : "";
  const light = f.survey && Math.max(f.survey.light.drift, f.survey.light.flicker) >= LIGHT_HOLDS ? " Match its light." : "";
  const moving = `the camera moves by ${off} px and more, and no one picture lies right`;

  const { rides } = f;
  const carried = rides && `what it sits on moves by ${rides.by.toFixed(1)} px within frames ${stretch([rides.in, rides.out], show)}`;

  const follow = (): Omit<Way, "way"> => {
    if (rides)
      return {
        can: "yes",
        says: `It moves with what it sits on, by ${rides.by.toFixed(1)} px within frames ${stretch([rides.in, rides.out], show)}: follow it, and retouch one frame.`,
      };
    if (moves)
      return {
        can: "part",
        says: "Where the ground around it lies in one plane, a wall or a far view: follow that, and one retouched frame goes along. Over plain sky its rim alone fills it.",
      };
    return { can: "no", says: "Nothing that moves with it was found around it." };
  };
  const hold = (): Omit<Way, "way"> => {
    if (carried) return { can: "no", says: `Not by itself: ${carried}.` };
    if (moves) return { can: "no", says: `Not here: ${moving}.` };
    if (f.never) return { can: "no", says: "No frame of the shot shows what is behind it." };
    if (!best) return { can: "no", says: "No frame is clean where it is." };
    if (best.off < CLEAN) return { can: "yes", says: `Frame ${show(best.frame)} is clean there (${times(best.off)}).${camera}${light}` };
    if (best.off < NEARLY)
      return { can: "part", says: `Frame ${show(best.frame)} is nearly clean (${times(best.off)}): retouch what is left.${camera}${light}` };
    return { can: "no", says: `No frame is clean all over its path; the best, ${show(best.frame)}, is off by ${times(best.off)}.` };
  };
  const built = (): Omit<Way, "way"> => {
    if (carried) return { can: "no", says: `Not here: ${carried}.` };
    if (moves) return { can: "no", says: `Not here: ${moving}.` };
    if (f.never) return { can: "no", says: "Where it stands all the time no frame has anything to give; only what it uncovers comes." };
    return { can: "yes", says: `Each place is taken from frames in which it is clean: it has to be so somewhere, not all at once.${light}` };
  };
  const slip = (): Omit<Way, "way"> => {
    if (free >= seen)
      return {
        can: "yes",
        says: `${free} frames are free of it (${stretch([from, to], show)}), it is seen in ${seen}: what lives there goes on living.`,
      };
    if (free >= STRETCH)
      return {
        can: "part",
        says: `${free} frames are free of it (${stretch([from, to], show)}), it is seen in ${seen}: stretched, round and round or to and fro.`,
      };
    return { can: "no", says: free ? `Only ${free} frames are free of it.` : "No frame is free of it." };
  };
  const cutOut = (): Omit<Way, "way"> => {
    if (moves) return { can: "no", says: "Not while the camera moves: its ground is not known." };
    if (f.never) return { can: "no", says: "It never leaves, so that its ground is not known." };
    return {
      can: "yes",
      says: f.beyond.length
        ? `It goes beyond the loop (${stretch(f.beyond[0], show)}): its form is followed frame by frame.`
        : "Its form is followed frame by frame, and only that is covered.",
    };
  };
  const paint = (): Omit<Way, "way"> => {
    const count = f.never ? f.shot.out - f.shot.in + 1 : seen;
    if (count <= FEW)
      return { can: "yes", says: `It is seen in ${count} ${count === 1 ? "frame" : "frames"} only: paint ${count === 1 ? "it" : "each"}.` };
    return { can: "part", says: `It is seen in ${count} frames: each would have to be painted alike, or it crawls.` };
  };
  const take = (): Omit<Way, "way"> =>
    f.otherTakes
      ? {
          can: "part",
          says: `${f.otherTakes === 1 ? "The other take serves" : `One of the ${f.otherTakes} other takes serves`} where it shows the place clean, from the same stand.`,
        }
      : { can: "no", says: "The production has no other take." };
  const along = ["follow", follow()] as const;
  const rest = [
    ["hold", hold()],
    ["built", built()],
    ["slip", slip()],
    ["cut-out", cutOut()],
    ["paint", paint()],
    ["take", take()],
  ] as const;
  return (along[1].can === "no" ? [...rest, along] : [along, ...rest]).map(([way, told]) => ({ way, ...told }));
}

/** What stands in the way of any of them while it comes and goes, in plain words. */
export function warningsFor(f: Facts, show: (n: number) => string = String): string[] {
  const list = (all: Facts["others"]) => all.slice(0, 4).map((s) => stretch(s, show)).join(", ") + (all.length > 4 ? " …" : ""); // prettier-ignore
  return [
    ...(f.others.length ? [`Somebody or something else is in its place at ${list(f.others)}: hold that out, or the patch cuts through it.`] : []),
    ...(f.beyond.length ? [`It reaches beyond the loop at ${list(f.beyond)}: draw it wider, set keyframes, or cut it out.`] : []),
  ];
}

/** What to do at the next shoot so that this is easy, in the order of the day: first what went wrong here. Common practice. */
export function checklistFor(f: Facts): string[] {
  const s = f.survey;
  const list: string[] = [];
  if (f.never) list.push("It was in every frame: before or after the take, carry it out and run ten seconds more with the camera as it stands.");
  if (s && s.stillness.verdict !== "locked")
    list.push(
      `The camera was off by ${s.stillness.maxShift.toFixed(1)} px: lock head and column, weigh the tripod down, touch nothing while it runs, stabiliser off.`,
    );
  if (s && s.light.flicker >= LIGHT_HOLDS) list.push(`The light flickered by ${(100 * s.light.flicker).toFixed(1)} %: constant lamps, shutter at a whole part of the mains' period, exposure by hand.`); // prettier-ignore
  if (s && s.light.drift >= LIGHT_HOLDS) list.push(`The light drifted by ${(100 * s.light.drift).toFixed(1)} %: run the empty picture again whenever it changes; exposure and white balance by hand.`); // prettier-ignore
  if (f.others.length) list.push("Somebody passed through its place: mark the area on the floor, and keep figures and extras out of it.");
  if (f.beyond.length) list.push("It wandered: fix stand or pole, and keep its way short.");
  return [
    ...list,
    "Run ten seconds of the empty picture before and after: same lens, focus, stop, light, nobody in it; say so on the slate.",
    "Keep a hand's breadth of free ground between the thing and whoever acts; never let it cross a face, hair or hands.",
    "Look for its shadow and its mirror image, and move it until they fall outside the picture or on plain ground.",
    "Have plain or still ground behind it: walls rather than leaves, water, smoke or fine patterns.",
    "Write down for each take when it is out of the picture.",
  ];
}
