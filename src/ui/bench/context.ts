"use client";
import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { Bench } from "@/client/bench/store";
import type { BenchState } from "@/client/bench/state";

export const BenchContext = createContext<Bench | null>(null);

export function useBench(): Bench {
  const b = useContext(BenchContext);
  if (!b) throw new Error("used outside the bench");
  return b;
}

/** Something that is made of the state anew every time, where it is the same field by field. */
export const useBenchShape = <T>(pick: (s: BenchState) => T): T => useStore(useBench().store, useShallow(pick));

export const useBenchState = <T>(pick: (s: BenchState) => T): T => useStore(useBench().store, pick);

/** Some fields of the bench's state; a component that names what it needs is not drawn again for every frame that plays. */
export const useBenchPick = <K extends keyof BenchState>(...keys: K[]): Pick<BenchState, K> =>
  useStore(
    useBench().store,
    useShallow((s) => Object.fromEntries(keys.map((k) => [k, s[k]])) as Pick<BenchState, K>),
  );
