import type { ReactNode } from "react";

/** A part of the card. */
export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="border-b border-line px-3.5 py-2.5 last:border-b-0" aria-label={title}>
      <h3 className="mb-1 font-semibold text-dim">{title}</h3>
      {children}
    </section>
  );
}
