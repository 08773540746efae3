import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Report, type TypeInfo } from "../../api/client";
import { useFolders, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { FolderField } from "../../ui/FolderField";
import { FormEnd } from "../../ui/FormEnd";
import { TextField, useSend } from "../../ui/form";
import { Menu, MenuItem } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { useDo } from "../../ui/useDo";
import { ShareDialog } from "../sharing/ShareDialog";
import type { ListState } from "./useListState";

/** The lists of a record type by name: one's own, those that are shared, all records; and the way to keep one. */
export function ListTabs({
  type,
  lists,
  first,
  state,
  onFirst,
}: {
  type: TypeInfo;
  lists: Report[];
  first: number;
  state: ListState;
  onFirst: (report: number) => void;
}) {
  const me = useMe().data;
  const client = useQueryClient();
  const [keeping, setKeeping] = useState(false);
  const [sharing, setSharing] = useState(false);
  const { kept, said, narrowing, go } = state;
  const changed = state.changed || narrowing.from.length > 0;
  const anewLists = () => anew(client, "lists", "reports", "find");
  const [save] = useDo(
    (r: Report) =>
      ask(
        api.PUT("/api/reports/{id}", {
          params: { path: { id: r.id } },
          body: {
            title: r.title,
            description: r.description,
            folder: r.folder,
            version: r.version,
            noDownload: r.noDownload,
            shown: r.shown,
            shownFixed: r.shownFixed,
            team: r.team,
            brief: said,
          },
        }),
      ),
    (r) => {
      client.setQueryData(["report", r.id], r);
      anewLists();
      toast(`Saved “${r.title}”`);
      go({ kept: r.id });
    },
  );
  const [unlist] = useDo(
    (r: Report) => ask(api.DELETE("/api/reports/{id}/list", { params: { path: { id: r.id } } })),
    () => {
      anewLists();
      go({ kept: "all" });
      toast("No list any more. Its report is still there.");
    },
  );
  const opens = kept?.id ?? 0;
  const tab = (on: boolean) =>
    `min-h-8 max-w-[240px] truncate px-2.5 ${on ? "border-[var(--amber)] border-b-2 font-bold" : "border-transparent border-b-2 text-ink2 hover:text-ink"}`;
  return (
    <nav aria-label="Lists" className="mb-1 flex flex-wrap items-center gap-x-1 text-[13.5px]">
      {lists.map((r) => (
        <button
          key={r.id}
          type="button"
          className={tab(kept?.id === r.id)}
          aria-current={kept?.id === r.id ? "page" : undefined}
          title={`${r.text}${r.ownerId === me?.id ? "" : `, a list of ${r.owner}`}`}
          onClick={() => go({ kept: r.id })}
        >
          {r.title}
        </button>
      ))}
      <button
        type="button"
        className={tab(!kept)}
        aria-current={kept ? undefined : "page"}
        onClick={() => go({ kept: "all" })}
      >
        All {type.label.toLowerCase()}
      </button>
      {changed && kept?.mayChange && (
        <button type="button" className="link ml-2" onClick={() => save(kept)}>
          Save the change
        </button>
      )}
      {changed && (
        <button type="button" className="link ml-2" onClick={() => go({ kept: kept?.id ?? "all" })}>
          As it was
        </button>
      )}
      {changed && me?.mayKeep && (
        <button type="button" className="link ml-2" onClick={() => setKeeping(true)}>
          Keep this list…
        </button>
      )}
      {(kept || opens !== first) && (
        <Menu label="More of this list" className="btn btn-quiet !h-7 !px-2" text="…" align="start">
          {opens !== first && <MenuItem label="Open this one first" onPick={() => onFirst(opens)} />}
          {kept?.mayShare && <MenuItem label="Share with people and teams…" onPick={() => setSharing(true)} />}
          {kept?.mayChange && <MenuItem label="Take it from the lists" onPick={() => unlist(kept)} />}
        </Menu>
      )}
      {keeping && (
        <KeepList
          state={state}
          onClose={() => setKeeping(false)}
          onKept={(r) => {
            setKeeping(false);
            anewLists();
            go({ kept: r.id });
          }}
        />
      )}
      {sharing && kept && (
        <ShareDialog kind="report" id={kept.id} title={kept.title} onClose={() => setSharing(false)} />
      )}
    </nav>
  );
}

/** Keeps a list by a name. */
function KeepList({ state, onClose, onKept }: { state: ListState; onClose: () => void; onKept: (r: Report) => void }) {
  const folders = (useFolders().data ?? []).filter((f) => f.mayChange);
  const form = useForm({ defaultValues: { title: "", folder: 0 } });
  const { submit, busy } = useSend(
    form,
    async ({ title, folder }) => {
      const r = await ask(
        api.POST("/api/reports", { body: { title, description: "", folder: Number(folder), brief: state.said } }),
      );
      await ask(api.PUT("/api/reports/{id}/list", { params: { path: { id: r.id } } }));
      return r;
    },
    onKept,
  );
  return (
    <Modal title="Keep this list" onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="title" label="Name" />
        <FolderField form={form} name="folder" folders={folders} />
        <p className="text-[13px] text-ink2">
          Who may open the folder has this list, too. What is looked for in it now is not kept.
        </p>
        <FormEnd form={form} off={busy} action="Keep list" />
      </form>
    </Modal>
  );
}
