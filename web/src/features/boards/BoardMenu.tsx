import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Board } from "../../api/client";
import { useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { PictureItems } from "../../chart/PictureItems";
import type { PictureKind } from "../../chart/picture";
import { copyText } from "../../ui/copyText";
import { downloadJSON, fileName } from "../../ui/download";
import { FormEnd } from "../../ui/FormEnd";
import { TextField, useSend } from "../../ui/form";
import { Menu, MenuItem, MenuLine } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";
import { useFollow } from "../../ui/useFollow";
import { SendDialog } from "../sends/SendDialog";
import { ShareDialog } from "../sharing/ShareDialog";
import { NewBoardDialog } from "./NewBoardDialog";

/** What else can be done with a dashboard. */
export function BoardMenu({
  board,
  onVersions,
  onPicture,
  onPages,
}: {
  board: Board;
  onVersions: () => void;
  onPicture: (as: PictureKind) => void;
  onPages: () => void;
}) {
  const me = useMe().data;
  const client = useQueryClient();
  const go = useNavigate();
  const [menu, setMenu] = useState(false);
  const follow = useFollow("boards", board.id, menu);
  const [open, setOpen] = useState<"name" | "copy" | "delete" | "share" | "send">();
  const file = () =>
    ask(api.GET("/api/boards/{id}/whole", { params: { path: { id: board.id } } })).then((whole) => {
      downloadJSON(whole, `${fileName(board.title)}.board.json`);
    }, tell);
  const [drop, dropping] = useDo(
    () => ask(api.DELETE("/api/boards/{id}", { params: { path: { id: board.id } } })),
    () => {
      anew(client, "boards", "find");
      toast("Deleted. It can be brought back for 30 days.");
      go("/dashboards");
    },
  );
  return (
    <>
      <Menu label="More to do with the dashboard" className="btn" text="More…" open={menu} onOpen={setMenu} width={240}>
        <MenuItem label={follow.on ? "Follow no longer" : "Follow"} onPick={follow.turn} />
        <MenuItem label="Send…" onPick={() => setOpen("send")} />
        <MenuItem label="Copy a link to this reading" onPick={() => copyText(location.href)} />
        <MenuItem label="Full screen" onPick={() => document.documentElement.requestFullscreen?.()} />
        <MenuItem label="Print…" onPick={() => window.print()} />
        <PictureItems label="The whole of it as a file" only={["png"]} onPicture={onPicture} onPages={onPages} />
        <MenuLine />
        <MenuItem label="As a file, with its reports" onPick={file} />
        {me?.mayCompose && <MenuItem label="Keep as another" onPick={() => setOpen("copy")} />}
        <MenuItem label="Earlier versions" onPick={onVersions} />
        {board.mayShare && <MenuItem label="Share…" onPick={() => setOpen("share")} />}
        {board.mayChange && <MenuItem label="Rename" onPick={() => setOpen("name")} />}
        {board.mayChange && <MenuItem label="Delete" onPick={() => setOpen("delete")} />}
      </Menu>
      {open === "send" && (
        <SendDialog kind="board" item={board.id} title={board.title} onClose={() => setOpen(undefined)} />
      )}
      {open === "share" && (
        <ShareDialog kind="board" id={board.id} title={board.title} onClose={() => setOpen(undefined)} />
      )}
      {open === "copy" && <NewBoardDialog from={board.id} onClose={() => setOpen(undefined)} />}
      {open === "name" && <Rename board={board} onClose={() => setOpen(undefined)} />}
      {open === "delete" && (
        <Modal title={`Delete “${board.title}”?`} width={420} onClose={() => setOpen(undefined)}>
          <p className="text-ink2">Its reports stay. It can be brought back for 30 days.</p>
          <div className="mt-4 flex justify-end gap-2">
            <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
            <button type="button" className="btn btn-main" disabled={dropping} onClick={() => drop()}>
              Delete dashboard
            </button>
          </div>
        </Modal>
      )}
    </>
  );
}

/** Another name for a dashboard. What is being read of it, and how it is arranged, stays as it is. */
function Rename({ board, onClose }: { board: Board; onClose: () => void }) {
  const client = useQueryClient();
  const form = useForm({ defaultValues: { title: board.title } });
  const { folder, version, panels, filters } = board;
  const { submit, busy } = useSend(
    form,
    ({ title }) =>
      ask(
        api.PUT("/api/boards/{id}", {
          params: { path: { id: board.id } },
          body: { title, folder, version, panels, filters },
        }),
      ),
    (b) => {
      client.setQueryData(["board", b.id], b);
      anew(client, "boards", "find");
      toast("Renamed");
      onClose();
    },
  );
  return (
    <Modal title="Rename the dashboard" width={420} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="title" label="Name" maxLength={200} />
        <FormEnd form={form} off={busy || !form.watch("title").trim()} action="Rename" />
      </form>
    </Modal>
  );
}
