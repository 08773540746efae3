import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { useFolders, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { downloadJSON, fileName } from "../../ui/download";
import { FolderField } from "../../ui/FolderField";
import { FormEnd } from "../../ui/FormEnd";
import { TextField, useSend } from "../../ui/form";
import { Menu, MenuItem } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";
import { ShareDialog } from "../sharing/ShareDialog";
import { DeleteMany } from "./DeleteMany";
import type { Found } from "./FindPage";

/** What can be done with one report or dashboard that was found, where it stands. */
export function ItemMenu({ item }: { item: Found }) {
  const me = useMe().data;
  const client = useQueryClient();
  const [open, setOpen] = useState<"name" | "copy" | "share" | "delete">();
  const done = (said: string) => {
    anew(client, "find", "report", "board", "reports", "boards");
    toast(said);
    setOpen(undefined);
  };
  const path = { params: { path: { id: item.id } } };
  const file = async () => {
    if (item.kind === "board") {
      downloadJSON(await ask(api.GET("/api/boards/{id}/whole", path)), `${fileName(item.title)}.board.json`);
      return;
    }
    const { reading: _, ...brief } = (await ask(api.GET("/api/reports/{id}", path))).brief;
    downloadJSON(brief, `${fileName(item.title)}.brief.json`);
  };
  const [drop] = useDo(
    () => ask(item.kind === "report" ? api.DELETE("/api/reports/{id}", path) : api.DELETE("/api/boards/{id}", path)),
    () => done("Deleted. It can be brought back for 30 days."),
  );
  const mayCopy = item.kind === "report" ? me?.mayKeep : me?.mayCompose;
  return (
    <>
      <Menu label={`More to do with ${item.title}`} className="btn btn-quiet !h-6 shrink-0 !px-2" text="…" width={208}>
        {item.mayChange && <MenuItem label="Rename" onPick={() => setOpen("name")} />}
        {mayCopy && <MenuItem label="Make a copy" onPick={() => setOpen("copy")} />}
        {item.mayShare && <MenuItem label="Share…" onPick={() => setOpen("share")} />}
        <MenuItem
          label={item.kind === "board" ? "As a file, with its reports" : "Report as a file"}
          onPick={() => file().catch(tell)}
        />
        {item.mayChange && <MenuItem label="Delete" onPick={() => setOpen("delete")} />}
      </Menu>
      {(open === "name" || open === "copy") && (
        <NameDialog item={item} copy={open === "copy"} onDone={done} onClose={() => setOpen(undefined)} />
      )}
      {open === "share" && (
        <ShareDialog
          kind={item.kind as "report" | "board"}
          id={item.id}
          title={item.title}
          onClose={() => setOpen(undefined)}
        />
      )}
      {open === "delete" && <DeleteMany items={[item]} onClose={() => setOpen(undefined)} onDelete={drop} />}
    </>
  );
}

/** Another name for a report or dashboard, or the name and place of a copy of it. */
function NameDialog({
  item,
  copy,
  onDone,
  onClose,
}: {
  item: Found;
  copy: boolean;
  onDone: (said: string) => void;
  onClose: () => void;
}) {
  const folders = (useFolders().data ?? []).filter((f) => f.mayChange);
  const form = useForm({
    defaultValues: { title: copy ? `${item.title} (copy)` : item.title, folder: item.folderId },
  });
  const path = { params: { path: { id: item.id } } };
  const { submit, busy } = useSend(
    form,
    async ({ title, folder }) => {
      if (item.kind === "report") {
        const r = await ask(api.GET("/api/reports/{id}", path));
        const { description, brief, noDownload, shown, shownFixed, team, version } = r;
        const body = { title, description, brief, shown, shownFixed };
        await (copy
          ? ask(api.POST("/api/reports", { body: { ...body, folder, from: r.id } }))
          : ask(
              api.PUT("/api/reports/{id}", { ...path, body: { ...body, folder: r.folder, noDownload, team, version } }),
            ));
      } else {
        const b = await ask(api.GET("/api/boards/{id}", path));
        const body = { title, panels: b.panels, filters: b.filters };
        await (copy
          ? ask(api.POST("/api/boards", { body: { ...body, folder } }))
          : ask(api.PUT("/api/boards/{id}", { ...path, body: { ...body, folder: b.folder, version: b.version } })));
      }
      return title.trim();
    },
    (title) => onDone(copy ? `Made “${title}”` : "Renamed"),
  );
  return (
    <Modal title={copy ? `A copy of “${item.title}”` : `Rename “${item.title}”`} width={420} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="title" label="Name" maxLength={200} />
        {copy && <FolderField form={form} name="folder" folders={folders} />}
        <FormEnd form={form} off={busy || !form.watch("title").trim()} action={copy ? "Make it" : "Rename"} />
      </form>
    </Modal>
  );
}
