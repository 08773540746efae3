import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useState } from "react";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { useFolders, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { downloadJSON, fileName } from "../../ui/download";
import { Menu, MenuItem } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { reason, tell } from "../../ui/tell";
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
      {open === "delete" && (
        <DeleteMany
          items={[item]}
          onClose={() => setOpen(undefined)}
          onDelete={() =>
            (item.kind === "report"
              ? ask(api.DELETE("/api/reports/{id}", path))
              : ask(api.DELETE("/api/boards/{id}", path))
            ).then(() => done("Deleted. It can be brought back for 30 days."), tell)
          }
        />
      )}
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
  const [title, setTitle] = useState(copy ? `${item.title} (copy)` : item.title);
  const [folder, setFolder] = useState(item.folderId);
  const [refused, setRefused] = useState("");
  const into = folders.some((f) => f.id === folder) ? folder : (folders[0]?.id ?? 0);
  const path = { params: { path: { id: item.id } } };
  const save = async (e: FormEvent) => {
    e.preventDefault();
    try {
      if (item.kind === "report") {
        const r = await ask(api.GET("/api/reports/{id}", path));
        const { description, brief, noDownload, shown, shownFixed, team, version } = r;
        const body = { title, description, brief, shown, shownFixed };
        await (copy
          ? ask(api.POST("/api/reports", { body: { ...body, folder: into, from: r.id } }))
          : ask(
              api.PUT("/api/reports/{id}", { ...path, body: { ...body, folder: r.folder, noDownload, team, version } }),
            ));
      } else {
        const b = await ask(api.GET("/api/boards/{id}", path));
        const body = { title, panels: b.panels, filters: b.filters };
        await (copy
          ? ask(api.POST("/api/boards", { body: { ...body, folder: into } }))
          : ask(api.PUT("/api/boards/{id}", { ...path, body: { ...body, folder: b.folder, version: b.version } })));
      }
      onDone(copy ? `Made “${title.trim()}”` : "Renamed");
    } catch (err) {
      setRefused(reason(err));
    }
  };
  return (
    <Modal title={copy ? `A copy of “${item.title}”` : `Rename “${item.title}”`} width={420} onClose={onClose}>
      <form onSubmit={save}>
        <label className="mb-1 block font-semibold" htmlFor="item-name">
          Name
        </label>
        <input
          id="item-name"
          className="input"
          maxLength={200}
          value={title}
          onChange={(e) => setTitle(e.target.value)}
        />
        {copy && (
          <label className="mt-3 block font-semibold">
            Folder
            <select className="input mt-1 font-normal" value={into} onChange={(e) => setFolder(Number(e.target.value))}>
              {folders.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name} {f.private ? "(only you)" : ""}
                </option>
              ))}
            </select>
          </label>
        )}
        {refused && (
          <p role="alert" className="mt-3 text-rust">
            {refused}
          </p>
        )}
        <div className="mt-4 flex justify-end gap-2">
          <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
          <button type="submit" className="btn btn-main" disabled={!title.trim()}>
            {copy ? "Make it" : "Rename"}
          </button>
        </div>
      </form>
    </Modal>
  );
}
