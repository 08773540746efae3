/** The colour that a value has on every chart, or the offer of one: picked, changed, taken off. */
export function ColourOf({
  name,
  colour,
  offered,
  onChange,
}: {
  name: string;
  colour?: string;
  offered: string;
  onChange: (colour: string) => void;
}) {
  if (!colour)
    return (
      <button type="button" className="link text-[13px]" onClick={() => onChange(offered)}>
        give it a colour<span className="sr-only">, {name}</span>
      </button>
    );
  return (
    <>
      <input
        type="color"
        aria-label={`Colour of ${name}`}
        value={colour}
        onChange={(e) => onChange(e.target.value.toUpperCase())}
      />
      <button
        type="button"
        className="btn btn-quiet !px-1.5"
        aria-label={`No colour for ${name}`}
        onClick={() => onChange("")}
      >
        ×
      </button>
    </>
  );
}
