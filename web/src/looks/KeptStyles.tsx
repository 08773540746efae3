import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { useHouseStyle, useMe, useStyles } from "../api/hooks";
import { FormEnd } from "../ui/FormEnd";
import { TextField, useSend } from "../ui/form";
import { Modal } from "../ui/Modal";
import { useDo } from "../ui/useDo";
import { LookChoices } from "./LookChoices";
import { PaletteEditor } from "./PaletteEditor";

type Kept = Schemas["KeptStyleBody"];
type Style = Schemas["Style"];

/** The styles that are kept by name: a chart that asks for one changes with it. */
export function KeptStyles() {
  const styles = useStyles();
  const house = useHouseStyle()?.palette ?? [];
  const me = useMe().data;
  const client = useQueryClient();
  const [open, setOpen] = useState<Kept | "new">();
  const [back] = useDo(
    (k: Kept) => keep(undefined, k.name, k.style),
    () => client.invalidateQueries(),
  );
  const [drop] = useDo(
    (k: Kept) => ask(api.DELETE("/api/styles/{key}", { params: { path: { key: k.key } } })),
    (_, k) => {
      void client.invalidateQueries();
      toast(`“${k.name}” deleted. Charts that asked for it follow the house style.`, {
        action: { label: "Undo", onClick: () => back(k) },
      });
    },
  );
  return (
    <div className="sheet max-w-[760px]">
      {styles.length === 0 && (
        <p className="px-4 py-3 text-ink2">None yet. A style that is kept here can be given to many charts at once.</p>
      )}
      <ul aria-label="Styles">
        {styles.map((k) => (
          <li key={k.key} className="flex items-center gap-3 border-line border-b px-4 py-2">
            <Swatches colours={k.style.palette ?? house} />
            <span className="font-semibold">{k.name}</span>
            <span className="mr-auto text-ink3 text-xs">{k.owner}</span>
            {k.mayChange && (
              <>
                <button type="button" className="btn" aria-label={`Change ${k.name}`} onClick={() => setOpen(k)}>
                  Change
                </button>
                <button type="button" className="btn btn-quiet" aria-label={`Delete ${k.name}`} onClick={() => drop(k)}>
                  Delete
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      {me?.mayCompose && (
        <div className="px-4 py-2.5">
          <button type="button" className="btn" onClick={() => setOpen("new")}>
            New style
          </button>
        </div>
      )}
      {open && <StyleDialog kept={open === "new" ? undefined : open} onClose={() => setOpen(undefined)} />}
    </div>
  );
}

const keep = (kept: Kept | undefined, name: string, style: Style) =>
  kept
    ? ask(
        api.PUT("/api/styles/{key}", {
          params: { path: { key: kept.key } },
          body: { name, style, version: kept.version },
        }),
      )
    : ask(api.POST("/api/styles", { body: { name, style } }));

/** A palette in small. */
function Swatches({ colours }: { colours: string[] }) {
  return (
    <span className="flex shrink-0" aria-hidden="true">
      {colours.map((c) => (
        <span key={c} className="h-4 w-3" style={{ background: c }} />
      ))}
    </span>
  );
}

/** A style that is kept or changed. */
export function StyleDialog({
  kept,
  begin,
  onKept,
  onClose,
}: {
  kept?: Kept;
  /** What a new one begins with. */
  begin?: Style;
  onKept?: (k: Kept) => void;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const house = useHouseStyle()?.palette ?? [];
  const form = useForm({ defaultValues: { name: kept?.name ?? "" } });
  const [s, setS] = useState<Style>(kept?.style ?? begin ?? {});
  const { submit, busy } = useSend(
    form,
    ({ name }) => keep(kept, name, s),
    (k) => {
      void client.invalidateQueries();
      toast(kept ? "Saved. Charts that ask for it have changed with it." : `Kept as “${k.name}”`);
      onKept?.(k);
      onClose();
    },
  );
  return (
    <Modal title={kept ? `Change “${kept.name}”` : "Keep a style by name"} width={620} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="name" label="Name" maxLength={200} />
        <OwnColours colours={s.palette} house={house} onChange={(palette) => setS({ ...s, palette })} />
        <div className="grid grid-cols-3 gap-2">
          <LookChoices value={s} below="house style" onChange={(change) => setS({ ...s, ...change })} />
        </div>
        <FormEnd form={form} off={busy || !form.watch("name").trim()} action={kept ? "Save style" : "Keep style"} />
      </form>
    </Modal>
  );
}

/** Colours of its own in place of those that hold otherwise. */
export function OwnColours({
  colours,
  house,
  onChange,
}: {
  colours?: string[];
  house: string[];
  onChange: (colours: string[] | undefined) => void;
}) {
  if (!colours)
    return (
      <p className="mb-3 flex items-center gap-2 text-[13px]">
        <Swatches colours={house} />
        <button type="button" className="link" onClick={() => onChange(house)}>
          Colours of its own
        </button>
      </p>
    );
  return (
    <div>
      <PaletteEditor colours={colours} onChange={onChange} />
      <button type="button" className="link mb-3 block text-[13px]" onClick={() => onChange(undefined)}>
        Follow the house style’s colours again
      </button>
    </div>
  );
}
