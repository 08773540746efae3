import { useState } from "react";
import { useRecordsNamed, useSchema } from "../../api/hooks";
import { Modal } from "../../ui/Modal";
import { LogLine } from "../work/LogLine";
import { diaryOf, isLogged } from "../work/logging";
import { Named } from "../work/Named";
import { useUndo } from "../work/useUndo";

type About = { type: string; id: string; name: string };

/** Writes down what was done about a record, from any screen: the record's name, then the line. */
export function LogDialog({ onClose }: { onClose: () => void }) {
  const schema = useSchema();
  const [about, setAbout] = useState<About>();
  const [search, setSearch] = useState("");
  const [at, setAt] = useState(0);
  const done = useUndo();
  const found = useRecordsNamed("", search);
  const diary = schema && diaryOf(schema);
  if (!schema || !diary) return null;
  const list = (found.data ?? [])
    .flatMap((r) => {
      const type = schema.types.find((t) => t.key === r.type);
      return type && isLogged(schema, type) ? [{ ...r, one: type.one }] : [];
    })
    .slice(0, 8);
  return (
    <Modal title="Log or plan" width={560} onClose={onClose}>
      {about ? (
        <>
          <p className="mb-2">
            About <strong>{about.name}</strong>{" "}
            <button type="button" className="link" onClick={() => setAbout(undefined)}>
              another
            </button>
          </p>
          <LogLine
            about={[{ type: about.type, id: Number(about.id) }]}
            diary={diary.key}
            done={done}
            focused
            onDone={onClose}
          />
        </>
      ) : (
        <>
          <input
            className="input"
            role="combobox"
            aria-label="Whom or what it is about"
            aria-expanded={list.length > 0}
            aria-controls="log-about"
            placeholder="Find a customer, contact or deal by name"
            autoComplete="off"
            // biome-ignore lint/a11y/noAutofocus: the dialog opens to be typed into
            autoFocus
            value={search}
            onChange={(e) => {
              setSearch(e.target.value);
              setAt(0);
            }}
            onKeyDown={(e) => {
              if (e.key === "ArrowDown") setAt(Math.min(list.length - 1, at + 1));
              else if (e.key === "ArrowUp") setAt(Math.max(0, at - 1));
              else if (e.key === "Enter") setAbout(list[at]);
              else return;
              e.preventDefault();
            }}
          />
          <div id="log-about" role="listbox" aria-label="Records" className="mt-2 min-h-[120px]">
            {list.map((r, i) => (
              <button
                key={`${r.type} ${r.id}`}
                type="button"
                role="option"
                aria-selected={i === at}
                data-at={i === at}
                tabIndex={-1}
                className="pick"
                onMouseMove={() => setAt(i)}
                onClick={() => setAbout(r)}
              >
                <Named record={r} one={r.one} />
              </button>
            ))}
            {search && found.data && list.length === 0 && (
              <p className="px-2 py-3 text-ink2">No record has these words in its name.</p>
            )}
          </div>
        </>
      )}
    </Modal>
  );
}
