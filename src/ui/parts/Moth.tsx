/** The mark: a moth with lamp-lit wings. */
export function Moth({ size = 22 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden>
      <g fill="var(--color-ochre)">
        <path d="M11.4 9.2C9.3 5.6 5.6 4.3 2.6 5.2c-.2 3.9 1.6 7.3 5.2 8.1-1.9.9-2.8 2.8-2.3 5.1 2.8.5 5-.9 5.9-4.3z" />
        <path d="M12.6 9.2c2.1-3.6 5.8-4.9 8.8-4 .2 3.9-1.6 7.3-5.2 8.1 1.9.9 2.8 2.8 2.3 5.1-2.8.5-5-.9-5.9-4.3z" />
      </g>
      <circle cx="7" cy="8.7" r="1.25" fill="var(--color-ground)" />
      <circle cx="17" cy="8.7" r="1.25" fill="var(--color-ground)" />
      <path
        d="M11.7 8.2C11.3 6 10.4 4.5 9 3.6M12.3 8.2c.4-2.2 1.3-3.7 2.7-4.6"
        fill="none"
        stroke="var(--color-ochre)"
        strokeWidth=".9"
        strokeLinecap="round"
      />
    </svg>
  );
}
