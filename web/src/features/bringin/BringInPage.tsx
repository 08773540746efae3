import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, ask, fetched, type Schemas } from "../../api/client";
import { useMe, useSchema } from "../../api/hooks";
import { count } from "../../ui/figures";
import { Empty, Trouble } from "../../ui/Say";

import { BroughtIn } from "./BroughtIn";
import { ColumnsOfFile } from "./ColumnsOfFile";

type File_ = Schemas["FileBody"] & Schemas["GuessBody"] & { name: string };

/** Sends a file as it is (the contract's client would read it as text), and asks what it most likely is. */
async function send(file: File): Promise<File_> {
  const response = await fetched(
    `/api/bring-in?name=${encodeURIComponent(file.name)}`,
    file,
    "application/octet-stream",
  );
  const taken = (await response.json()) as Schemas["FileBody"];
  const guess = await ask(
    api.POST("/api/bring-in/{id}/guess", { params: { path: { id: taken.id } }, body: { type: "" } }),
  );
  return { ...taken, ...guess, name: file.name };
}

const separators: Record<string, string> = { ",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars" };

/** Brings records in from files of other systems: the file, what its columns are, what would come of it, and then it. */
export function BringInPage() {
  const me = useMe().data;
  const schema = useSchema();
  const types = (schema?.types ?? []).filter((t) => t.written);
  const client = useQueryClient();
  const [files, setFiles] = useState<File_[]>([]);
  const [file] = files;
  const [type, setType] = useState("customers");
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const taking = useMutation({
    mutationFn: (list: File[]) => Promise.all(list.map(send)),
    onSuccess: (list) => {
      // What others link to comes first.
      const order = (f: File_) => types.findIndex((t) => t.key === f.plan.type);
      const sorted = [...list].sort((a, b) => order(a) - order(b));
      for (const f of sorted) client.setQueryData(["bring-in", f.id, f.plan.type], { plan: f.plan, again: f.again });
      setFiles(sorted);
      setType(sorted[0]?.plan.type ?? type);
    },
  });
  if (!me || !schema) return null;
  if (!me.mayCompose)
    return <Empty title="Files are brought in by composers and administrators">Ask one of them to do it.</Empty>;
  const take = (list: FileList | null | undefined) => {
    if (list?.[0]) taking.mutate([...list]);
  };
  const next = () => {
    const rest = files.slice(1);
    setFiles(rest);
    if (rest[0]) setType(rest[0].plan.type);
  };
  return (
    <>
      <h1 className="title mb-1 text-[26px]">Bring in records</h1>
      <p className="mb-4 max-w-[70ch] text-ink2">
        From CSV, workbooks, business cards or calendars of whatever you use now, several at once where they point at
        one another. You see what would come of each line before anything is written, and all of it can be taken back.
      </p>
      <div className="mb-4 flex flex-wrap items-center gap-3">
        {file && (
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
        )}
        <input
          ref={chooser}
          type="file"
          accept=".csv,.txt,.tsv,.xlsx,.vcf,.ics,text/csv,text/plain"
          multiple
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
            Other files
          </button>
        )}
        {files.length > 1 && (
          <button type="button" className="btn btn-quiet" onClick={next}>
            Leave this one out
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
            {taking.isPending ? "Reading …" : "Choose files"}
          </button>
          <p className="mt-2 text-ink2">or drop them here. The first line names the columns.</p>
        </div>
      )}
      {file && (
        <>
          <p className="mb-2 text-[13px] text-ink2">
            <b className="text-ink">{file.name}</b> · {file.lines === 1 ? "1 line" : `${count(file.lines)} lines`} ·{" "}
            {file.encoding}
            {file.separator && `, divided by ${separators[file.separator] ?? file.separator}`}
            {files.length > 1 &&
              ` · then ${files
                .slice(1)
                .map((f) => f.name)
                .join(", ")}`}
          </p>
          <ColumnsOfFile
            key={`${file.id} ${type}`}
            file={file}
            type={types.find((t) => t.key === type) ?? types[0]}
            onDone={next}
          />
        </>
      )}
      <BroughtIn types={schema.types} me={me} />
    </>
  );
}
