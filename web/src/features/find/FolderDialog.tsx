import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useFolders } from "../../api/hooks";
import { anew } from "../../api/keys";
import { FormEnd } from "../../ui/FormEnd";
import { SelectField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { type Access, AccessList } from "../sharing/AccessList";

type Folder = Schemas["FolderBody"];

/** Makes a folder, or changes a folder's name and who may open and change what lies in it. */
export function FolderDialog({ folder, onClose }: { folder?: Folder; onClose: () => void }) {
  const client = useQueryClient();
  const folders = useFolders().data ?? [];
  const form = useForm({ defaultValues: { name: folder?.name ?? "", parent: folder?.parent ?? 0 } });
  const [access, setAccess] = useState<Access[]>(
    folder?.access ?? [{ kind: "everyone", subject: 0, mayChange: false }],
  );
  const save = async ({ name, parent }: { name: string; parent: number }) => {
    const body = { name, access, ...(parent ? { parent } : {}) };
    return folder
      ? ask(
          api.PUT("/api/folders/{id}", {
            params: { path: { id: folder.id } },
            body: { ...body, version: folder.version },
          }),
        )
      : ask(api.POST("/api/folders", { body }));
  };
  const { submit, busy } = useSend(form, save, () => {
    anew(client, "folders", "find");
    toast(folder ? "Folder saved" : `Made “${form.getValues("name").trim()}”`);
    onClose();
  });
  return (
    <Modal title={folder ? "Name and access" : "New folder"} width={480} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="name" label="Name" maxLength={200} />
        {!folder && (
          <SelectField
            form={form}
            name="parent"
            label="Stands in"
            options={[
              { value: 0, label: "no other folder" },
              ...folders
                .filter((f) => !f.private && !f.parent && f.mayChange)
                .map((f) => ({ value: f.id, label: f.name })),
            ]}
          />
        )}
        <p className="mt-4 mb-1 font-semibold">Who may open what lies in it</p>
        <AccessList access={access} none="Only administrators, until someone is named." onChange={setAccess} />
        <FormEnd form={form} off={busy} action="Save" />
      </form>
    </Modal>
  );
}
