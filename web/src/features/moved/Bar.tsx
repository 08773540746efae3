/** A bar from one amount to another. All of its numbers are parts of the width. */
export function Bar({
  from,
  to,
  colour,
  zero,
  leads = false,
}: {
  from: number;
  to: number;
  colour: string;
  /** Where nothing is, where a line is to say so. */
  zero?: number;
  /** Whether the bar below begins where this one ends. */
  leads?: boolean;
}) {
  return (
    <div className="relative h-5">
      {zero !== undefined && <div className="absolute inset-y-0 w-px bg-line2" style={{ left: `${zero * 100}%` }} />}
      <div
        hidden={from === to && !leads}
        className="absolute inset-y-1 min-w-[2px] rounded-[2px]"
        style={{ left: `${Math.min(from, to) * 100}%`, width: `${Math.abs(to - from) * 100}%`, background: colour }}
      />
      {leads && (
        <div className="absolute top-1 h-[calc(100%+4px)] w-px bg-ink2 opacity-50" style={{ left: `${to * 100}%` }} />
      )}
    </div>
  );
}
