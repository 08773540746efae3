/** The mark: a blackbird's head, its amber beak to the right. */
export function Beak({ size = 30 }: { size?: number }) {
  return (
    <svg width={size} height={(size * 22) / 30} viewBox="0 0 30 22" aria-hidden="true">
      <circle cx="11" cy="11" r="10" fill="#3A3B42" />
      <circle cx="14" cy="8.5" r="2.6" fill="none" stroke="#F0A30F" strokeWidth="1.8" />
      <path d="M20 7.5 29 11l-9 3.5z" fill="#F0A30F" />
    </svg>
  );
}
