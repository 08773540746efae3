import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, Refused, type Schemas, type TypeInfo } from "../../api/client";
import { recordsAnew } from "../../api/keys";
import { FormEnd } from "../../ui/FormEnd";
import { useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { asEdited, merged, written } from "../work/conflict";
import { ValueField } from "../work/ValueField";
import { ConflictChoice } from "./ConflictChoice";

type Kept = Schemas["ValuesBody"];
type Values = Record<string, string>;

/** Makes a record, or changes one; names are those of the records that it links to, by field. */
export function RecordForm({
  type,
  id,
  names = {},
  begun = {},
  onClose,
  onDone,
}: {
  type: TypeInfo;
  id?: string;
  names?: Values;
  /** What a new one begins with. */
  begun?: Values;
  onClose: () => void;
  onDone: (id: string) => void;
}) {
  const path = { params: { path: { type: type.key, id: Number(id) } } };
  const kept = useQuery({
    queryKey: ["record values", type.key, id],
    enabled: id !== undefined,
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => ask(api.GET("/api/records/{type}/{id}/values", path)),
  });
  return (
    <Modal title={id ? `Change ${type.one}` : `New ${type.one}`} width={680} onClose={onClose}>
      <Trouble error={kept.error} />
      {(!id || kept.data) && <Form type={type} kept={kept.data} names={names} begun={begun} onDone={onDone} />}
    </Modal>
  );
}

function Form({
  type,
  kept,
  names,
  begun,
  onDone,
}: {
  type: TypeInfo;
  kept?: Kept;
  names: Values;
  begun: Values;
  onDone: (id: string) => void;
}) {
  const client = useQueryClient();
  const fields = type.fields.filter((f) => f.written && !f.retired);
  const edited = (k: Kept) => ({ ...k, values: asEdited(fields, k.values) });
  const [was, setWas] = useState(kept && edited(kept));
  const [conflict, setConflict] = useState<Kept>();
  const form = useForm<Values>({
    defaultValues: Object.fromEntries(
      fields.map((f) => [f.key, was?.values[f.key] ?? (was ? "" : (begun[f.key] ?? f.default ?? ""))]),
    ),
  });
  const save = async (now: Values) => {
    const values = written(fields, was?.values ?? {}, now);
    if (!was) {
      const [id] = await ask(
        api.POST("/api/records/{type}", { params: { path: { type: type.key } }, body: { records: [values] } }),
      );
      return String(id);
    }
    try {
      await ask(
        api.PATCH("/api/records/{type}/{id}", {
          params: { path: { type: type.key, id: was.id }, header: { "If-Match": `"${was.version}"` } },
          body: { values },
        }),
      );
    } catch (e) {
      if (e instanceof Refused && e.status === 412 && e.problem.now) setConflict(edited(e.problem.now));
      throw e;
    }
    return String(was.id);
  };
  const { submit, busy } = useSend(
    form,
    save,
    (id) => {
      recordsAnew(client);
      toast("Saved");
      onDone(id);
    },
    was ? "" : "/records/0",
  );
  return (
    <form onSubmit={submit}>
      <div className="grid grid-cols-2 gap-x-4 max-sm:grid-cols-1">
        {fields.map((f) => (
          <ValueField key={f.key} form={form} field={f} name={names[f.key]} />
        ))}
      </div>
      {conflict && was ? (
        <ConflictChoice
          fields={fields}
          was={was.values}
          now={conflict.values}
          mine={form.getValues()}
          onChoose={(keepMine) => {
            const next = merged(fields, was.values, conflict.values, form.getValues(), keepMine);
            for (const f of fields) form.setValue(f.key, next[f.key] ?? "", { shouldDirty: true });
            setWas(conflict);
            setConflict(undefined);
            form.clearErrors();
          }}
        />
      ) : (
        <FormEnd form={form} off={busy} action="Save" />
      )}
    </form>
  );
}
