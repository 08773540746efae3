import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief, type Report } from "../../api/client";
import { useBoards, useFolders, useMe, useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import { TextEditor } from "../../brief/TextEditor";
import { TypedSentence } from "../../brief/TypedSentence";
import { copyText } from "../../ui/copyText";
import { Drawer } from "../../ui/Drawer";
import { downloadJSON, fileName } from "../../ui/download";
import { later } from "../../ui/later";
import { Menu, MenuItem } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { useDo } from "../../ui/useDo";
import { useFavourite } from "../../ui/useFavourite";
import { useFollow } from "../../ui/useFollow";
import { VersionList } from "../../ui/VersionList";
import { KeepResult } from "../kept/KeepResult";
import { KeptList } from "../kept/KeptList";

const PrintView = later(() => import("./PrintView").then((m) => m.PrintView));
const SendDialog = later(() => import("../sends/SendDialog").then((m) => m.SendDialog));
const ShareDialog = later(() => import("../sharing/ShareDialog").then((m) => m.ShareDialog));

type What =
  | "share"
  | "print"
  | "typed"
  | "versions"
  | "move"
  | "give"
  | "delete"
  | "uses"
  | "text"
  | "keep"
  | "kept"
  | "send";

/** What else can be done with a report. */
export function ReportMenu({
  report,
  brief,
  sentence,
  onChange,
  onName,
  onAnother,
  onTry,
  onThrow,
}: {
  report?: Report;
  brief: Brief;
  sentence: string;
  /** Changes what the report is called and how it is kept. */
  onName: () => void;
  /** Keeps it as another report. */
  onAnother: () => void;
  /** Throws the draft away, where there is one. */
  onThrow?: () => void;
  /** Tries it under a dashboard's filters. */
  onTry: () => void;
  onChange: (b: Brief) => void;
}) {
  const me = useMe().data;
  const [open, setOpen] = useState<What>();
  const star = useFavourite();
  // Whether it is a favourite is asked for when the menu opens, not on every page.
  const [menu, setMenu] = useState(false);
  const favourites = useQuery({
    queryKey: ["find", { favourite: true }],
    queryFn: () => ask(api.GET("/api/find", { params: { query: { favourite: true } } })),
    enabled: !!report && menu,
  });
  const follow = useFollow("reports", report?.id, menu);
  if (!me) return null;
  const starred = favourites.data?.items.some((i) => i.kind === "report" && i.id === report?.id);
  const { reading: _, ...bare } = brief; // no member of the format
  const file = () => downloadJSON(bare, `${fileName(report?.title ?? "report")}.brief.json`);
  return (
    <>
      <Menu label="More to do with the report" className="btn" text="More…" open={menu} onOpen={setMenu} width={256}>
        {report && (
          <MenuItem
            label={starred ? "No longer a favourite" : "Mark as a favourite"}
            onPick={() => star({ kind: "report", id: report.id, favourite: !!starred })}
          />
        )}
        {report && <MenuItem label={follow.on ? "Follow no longer" : "Follow"} onPick={follow.turn} />}
        {me.mayKeep && report && (
          <MenuItem label={me.mayCompose ? "Save as another" : "Save as my own"} onPick={onAnother} />
        )}
        {onThrow && <MenuItem label="Throw the draft away" onPick={onThrow} />}
        <MenuItem
          label="Copy a link to this reading"
          onPick={() => {
            copyText(location.href);
          }}
        />
        {report && <MenuItem label="Send…" onPick={() => setOpen("send")} />}
        <MenuItem label="Keep this result…" onPick={() => setOpen("keep")} />
        {report && <MenuItem label="Results kept" onPick={() => setOpen("kept")} />}
        <MenuItem label="Print…" onPick={() => setOpen("print")} />
        <MenuItem label="Report as a file" onPick={file} />
        {me.mayCompose && <MenuItem label="Edit as text" onPick={() => setOpen("typed")} />}
        <MenuItem label="Try as on a dashboard" onPick={onTry} />
        {report && <MenuItem label="Where it stands" onPick={() => setOpen("uses")} />}
        {report && <MenuItem label="Earlier versions" onPick={() => setOpen("versions")} />}
        {report?.mayShare && <MenuItem label="Share…" onPick={() => setOpen("share")} />}
        {report?.mayChange && <MenuItem label="Name and details" onPick={onName} />}
        {report?.mayChange && <MenuItem label="Move to another folder" onPick={() => setOpen("move")} />}
        {report && (report.ownerId === me.id || me.role === "administrator") && (
          <MenuItem label="Give to someone else" onPick={() => setOpen("give")} />
        )}
        {report?.mayChange && <MenuItem label="Delete" onPick={() => setOpen("delete")} />}
      </Menu>
      <Drawer open={open === "typed"} onClose={() => setOpen(undefined)} title="The report as text">
        <div className="mt-3">
          <TypedSentence
            first={sentence}
            onRead={(b) => {
              onChange(b);
              setOpen(undefined);
            }}
          />
          <button type="button" className="link text-[13px]" onClick={() => setOpen("text")}>
            As a file has it, for what a sentence does not say
          </button>
        </div>
      </Drawer>
      <Drawer open={open === "text"} onClose={() => setOpen(undefined)} title="The report as a file has it">
        <TextEditor
          brief={bare}
          onChange={(b) => {
            onChange(b);
            setOpen(undefined);
          }}
        />
      </Drawer>
      {report && open === "send" && (
        <SendDialog
          kind="report"
          item={report.id}
          title={report.title}
          brief={report.brief}
          onClose={() => setOpen(undefined)}
        />
      )}
      {open === "keep" && (
        <KeepResult brief={brief} report={report?.id} title={report?.title ?? ""} onClose={() => setOpen(undefined)} />
      )}
      {report && (
        <Drawer open={open === "kept"} onClose={() => setOpen(undefined)} title={`Results kept of “${report.title}”`}>
          <div className="mt-3">
            <KeptList report={report.id} onOpen={() => setOpen(undefined)} />
          </div>
        </Drawer>
      )}
      {open === "print" && <PrintView brief={brief} title={report?.title ?? ""} onClose={() => setOpen(undefined)} />}
      {report && open === "share" && (
        <ShareDialog kind="report" id={report.id} title={report.title} onClose={() => setOpen(undefined)} />
      )}
      {report && open === "versions" && <Versions report={report} onClose={() => setOpen(undefined)} />}
      {report && open && ["move", "give", "delete", "uses"].includes(open) && (
        <Ask what={open} report={report} onClose={() => setOpen(undefined)} />
      )}
    </>
  );
}

/** What a report was: who changed what and when; any of it can be seen and brought back. */
function Versions({ report, onClose }: { report: Report; onClose: () => void }) {
  const client = useQueryClient();
  const go = useNavigate();
  const list = useQuery({
    queryKey: ["versions", report.id, report.version],
    queryFn: () => ask(api.GET("/api/reports/{id}/versions", { params: { path: { id: report.id } } })),
  });
  const [bring] = useDo(
    (version: number) =>
      ask(api.POST("/api/reports/{id}/versions/{version}/back", { params: { path: { id: report.id, version } } })),
    (r) => {
      client.setQueryData(["report", r.id], r);
      toast("Brought back");
      onClose();
      go(`/reports/${r.id}`);
    },
  );
  return (
    <VersionList
      title={`Earlier versions of “${report.title}”`}
      list={list.data ?? []}
      now={report.version}
      mayBring={report.mayChange}
      onSee={(v) => go(`/reports/${report.id}?reading=${encodeURIComponent(JSON.stringify(v.brief))}`)}
      onBring={(v) => bring(v.version)}
      onClose={onClose}
    />
  );
}

/** A question about the report, asked over it. */
function Ask({ what, report, onClose }: { what: What; report: Report; onClose: () => void }) {
  const client = useQueryClient();
  const go = useNavigate();
  const me = useMe().data;
  const folders = useFolders().data ?? [];
  const [folder, setFolder] = useState(report.folder);
  const [owner, setOwner] = useState<string[]>([]);
  const uses = useQuery({
    queryKey: ["uses", report.id],
    queryFn: () => ask(api.GET("/api/reports/{id}/uses", { params: { path: { id: report.id } } })),
  });
  const titles = {
    share: "",
    print: "",
    typed: "",
    versions: "",
    text: "",
    keep: "",
    send: "",
    kept: "",
    uses: "Where it stands",
    move: "Move to another folder",
    give: "Give to someone else",
    delete: `Delete “${report.title}”?`,
  };
  const done = (r?: Report) => {
    if (r) client.setQueryData(["report", r.id], r);
    anew(client, "find");
    anew(client, "reports");
    onClose();
  };
  const path = { params: { path: { id: report.id } } };
  const [act, busy] = useDo<void, Report | undefined>(
    () => {
      if (what === "move") return ask(api.PUT("/api/reports/{id}/folder", { ...path, body: { folder } }));
      if (what === "give")
        return ask(api.PUT("/api/reports/{id}/owner", { ...path, body: { owner: Number(owner[0]) } }));
      return ask(api.DELETE("/api/reports/{id}", path)).then(() => undefined);
    },
    (r) => {
      done(r);
      if (r) return;
      toast("Deleted. It can be brought back for 30 days.");
      go("/find");
    },
  );
  const people = useSubjects().filter((s) => s.kind === "person");
  const boards = useBoards().data ?? [];
  const [takeOff] = useDo(
    (board: number) =>
      ask(api.DELETE("/api/boards/{id}/reports/{report}", { params: { path: { id: board, report: report.id } } })),
    (b) => {
      client.setQueryData(["board", b.id], b);
      anew(client, "boards", "uses");
      toast(`Taken off “${b.title}”`);
    },
  );
  const stands = uses.data && (uses.data.uses.length > 0 || uses.data.hidden > 0);
  return (
    <Modal title={titles[what]} width={460} onClose={onClose}>
      {(what === "uses" || what === "delete") && (
        <div className="mb-3">
          {stands ? (
            <>
              <p>{what === "delete" ? "It stands on these, which will show it as missing:" : "It stands on:"}</p>
              <ul className="mt-1 list-disc pl-5">
                {uses.data?.uses.map((u) => (
                  <li key={u.title}>
                    {u.pages ? (
                      `the pages of ${u.title.toLowerCase()}`
                    ) : (
                      <Link className="link" to={`/dashboards/${u.board}`}>
                        {u.title}
                      </Link>
                    )}
                    {what === "uses" && boards.some((b) => b.id === u.board && b.mayChange) && (
                      <button
                        type="button"
                        className="link ml-3 text-[13px]"
                        aria-label={`Remove it from ${u.title}`}
                        onClick={() => takeOff(u.board)}
                      >
                        Remove it
                      </button>
                    )}
                  </li>
                ))}
                {(uses.data?.hidden ?? 0) > 0 && <li>{uses.data?.hidden} more that you may not open</li>}
              </ul>
            </>
          ) : (
            <p className="text-ink2">It stands on no dashboard and no record page.</p>
          )}
          {what === "delete" && <p className="mt-2 text-ink2">It can be brought back for 30 days.</p>}
        </div>
      )}
      {what === "move" && (
        <select
          className="input"
          aria-label="Folder"
          value={folder}
          onChange={(e) => setFolder(Number(e.target.value))}
        >
          {folders
            .filter((f) => f.mayChange && (!f.private || report.ownerId === me?.id))
            .map((f) => (
              <option key={f.id} value={f.id}>
                {f.name} {f.private ? "(only you)" : ""}
              </option>
            ))}
        </select>
      )}
      {what === "give" && (
        <select
          className="input"
          aria-label="To whom"
          value={owner[0] ?? ""}
          onChange={(e) => setOwner([e.target.value])}
        >
          <option value="" disabled>
            Choose someone who can sign in …
          </option>
          {people
            .filter((p) => p.id !== report.ownerId)
            .map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
        </select>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Dialog.Close className="btn btn-quiet">{what === "uses" ? "Close" : "Not now"}</Dialog.Close>
        {what !== "uses" && (
          <button
            type="button"
            className="btn btn-main"
            disabled={busy || (what === "give" && owner.length === 0)}
            onClick={() => act()}
          >
            {what === "move" ? "Move" : what === "give" ? "Give" : "Delete report"}
          </button>
        )}
      </div>
    </Modal>
  );
}
