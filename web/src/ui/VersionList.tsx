import { Drawer } from "./Drawer";
import { moment } from "./figures";

type Version = { version: number; at: number; who: string; change: string[] };

/** What something was: who changed what and when; any of it can be seen and brought back. */
export function VersionList<V extends Version>({
  title,
  list,
  now,
  mayBring,
  onSee,
  onBring,
  onClose,
}: {
  title: string;
  list: V[];
  /** The version that it is at now. */
  now: number;
  mayBring: boolean;
  onSee: (v: V) => void;
  onBring: (v: V) => void;
  onClose: () => void;
}) {
  return (
    <Drawer open onClose={onClose} title={title}>
      <ol className="mt-3 space-y-2" aria-label="Versions">
        {list.map((v) => (
          <li key={v.version} className="rounded-md border border-line px-3 py-2">
            <p className="flex items-center gap-3">
              <strong>{moment(v.at)}</strong>
              <span className="mr-auto text-ink2">{v.who}</span>
              {v.version === now ? (
                <span className="text-ink2 text-[13px]">as it is now</span>
              ) : (
                <>
                  <button
                    type="button"
                    className="link"
                    onClick={() => {
                      onClose();
                      onSee(v);
                    }}
                  >
                    See it
                  </button>
                  {mayBring && (
                    <button type="button" className="link" onClick={() => onBring(v)}>
                      Bring it back
                    </button>
                  )}
                </>
              )}
            </p>
            <ul className="mt-1 text-[13px] text-ink2">
              {v.change.map((c) => (
                <li key={c}>{c}</li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </Drawer>
  );
}
