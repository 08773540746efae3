import { Trouble } from "../../ui/Say";
import { Named } from "./Named";
import type { Finder } from "./useFinder";

/** What a finder of records found, to be picked from. */
export function FoundRecords({
  finder: f,
  label,
  className,
  one,
}: {
  finder: Finder;
  label: string;
  className: string;
  /** What a record of a type is called, where there are several. */
  one?: (type: string) => string | undefined;
}) {
  return (
    <>
      <div id={f.id} role="listbox" aria-label={label} className={f.list.length ? className : "hidden"}>
        {f.list.map((r, i) => (
          <div
            key={`${r.type} ${r.id}`}
            id={`${f.id}-${i}`}
            role="option"
            aria-selected={i === f.at}
            tabIndex={-1}
            data-at={i === f.at}
            className="pick cursor-pointer"
            // Before the field loses the focus, and with it what is found.
            onMouseDown={(e) => {
              e.preventDefault();
              f.pick(r);
            }}
          >
            <Named record={r} one={one?.(r.type)} />
          </div>
        ))}
      </div>
      {f.none && (
        <p role="status" className={`${className} px-2 py-2 text-ink2`}>
          No record has this name or number, or you may not see it.
        </p>
      )}
      {f.error && (
        <div className={className}>
          <Trouble error={f.error} />
        </div>
      )}
    </>
  );
}
