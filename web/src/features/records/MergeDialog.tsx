import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type TypeInfo } from "../../api/client";
import { anew, recordsAnew } from "../../api/keys";
import { FormEnd } from "../../ui/FormEnd";
import { useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { FoundRecords } from "../work/FoundRecords";
import { useFinder } from "../work/useFinder";

/** A record as it is kept, and as it is shown. */
const useBoth = (type: string, id: string | undefined) => {
  const values = useQuery({
    queryKey: ["record values", type, id],
    enabled: id !== undefined,
    gcTime: 0,
    queryFn: () => ask(api.GET("/api/records/{type}/{id}/values", { params: { path: { type, id: Number(id) } } })),
  });
  const shown = useQuery({
    queryKey: ["record", type, id],
    enabled: id !== undefined,
    queryFn: () => ask(api.GET("/api/records/{type}/{id}", { params: { path: { type, id: id as string } } })),
  });
  return {
    values: values.data?.values,
    text: shown.data && Object.fromEntries(shown.data.fields.map((f) => [f.key, f.text])),
    error: values.error ?? shown.error,
  };
};

/** Has another record become this one: which it is, and field by field whose value stays. */
export function MergeDialog({
  type,
  id,
  name,
  with: first,
  onClose,
}: {
  type: TypeInfo;
  id: string;
  name: string;
  /** The other one, where that is known. */
  with?: { id: string; name: string };
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [other, setOther] = useState(first);
  const mine = useBoth(type.key, id);
  const theirs = useBoth(type.key, other?.id);
  const [take, setTake] = useState<Set<string>>(new Set());
  const [apart] = useDo(
    (merge: number) => ask(api.POST("/api/merges/{id}/undo", { params: { path: { id: merge } } })),
    () => {
      recordsAnew(client);
      anew(client, "duplicates");
      toast("They are two again.");
    },
  );
  const fields = type.fields.filter((f) => f.written);
  const differ = fields.filter((f) => (mine.values?.[f.key] ?? "") !== (theirs.values?.[f.key] ?? ""));
  // What only the other has is taken over, unless one says otherwise.
  const taken = (key: string) => take.has(key) !== (!mine.values?.[key] && !!theirs.values?.[key]);
  const form = useForm();
  const { submit, busy } = useSend(
    form,
    () =>
      ask(
        api.POST("/api/records/{type}/merge", {
          params: { path: { type: type.key } },
          body: {
            keep: Number(id),
            drop: [Number(other?.id)],
            values: Object.fromEntries(
              differ.filter((f) => taken(f.key)).map((f) => [f.key, theirs.values?.[f.key] ?? ""]),
            ),
          },
        }),
      ),
    ({ merge }) => {
      recordsAnew(client);
      anew(client, "duplicates");
      toast("They are one. What linked to either links to it.", {
        action: { label: "Undo", onClick: () => apart(merge) },
      });
      onClose();
    },
  );
  const ready = !!(other && mine.values && theirs.values && mine.text && theirs.text);
  return (
    <Modal title={`Merge with “${name}”`} width={720} onClose={onClose}>
      <form onSubmit={submit}>
        <Finder type={type} but={id} chosen={other} onChoose={setOther} />
        <Trouble error={mine.error ?? theirs.error} />
        {ready && (
          <div className="max-h-[50vh] overflow-auto">
            <table className="w-full">
              <caption className="mb-2 text-left text-ink2">
                {differ.length ? "Where they differ, choose what stays." : "All of their fields are the same."}{" "}
                Contacts, deals, activities, everything that links to “{other.name}” follows, with its history.
              </caption>
              <tbody>
                {differ.map((f) => (
                  <tr key={f.key} className="border-line border-b align-top last:border-0">
                    <th scope="row" className="py-1.5 pr-3 text-left font-semibold">
                      {f.label}
                    </th>
                    {[false, true].map((theirsStays) => (
                      <td key={String(theirsStays)} className="w-[40%] py-1.5 pr-3">
                        <label className="flex items-baseline gap-2">
                          <input
                            type="radio"
                            name={`stays-${f.key}`}
                            aria-label={`${f.label}: ${(theirsStays ? theirs : mine).text?.[f.key] || "nothing"}`}
                            checked={taken(f.key) === theirsStays}
                            onChange={() => {
                              const next = new Set(take);
                              if (!next.delete(f.key)) next.add(f.key);
                              setTake(next);
                            }}
                          />
                          <span className="min-w-0 break-words">
                            {(theirsStays ? theirs : mine).text?.[f.key] || <span className="text-ink3">nothing</span>}
                          </span>
                        </label>
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        <FormEnd form={form} off={!ready || busy} action="Make them one" />
      </form>
    </Modal>
  );
}

/** Finds the other record by its name. */
function Finder({
  type,
  but,
  chosen,
  onChoose,
}: {
  type: TypeInfo;
  but: string;
  chosen?: { id: string; name: string };
  onChoose: (r: { id: string; name: string } | undefined) => void;
}) {
  const finder = useFinder({ types: [type.key], but, onPick: onChoose });
  if (chosen)
    return (
      <p className="mb-3">
        The other is <strong>{chosen.name}</strong> <span className="text-ink3">{chosen.id}</span>{" "}
        <button
          type="button"
          className="link"
          onClick={() => {
            finder.type("");
            onChoose(undefined);
          }}
        >
          another one
        </button>
      </p>
    );
  return (
    <div className="mb-3">
      <input
        {...finder.field}
        className="input"
        type="search"
        aria-label={`The other ${type.one}`}
        placeholder="Find the other by its name"
        // biome-ignore lint/a11y/noAutofocus: the dialog opens to be typed into
        autoFocus
      />
      <FoundRecords finder={finder} label="Found" className="mt-1" />
    </div>
  );
}
