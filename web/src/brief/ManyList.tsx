/** The links to many that can be gone over from here. */
export function ManyList({
  many,
  onPick,
}: {
  many: { path: string; label: string }[];
  onPick: (path: string) => void;
}) {
  return (
    <div role="listbox" aria-label="Linked records" className="max-h-[290px] overflow-auto">
      {many.map((m) => (
        <button
          key={m.path}
          type="button"
          role="option"
          aria-selected={false}
          className="pick"
          onClick={() => onPick(m.path)}
        >
          {m.label}
        </button>
      ))}
    </div>
  );
}
