import { useState } from "react";
import { useSchema } from "../../api/hooks";
import { Modal } from "../../ui/Modal";
import { FoundRecords } from "../work/FoundRecords";
import { LogLine } from "../work/LogLine";
import { diaryOf } from "../work/logging";
import { useFinder } from "../work/useFinder";
import { useUndo } from "../work/useUndo";

type About = { type: string; id: string; name: string };

/** Writes down what was done about a record, from any screen: the record's name, then the line. */
export function LogDialog({ onClose }: { onClose: () => void }) {
  const schema = useSchema();
  const [about, setAbout] = useState<About>();
  const done = useUndo();
  const logged = schema?.types.filter((t) => t.logged) ?? [];
  const finder = useFinder({ types: logged.map((t) => t.key), most: 12, onPick: setAbout });
  const diary = schema && diaryOf(schema);
  if (!schema || !diary) return null;
  return (
    <Modal title="Log or plan" width={560} onClose={onClose}>
      {about ? (
        <>
          <p className="mb-2">
            About <strong>{about.name}</strong>{" "}
            <button
              type="button"
              className="link"
              onClick={() => {
                finder.type("");
                setAbout(undefined);
              }}
            >
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
            {...finder.field}
            className="input"
            aria-label="Whom or what it is about"
            placeholder="Find a customer, contact or deal by name"
            // biome-ignore lint/a11y/noAutofocus: the dialog opens to be typed into
            autoFocus
          />
          <div className="min-h-[128px]">
            <FoundRecords
              finder={finder}
              label="Records"
              className="mt-2"
              one={(type) => logged.find((t) => t.key === type)?.one}
            />
          </div>
        </>
      )}
    </Modal>
  );
}
