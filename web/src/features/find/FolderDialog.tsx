import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useFolders } from "../../api/hooks";
import { anew } from "../../api/keys";
import { Modal } from "../../ui/Modal";
import { reason } from "../../ui/tell";
import { type Access, AccessList } from "../sharing/AccessList";

type Folder = Schemas["FolderBody"];

/** Makes a folder, or changes a folder's name and who may open and change what lies in it. */
export function FolderDialog({ folder, onClose }: { folder?: Folder; onClose: () => void }) {
  const client = useQueryClient();
  const folders = useFolders().data ?? [];
  const [name, setName] = useState(folder?.name ?? "");
  const [parent, setParent] = useState(folder?.parent ?? 0);
  const [access, setAccess] = useState<Access[]>(
    folder?.access ?? [{ kind: "everyone", subject: 0, mayChange: false }],
  );
  const [refused, setRefused] = useState("");
  const save = async (e: FormEvent) => {
    e.preventDefault();
    const body = { name, access, ...(parent ? { parent } : {}) };
    try {
      await (folder
        ? ask(
            api.PUT("/api/folders/{id}", {
              params: { path: { id: folder.id } },
              body: { ...body, version: folder.version },
            }),
          )
        : ask(api.POST("/api/folders", { body })));
      anew(client, "folders");
      anew(client, "find");
      toast(folder ? "Folder saved" : `Made “${name.trim()}”`);
      onClose();
    } catch (err) {
      setRefused(reason(err));
    }
  };
  return (
    <Modal title={folder ? "Name and access" : "New folder"} width={480} onClose={onClose}>
      <form onSubmit={save}>
        <label className="mb-1 block font-semibold" htmlFor="folder-name">
          Name
        </label>
        <input
          id="folder-name"
          className="input"
          value={name}
          maxLength={200}
          onChange={(e) => setName(e.target.value)}
        />
        {!folder && (
          <>
            <label className="mt-3 mb-1 block font-semibold" htmlFor="folder-parent">
              Stands in
            </label>
            <select
              id="folder-parent"
              className="input"
              value={parent}
              onChange={(e) => setParent(Number(e.target.value))}
            >
              <option value={0}>no other folder</option>
              {folders
                .filter((f) => !f.private && !f.parent && f.mayChange)
                .map((f) => (
                  <option key={f.id} value={f.id}>
                    {f.name}
                  </option>
                ))}
            </select>
          </>
        )}
        <p className="mt-4 mb-1 font-semibold">Who may open what lies in it</p>
        <AccessList access={access} none="Only administrators, until someone is named." onChange={setAccess} />
        {refused && (
          <p role="alert" className="mt-3 text-rust">
            {refused}
          </p>
        )}
        <div className="mt-5 flex justify-end gap-2">
          <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
          <button type="submit" className="btn btn-main">
            Save
          </button>
        </div>
      </form>
    </Modal>
  );
}
