import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { fetched, type Schemas } from "../../api/client";
import { useMe, useSchema } from "../../api/hooks";
import { count } from "../../ui/figures";
import { Empty, Trouble } from "../../ui/Say";

import { BroughtIn } from "./BroughtIn";
import { ColumnsOfFile } from "./ColumnsOfFile";

type File_ = Schemas["FileBody"] & { name: string };

/** Sends a file as it is; the contract's client would read it as text. */
async function send(file: File): Promise<File_> {
  const response = await fetched(
    `/api/bring-in?name=${encodeURIComponent(file.name)}`,
    file,
    "application/octet-stream",
  );
  return { ...(await response.json()), name: file.name };
}

const separators: Record<string, string> = { ",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars" };

/** Brings records in from files of other systems: the file, what its columns are, what would come of it, and then it. */
export function BringInPage() {
  const me = useMe().data;
  const schema = useSchema();
  const [file, setFile] = useState<File_>();
  const [type, setType] = useState("customers");
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const taking = useMutation({ mutationFn: send, onSuccess: setFile });
  if (!me || !schema) return null;
  if (!me.mayCompose)
    return <Empty title="Files are brought in by composers and administrators">Ask one of them to do it.</Empty>;
  const types = schema.types.filter((t) => t.written);
  const take = (list: FileList | null | undefined) => {
    if (list?.[0]) taking.mutate(list[0]);
  };
  return (
    <>
      <h1 className="title mb-1 text-[26px]">Bring in records</h1>
      <p className="mb-4 max-w-[70ch] text-ink2">
        From CSV of whatever you use now. You see what would come of each line before anything is written, and all of it
        can be taken back.
      </p>
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2 font-semibold">
          The file holds
          <select className="input !w-44" value={type} onChange={(e) => setType(e.target.value)}>
            {types.map((t) => (
              <option key={t.key} value={t.key}>
                {t.label}
              </option>
            ))}
          </select>
        </label>
        <input
          ref={chooser}
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          className="sr-only"
          aria-label="File of records"
          tabIndex={-1}
          onChange={(e) => {
            take(e.target.files);
            e.target.value = "";
          }}
        />
        {file && (
          <button type="button" className="btn" onClick={() => chooser.current?.click()}>
            Another file
          </button>
        )}
      </div>
      <Trouble error={taking.error} />
      {!file && (
        // biome-ignore lint/a11y/noStaticElementInteractions: the button in it does the same by keys
        <div
          className={`sheet max-w-[720px] border-2 border-dashed px-6 py-10 text-center ${over ? "border-[var(--amber)] bg-amber-soft" : "border-line2"}`}
          onDragOver={(e) => {
            e.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(e) => {
            e.preventDefault();
            setOver(false);
            take(e.dataTransfer.files);
          }}
        >
          <button
            type="button"
            className="btn btn-main"
            disabled={taking.isPending}
            onClick={() => chooser.current?.click()}
          >
            {taking.isPending ? "Reading …" : "Choose a file"}
          </button>
          <p className="mt-2 text-ink2">or drop it here. Its first line names the columns.</p>
        </div>
      )}
      {file && (
        <>
          <p className="mb-2 text-[13px] text-ink2">
            <b className="text-ink">{file.name}</b> · {count(file.lines)} lines · {file.encoding}, divided by{" "}
            {separators[file.separator] ?? file.separator}
          </p>
          <ColumnsOfFile
            key={`${file.id} ${type}`}
            file={file}
            type={types.find((t) => t.key === type) ?? types[0]}
            onDone={() => setFile(undefined)}
          />
        </>
      )}
      <BroughtIn types={schema.types} me={me} />
    </>
  );
}
