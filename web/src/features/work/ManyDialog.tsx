import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useForm } from "react-hook-form";
import { api, ask, type Schemas, type TypeInfo } from "../../api/client";
import { FormEnd } from "../../ui/FormEnd";
import { count } from "../../ui/figures";
import { useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { useRested } from "../../ui/useRested";
import { Meter } from "./Meter";
import { useUnderWay } from "./useUnderWay";
import { ValueField } from "./ValueField";

type Values = Record<string, string>;
type Many = Schemas["ManyBody"];
export type Which = Pick<Schemas["Change-manyRequest"], "ids" | "brief" | "but">;

/** Sets one field of many records, and says before what it would change and what it cannot. */
export function ManyDialog({
  type,
  which,
  total,
  field,
  onClose,
  onDone,
}: {
  type: TypeInfo;
  which: Which;
  /** How many records are chosen. */
  total: number;
  /** The field that is offered first. */
  field?: string;
  onClose: () => void;
  onDone: (done: Many, words: string) => void;
}) {
  const fields = type.fields.filter((f) => f.written && !f.unique && !f.retired);
  const form = useForm<Values>({ defaultValues: { field: field ?? fields[0]?.key ?? "" } });
  const now = form.watch();
  const f = fields.find((f) => f.key === now.field);
  const value = now[now.field] ?? "";
  const rested = useRested(`${now.field} ${value}`, 250);
  const body = { ...which, values: { [now.field]: value } };
  const dry = useQuery({
    queryKey: ["many", type.key, which, now.field, value],
    enabled: !!f && (value !== "" || now.empty === "true") && rested === `${now.field} ${value}`,
    gcTime: 0,
    retry: false,
    queryFn: () => ask(api.POST("/api/records/{type}/many", at(type, { ...body, dry: true }))),
  });
  const under = useUnderWay();
  const { params, body: set } = at(type, body);
  const { submit, busy } = useSend(
    form,
    () =>
      under.run((header) => ask(api.POST("/api/records/{type}/many", { params: { ...params, header }, body: set }))),
    (done) =>
      onDone(done, `${f?.label ?? ""} of ${count(done.records)} ${done.records === 1 ? type.one : "records"} set`),
    "/values",
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: another field is refused for other reasons
  useEffect(() => form.clearErrors(), [now.field, value]);
  const d = dry.isEnabled ? dry.data : undefined;
  return (
    <Modal
      title={`Change ${count(total)} ${total === 1 ? type.one : type.label.toLowerCase()}`}
      width={460}
      onClose={onClose}
    >
      <form onSubmit={submit}>
        <label className="mb-3 block">
          <span className="mb-1 block font-semibold">Field</span>
          <select className="input" {...form.register("field")}>
            {fields.map((f) => (
              <option key={f.key} value={f.key}>
                {f.label}
              </option>
            ))}
          </select>
        </label>
        {f && now.empty !== "true" && (
          <ValueField key={f.key} form={form} field={{ ...f, label: "All get", required: false }} />
        )}
        {f && !f.required && (
          <label className="mb-2 flex items-center gap-2">
            <input
              type="checkbox"
              checked={now.empty === "true"}
              onChange={(e) => {
                form.setValue("empty", String(e.target.checked));
                form.setValue(f.key, "");
              }}
            />
            Empty it
          </label>
        )}
        <div className="min-h-[44px] text-[13px]" aria-live="polite">
          {dry.error && <p className="text-rust">{(dry.error as Error).message}</p>}
          {d && (
            <p>
              <strong>{count(d.records)}</strong> would change
              {d.same > 0 && `, ${count(d.same)} have it already`}
              {d.left > 0 && <span className="text-rust">, {count(d.left)} cannot and stay as they are</span>}.
            </p>
          )}
          {d?.why.slice(0, 5).map((w) => (
            <p key={w.id} className="truncate text-ink2" title={w.why}>
              {w.name || `number ${w.id}`}: {w.why}
            </p>
          ))}
        </div>
        <Meter now={under.now} />
        <FormEnd form={form} off={busy || !d || d.records === 0} action={busy ? "Changing …" : "Change them"} />
      </form>
    </Modal>
  );
}

const at = (type: TypeInfo, body: Schemas["Change-manyRequest"]) => ({ params: { path: { type: type.key } }, body });
