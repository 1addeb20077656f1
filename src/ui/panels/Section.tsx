import type { ReactNode } from "react";

/** A part of the card. */
export function Section({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <section className="border-b border-line px-3.5 py-2.5 last:border-b-0" aria-label={title}>
      <div className="mb-1 flex min-h-6 items-center justify-between gap-2">
        <h3 className="font-semibold text-dim">{title}</h3>
        {aside}
      </div>
      {children}
    </section>
  );
}
