import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { anew } from "../../api/keys";
import { FormEnd } from "../../ui/FormEnd";
import { useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { type Access, AccessList } from "./AccessList";

/** Whom a single report or dashboard is shared with, besides those who may open the folder that it lies in. */
export function ShareDialog({
  kind,
  id,
  title,
  onClose,
}: {
  kind: "report" | "board";
  id: number;
  title: string;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const params = { params: { path: { kind, id } } };
  const shares = useQuery({
    queryKey: ["shares", kind, id],
    queryFn: () => ask(api.GET("/api/shares/{kind}/{id}", params)),
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  const form = useForm<{ access?: Access[] }>();
  const changed = form.watch("access");
  const access = changed ?? shares.data?.access ?? [];
  const { submit, busy } = useSend(
    form,
    () => ask(api.PUT("/api/shares/{kind}/{id}", { ...params, body: { access, version: shares.data?.version } })),
    () => {
      anew(client, "find");
      toast(access.length ? "Shared" : "It is shared with nobody besides its folder");
      onClose();
    },
  );
  return (
    <Modal title={`Share “${title}”`} width={480} onClose={onClose}>
      <form onSubmit={submit}>
        <p className="mb-3 text-ink2">
          {kind === "report"
            ? "Whoever may open its folder may open it. Here others are let in, to this report alone."
            : "Whoever may open its folder may open it. Here others are let in, to this dashboard alone; its reports are shared by themselves."}
        </p>
        <Trouble error={shares.error} />
        {shares.data && (
          <AccessList
            access={access}
            none="Nobody besides those who may open its folder."
            onChange={(a) => form.setValue("access", a)}
          />
        )}
        <FormEnd form={form} off={busy || !changed} action="Save" />
      </form>
    </Modal>
  );
}
