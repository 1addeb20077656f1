"use client";

/** A name that is typed over: Enter or leaving the field settles it, Escape leaves it as it was. `settle` gets it trimmed, and only when it is another one. */
export function NameField({
  label,
  name,
  placeholder,
  className,
  settle,
}: {
  label: string;
  name: string;
  placeholder?: string;
  className: string;
  settle: (name: string) => void;
}) {
  return (
    <input
      aria-label={label}
      key={name}
      defaultValue={name}
      placeholder={placeholder}
      className={className}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") e.currentTarget.value = name;
        if (e.key === "Enter" || e.key === "Escape") e.currentTarget.blur();
      }}
      onBlur={(e) => {
        const next = e.target.value.trim().slice(0, 200);
        if (next !== name) settle(next);
      }}
    />
  );
}
