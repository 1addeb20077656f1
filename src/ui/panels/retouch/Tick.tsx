/** Something that is on or off, with its words. */
export function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex h-7 cursor-pointer items-center gap-2">
      <input type="checkbox" className="h-3.5 w-3.5 accent-ochre" checked={on} onChange={(e) => onChange(e.target.checked)} />
      <span>{label}</span>
    </label>
  );
}
