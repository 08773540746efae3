import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { FormEnd } from "../../ui/FormEnd";
import { count } from "../../ui/figures";
import { CheckField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { type IconName, iconNames, TypeIcon } from "../../ui/TypeIcon";
import { useDo } from "../../ui/useDo";
import { walk } from "../../ui/walk";

/** Makes a record type of one's own, or calls the records of one otherwise. */
export function TypeDialog({
  type,
  shape,
  version,
  onClose,
  onDone,
}: {
  type?: string;
  shape?: Schemas["ShapeBody"];
  version: number;
  onClose: () => void;
  onDone: (key?: string) => void;
}) {
  const form = useForm({
    defaultValues: { label: shape?.label ?? "", one: shape?.one ?? "", icon: shape?.icon ?? "", owned: true },
  });
  const { submit, busy } = useSend(
    form,
    ({ label, one, icon, owned }): Promise<{ key: string } | undefined> => {
      const called = { label, one, version, icon: (icon || undefined) as IconName | undefined };
      return type
        ? ask(api.PUT("/api/shape/{type}", { params: { path: { type } }, body: called })).then(() => undefined)
        : ask(api.POST("/api/shape", { body: { ...called, owned } }));
    },
    (made) => {
      toast(made ? "It is there. Give its records fields now." : "They are called so everywhere from now on.");
      onDone(made?.key);
    },
  );
  return (
    <Modal
      title={type ? `What ${shape?.label.toLowerCase()} are called` : "New record type"}
      width={460}
      onClose={onClose}
    >
      <form onSubmit={submit}>
        <TextField form={form} name="label" label="Many of them" maxLength={60} placeholder="Berths" />
        <TextField form={form} name="one" label="One of them" maxLength={60} placeholder="berth" />
        <IconChoice icon={form.watch("icon")} onChange={(icon) => form.setValue("icon", icon)} />
        {!type && <CheckField form={form} name="owned" label="each belongs to a person" />}
        <FormEnd form={form} off={busy} action={type ? "Save" : "Add"} />
      </form>
    </Modal>
  );
}

/** One of the drawings, or none. */
function IconChoice({ icon, onChange }: { icon: string; onChange: (icon: string) => void }) {
  return (
    <fieldset className="mb-3">
      <legend className="mb-1 font-semibold">Shown with</legend>
      <div role="radiogroup" aria-label="Drawing" className="flex flex-wrap gap-1" onKeyDown={walk}>
        {["", ...iconNames].map((name) => (
          <button
            key={name}
            type="button"
            role="radio"
            aria-checked={name === icon}
            aria-label={name || "no drawing"}
            title={name || "no drawing"}
            tabIndex={name === icon ? 0 : -1}
            className={`flex h-9 min-w-9 items-center justify-center rounded border ${name === icon ? "border-sea bg-sea-soft" : "border-line hover:border-line2"}`}
            onClick={() => onChange(name)}
          >
            {name ? (
              <span className="-mr-1.5 flex">
                <TypeIcon icon={name} size={20} />
              </span>
            ) : (
              <span className="px-2 text-[13px]">none</span>
            )}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

/** Takes a record type of one's own away, once it is seen what goes with it. */
export function DropTypeDialog({
  type,
  label,
  version,
  onClose,
  onDone,
}: {
  type: string;
  label: string;
  version: number;
  onClose: () => void;
  onDone: () => void;
}) {
  const path = { params: { path: { type } } };
  const uses = useQuery({
    queryKey: ["type uses", type],
    gcTime: 0,
    queryFn: () => ask(api.GET("/api/shape/{type}/uses", path)),
  });
  const [drop, busy] = useDo(
    () => ask(api.DELETE("/api/shape/{type}", { params: { ...path.params, query: { version } } })),
    () => {
      toast(`${label} are taken away.`);
      onDone();
    },
  );
  const u = uses.data;
  const held = u && (u.links.length > 0 || u.reports.length > 0);
  return (
    <Modal title={`Take ${label.toLowerCase()} away?`} width={460} onClose={onClose}>
      <Trouble error={uses.error} />
      {u && !held && (
        <p>
          {u.records === 0
            ? "There are none."
            : `${count(u.records)} of them go with it, with their history. For 30 days it can be taken back under Settings, “What was changed here”.`}
        </p>
      )}
      {u && u.links.length > 0 && <p>These fields lead to them; take them away first: {u.links.join(", ")}.</p>}
      {u && u.reports.length > 0 && (
        <p>These reports are about them, or use them; delete or change them first: {u.reports.join(", ")}.</p>
      )}
      <div className="mt-5 flex justify-end gap-2">
        <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
        <button type="button" className="btn btn-main" disabled={!u || held || busy} onClick={() => drop()}>
          Take them away
        </button>
      </div>
    </Modal>
  );
}
