import { isPatch, type PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import { nameOf, settled } from "../../../core/proof/accepted";
import { type FigureKind, type Finding, type FindingKind, type Verdict, verdictOf } from "../../../core/proof/finding";
import { asDraft, type Draft } from "../../../recipe/edits";
import { layerTitle, maskIn, patchById } from "../../../recipe/query";
import { isKeyed } from "../../../core/time/keyed";
import { proveShot, stopTask } from "../../api";
import { uuid } from "../../uuid";
import type { EditorState } from "../state/editor";
import type { ProofState } from "../state/proof";
import type { ViewState } from "../state/view";
import type { EditorCore } from "./core";
import type { createCutting } from "./cutting";
import type { createGlass } from "./glass";
import type { createMatching } from "./matching";
import type { createPatches } from "./patches";

/** How long the hands have to rest before measuring begins by itself, in ms. */
const REST_MS = 700;
/** Pixels by which one key widens a mask, and softens its edge. */
const BY = 3;
/** Frames before and after those in which somebody is seen to pass, in which they are looked for as well. */
const AROUND = 12;

/** In which view a kind of finding is seen best; the others are seen as they are. */
export const SEEN_BEST: Record<FindingKind, ViewState["harder"]> = {
  leak: "contrast",
  bite: "contrast",
  seam: "contrast",
  "runaway-light": "contrast",
  "dead-grain": "time",
  frozen: "time",
  drift: null,
  bars: null,
};

/** Whether two recipes are measured alike: names, and what was accepted, do not count. */
const alike = (a: Recipe, b: Recipe): boolean =>
  a === b || (a.takes === b.takes && a.plates === b.plates && a.masks === b.masks && a.tracks === b.tracks && a.profiles === b.profiles && a.shot === b.shot && a.output === b.output && a.intruders === b.intruders); // prettier-ignore

/** What is known to be wrong with the recipe as it is; null where it was not measured since it was changed. */
export function proofNow({ proof, recipe }: Pick<EditorState, "recipe"> & ProofState): ReturnType<typeof settled> | null {
  const { told } = proof;
  return told && alike(told.of, recipe) ? settled(told.proof, recipe.proof?.accepted) : null;
}

/** What an intruder comes to; null where that is not known (any more). */
export function verdictOn(now: ReturnType<typeof settled> | null, intruder: string): { verdict: Verdict; findings: Finding[] } | null {
  if (!now) return null;
  const findings = now.findings.filter((f) => f.intruder === intruder);
  const doubts = now.doubts.filter((d) => d.intruder === intruder);
  return { verdict: verdictOf(findings, doubts), findings };
}

/** What is found with an intruder, in a few words: "2 leaks, bite"; the fewest that say it. */
export function findingWords(findings: readonly Finding[]): string {
  const kinds = [...new Set(findings.map((f) => f.kind))];
  const words = kinds.map((k) => {
    const n = findings.filter((f) => f.kind === k).length;
    return n > 1 ? `${n} × ${k.replace("-", " ")}` : k.replace("-", " ");
  });
  return words.join(", ");
}

/** What is still wrong in the shot: measured by itself once the hands rest, gone through, mended by a key, or accepted. */
export function createProving(
  core: EditorCore,
  patches: Pick<ReturnType<typeof createPatches>, "changeLayer" | "isLocked">,
  matching: Pick<ReturnType<typeof createMatching>, "setLight" | "setSeam" | "setGrain">,
  glass: Pick<ReturnType<typeof createGlass>, "see">,
  cutting: Pick<ReturnType<typeof createCutting>, "holdOut">,
) {
  const { get, set, commit, notices } = core;
  const change = (part: Partial<ProofState["proof"]>) => set({ proof: { ...get().proof, ...part } });
  let resting: ReturnType<typeof setTimeout> | null = null;

  async function prove(): Promise<void> {
    const { recipe, shot, proof } = get();
    if (proof.running && alike(proof.running.of, recipe)) return;
    if (proof.running) void stopTask(proof.running.id).catch(() => undefined);
    const id = uuid();
    change({ running: { id, of: recipe, done: 0, total: 0 } });
    const mine = () => get().proof.running?.id === id;
    try {
      const found = await proveShot(shot.id, { task: id });
      if (mine()) change({ told: { of: recipe, proof: found }, running: null, at: null });
    } catch (e) {
      if (!mine()) return;
      change({ running: null });
      notices.problem(e instanceof Error ? e.message : String(e));
    }
  }

  /** Called on every change of the editor: measures what is not known, once all is stored and nothing is dragged. */
  function rested(): void {
    const s = get();
    if (lent !== null && (s.mode.stage !== "Proof" || s.proof.at === null)) lend(null);
    const known = proofNow(s) !== null || (s.proof.running !== null && alike(s.proof.running.of, s.recipe));
    if (s.mode.stage !== "Proof" || known || resting) return;
    resting = setTimeout(() => {
      resting = null;
      const now = get();
      if (now.mode.stage !== "Proof" || now.playing) return;
      if (now.saved.waiting || now.dragged || now.recipe !== core.settled()) return rested();
      void prove();
    }, REST_MS);
  }

  const list = (): Finding[] => proofNow(get())?.findings ?? [];

  /** The way to look that a finding has brought; nobody has chosen it, so it goes with the finding. */
  let lent: ViewState["harder"] = null;
  function lend(how: ViewState["harder"]): void {
    const { harder } = get();
    // what somebody has chosen stays
    if (harder !== lent && harder !== null) return;
    lent = how;
    if (harder !== how) glass.see(how);
  }

  /** Shows a finding where it is worst, in the view that shows its kind best. */
  function look(at: number): void {
    const f = list()[at];
    if (!f) return;
    change({ at });
    lend(SEEN_BEST[f.kind]);
    set({ selection: { kind: "layer", layer: f.layer } });
    core.goTo(f.worst);
  }

  const named = (l: PatchLayer) => layerTitle(get().recipe, l.id);

  const MEND: Partial<Record<Finding["remedy"], { words: string; run: (l: PatchLayer, f: Finding) => void }>> = {
    earlier: {
      words: "Begin earlier",
      run: (l, f) => patches.changeLayer(l.id, `Begin ${named(l)} where the thing comes in`, (d) => void (d.in = Math.min(d.in, f.in))),
    },
    later: {
      words: "End later",
      run: (l, f) => patches.changeLayer(l.id, `End ${named(l)} where the thing is gone`, (d) => void (d.out = Math.max(d.out, f.out))),
    },
    wider: {
      words: `${BY} px wider`,
      run: (l) => widen(l, "grow", `Widen the mask of ${named(l)}`),
    },
    soften: { words: "Soften the edge", run: (l) => widen(l, "feather", `Soften the edge of ${named(l)}`) },
    seam: { words: "Take the seam off", run: (l) => matching.setSeam(l, true) },
    align: { words: "Move it into place", run: (l, f) => f.shift && moved(l, f.shift) },
    light: { words: "Follow the light", run: (l) => matching.setLight(l, "rim") },
    grain: { words: "Lay grain", run: (l) => matching.setGrain(l, true) },
    "hold-out": {
      words: "Hold it out",
      run: (l, f) => f.outline && void cutting.holdOut(l, f.outline, Math.max(l.in, f.in - AROUND), Math.min(l.out, f.out + AROUND)),
    },
  };

  /** A patch's picture moved in all its frames. */
  function moved(layer: PatchLayer, by: { x: number; y: number }): void {
    patches.changeLayer(layer.id, `Move the picture of ${named(layer)} into place`, (d) => {
      const place = (d.place ??= {});
      for (const axis of ["x", "y"] as const) {
        const v = place[axis] ?? 0;
        if (isKeyed(v)) for (const k of v.keys) k.v += by[axis];
        else place[axis] = v + by[axis];
      }
    });
  }

  function widen(layer: PatchLayer, what: "grow" | "feather", name: string): void {
    if (patches.isLocked(layer)) return;
    commit(name, (d: Draft<Recipe>) => {
      const l = patchById(d, layer.id);
      const m = l && maskIn(d, l);
      if (!m) return;
      const v = m[what] ?? 0;
      if (isKeyed(v)) for (const k of v.keys) k.v += BY;
      else m[what] = asDraft(v + BY);
    });
  }

  const layerOf = (f: Finding): PatchLayer | null => patchById(get().recipe, f.layer) ?? null;

  return {
    prove,
    rested,
    look,
    /** Goes on to the next finding, or back. */
    jump(way: 1 | -1): void {
      const { at } = get().proof;
      const n = list().length;
      if (n) look(at === null ? (way > 0 ? 0 : n - 1) : (at + way + n) % n);
    },
    /** How a finding can be mended at once; null where it takes a hand. */
    mendingOf: (f: Finding): string | null => {
      const l = layerOf(f);
      if (f.remedy === "light" && l?.light) return null;
      if (f.remedy === "grain" && l?.grain) return null;
      if (f.remedy === "hold-out" && !f.outline) return null;
      if (f.remedy === "align" && !f.shift) return null;
      if (f.remedy === "seam" && l?.seam) return null;
      return MEND[f.remedy]?.words ?? null;
    },
    setFigure: (figure: FigureKind) => change({ figure }),
    /** The finding that is looked at, mended. */
    mendLooked(): void {
      const f = list()[get().proof.at ?? -1];
      if (f) this.mend(f);
    },
    mend(f: Finding): void {
      const l = layerOf(f);
      if (l && isPatch(l)) MEND[f.remedy]?.run(l, f);
    },
    /** Leaves a finding as it is; the reason is kept with the recipe. */
    accept(f: Finding, why: string): void {
      const finding = nameOf(f);
      commit(`Accept a ${f.kind.replace("-", " ")} at frame ${core.show(f.worst)}`, (d) => {
        const kept = (d.proof?.accepted ?? []).filter((a) => a.finding !== finding);
        d.proof = { accepted: [...kept, { finding, value: f.value, why }] };
      });
      change({ at: null });
    },
    /** It counts again. */
    unaccept(f: Finding): void {
      const finding = nameOf(f);
      commit(`Accept a ${f.kind.replace("-", " ")} no longer`, (d) => {
        if (d.proof) d.proof.accepted = d.proof.accepted.filter((a) => a.finding !== finding);
      });
    },
    progress(id: string, done: number, total: number): void {
      const { running } = get().proof;
      if (running?.id === id) change({ running: { ...running, done, total } });
    },
    close(): void {
      if (resting) clearTimeout(resting);
      const { running } = get().proof;
      if (running) void stopTask(running.id).catch(() => undefined);
    },
  };
}
