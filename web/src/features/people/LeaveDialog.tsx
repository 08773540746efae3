import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { FormEnd } from "../../ui/FormEnd";
import { count } from "../../ui/figures";
import { useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";

type Person = Schemas["PersonBody"];

/** Takes someone off: shows what they have before, and hands it over, all to one person or by kind. */
export function LeaveDialog({
  person,
  others,
  onClose,
  onDone,
}: {
  person: Person;
  others: Person[];
  onClose: () => void;
  onDone: () => void;
}) {
  const path = { params: { path: { id: person.id } } };
  const holds = useQuery({
    queryKey: ["holds", person.id],
    gcTime: 0,
    queryFn: () => ask(api.GET("/api/people/{id}/holds", path)),
  });
  const [to, setTo] = useState<Record<string, number>>({});
  const form = useForm();
  const { submit, busy } = useSend(
    form,
    () =>
      ask(
        api.POST("/api/people/{id}/leave", {
          ...path,
          body: { to: Object.fromEntries(Object.entries(to).filter(([, id]) => id > 0)) },
        }),
      ),
    () => {
      toast(`${person.name} signs in no more.`);
      onDone();
    },
  );
  const kinds = holds.data ?? [];
  const whom = (label: string, value: number | "", pick: (id: number) => void) => (
    <select className="input !w-60" aria-label={label} value={value} onChange={(e) => pick(Number(e.target.value))}>
      {value === "" && <option value="">different people</option>}
      <option value={0}>stays with {person.name}</option>
      {others.map((p) => (
        <option key={p.id} value={p.id}>
          {p.name}
        </option>
      ))}
    </select>
  );
  const all = new Set(kinds.map((k) => to[k.kind] ?? 0));
  return (
    <Modal title={`Take ${person.name} off`} width={560} onClose={onClose}>
      <form onSubmit={submit}>
        <p className="mb-3 text-ink2">
          {person.name} is signed out everywhere and signs in no more. What was done stays in their name; choose who
          takes over the rest.
        </p>
        {kinds.length > 1 && (
          <p className="mb-2 flex items-center gap-3 border-line border-b pb-2">
            <span className="mr-auto font-semibold">Everything</span>
            {whom("Who takes everything over", all.size === 1 ? ([...all][0] as number) : "", (id) =>
              setTo(Object.fromEntries(kinds.map((k) => [k.kind, id]))),
            )}
          </p>
        )}
        {kinds.map((k) => (
          <p key={k.kind} className="mb-1.5 flex items-center gap-3">
            <span className="mr-auto">
              <b>{count(k.count)}</b> {k.label.toLowerCase()}
            </span>
            {whom(`Who takes over the ${k.label.toLowerCase()}`, to[k.kind] ?? 0, (id) =>
              setTo({ ...to, [k.kind]: id }),
            )}
          </p>
        ))}
        {holds.data && kinds.length === 0 && <p>There is nothing to hand over.</p>}
        <FormEnd form={form} off={busy || !holds.data} action="Take off" />
      </form>
    </Modal>
  );
}
