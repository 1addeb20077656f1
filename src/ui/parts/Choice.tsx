"use client";
import clsx from "clsx";

/** One of a few: a quiet row of words, the chosen one underlined. */
export function Choice<T extends string>({
  name,
  options,
  value,
  onChange,
  reasons,
  tight,
}: {
  name: string;
  options: readonly (readonly [T, string])[];
  value: T;
  onChange: (v: T) => void;
  reasons?: Partial<Record<T, string>>;
  /** With little room between the words. */
  tight?: boolean;
}) {
  return (
    <div role="radiogroup" aria-label={name} className="flex rounded-md border border-line">
      {options.map(([v, label]) => (
        <button
          key={v}
          type="button"
          role="radio"
          aria-checked={v === value}
          disabled={!!reasons?.[v]}
          title={reasons?.[v]}
          onClick={() => onChange(v)}
          className={clsx(
            "h-7 flex-1 border-b-2 whitespace-nowrap first:rounded-l-md last:rounded-r-md",
            tight ? "px-0.5 text-[12px]" : "px-2",
            v === value ? "border-ochre bg-raised text-bone" : "border-transparent text-dim enabled:hover:text-bone",
            "disabled:opacity-40",
          )}
        >
          {label}
        </button>
      ))}
    </div>
  );
}
