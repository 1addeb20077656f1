"use client";
import type { Rate } from "@/client/api";

const RATES: [string, Rate][] = [
  ["8", [8, 1]],
  ["12", [12, 1]],
  ["15", [15, 1]],
  ["23.976", [24000, 1001]],
  ["24", [24, 1]],
  ["25", [25, 1]],
  ["29.97", [30000, 1001]],
  ["30", [30, 1]],
  ["48", [48, 1]],
  ["50", [50, 1]],
  ["59.94", [60000, 1001]],
  ["60", [60, 1]],
];

/** A typed rate as a fraction; null when it is none. */
export function rateOf(text: string): Rate | null {
  const named = RATES.find(([n]) => n === text.trim());
  if (named) return named[1];
  const v = Number(text);
  return Number.isFinite(v) && v > 0 && v <= 1000 ? [Math.round(v * 1000), 1000] : null;
}

/** How many stills make a second; numbered stills do not say it themselves. */
export function RateField({ value, onChange }: { value: string; onChange: (v: string) => void }) {
  return (
    <label className="flex items-center gap-2">
      <span className="text-dim">Stills a second</span>
      <input
        list="rates"
        inputMode="decimal"
        aria-invalid={!rateOf(value)}
        className="num h-7 w-24 rounded-md border border-line bg-ground px-2 aria-invalid:border-brick"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
      <datalist id="rates">
        {RATES.map(([n]) => (
          <option key={n} value={n} />
        ))}
      </datalist>
    </label>
  );
}
