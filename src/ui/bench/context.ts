"use client";
import { createContext, useContext } from "react";
import { useStore } from "zustand";
import type { Bench, BenchState } from "@/client/bench/store";

export const BenchContext = createContext<Bench | null>(null);

export function useBench(): Bench {
  const b = useContext(BenchContext);
  if (!b) throw new Error("used outside the bench");
  return b;
}

export const useBenchState = <T>(pick: (s: BenchState) => T): T => useStore(useBench().store, pick);
