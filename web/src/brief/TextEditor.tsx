import { useState } from "react";
import type { Brief, SchemaInfo } from "../api/client";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void; onDone: () => void };

/** The brief as text, for what no editor offers and for those who would rather write. */
export function TextEditor({ brief, onChange }: Pick<Props, "brief" | "onChange">) {
  const [text, setText] = useState(() => JSON.stringify(brief, null, 1));
  const [trouble, setTrouble] = useState("");
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        try {
          onChange(JSON.parse(text));
          setTrouble("");
        } catch (err) {
          setTrouble(err instanceof Error ? err.message : "This is not JSON.");
        }
      }}
    >
      <label className="block" htmlFor="brief-text">
        The report as it is kept (docs: the brief)
        <textarea
          id="brief-text"
          className="input mt-1 font-mono text-[12px]"
          rows={16}
          spellCheck={false}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      {trouble && <p className="mt-1 text-rust text-xs">{trouble}</p>}
      <div className="mt-2 flex justify-end">
        <button type="submit" className="btn btn-main">
          Use it
        </button>
      </div>
    </form>
  );
}
