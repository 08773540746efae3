import { Dialog } from "radix-ui";

/** A sheet from the right, over what one was looking at. */
export function Drawer({
  open,
  onClose,
  title,
  note,
  beside,
  narrow,
  children,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  note?: string;
  /** It leaves what it was opened from to be pressed, and stays when that is. */
  beside?: boolean;
  /** It is for reading, and leaves room for what it is beside. */
  narrow?: boolean;
  children: React.ReactNode;
}) {
  return (
    <Dialog.Root open={open} modal={!beside} onOpenChange={(is) => !is && onClose()}>
      <Dialog.Portal>
        {!beside && <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />}
        <Dialog.Content
          className={`fixed inset-y-0 right-0 z-30 flex ${narrow ? "w-[440px]" : beside ? "w-[640px]" : "w-[860px]"} max-w-full flex-col overflow-auto border-line2 border-l bg-paper p-5`}
          data-guide={narrow}
          onInteractOutside={(e) => beside && e.preventDefault()}
          // The sheet itself has the focus, not its first button: the key that opened it must not press that.
          onOpenAutoFocus={(e) => {
            e.preventDefault();
            (e.currentTarget as HTMLElement).focus();
          }}
          onEscapeKeyDown={(e) => document.activeElement?.closest("[data-escape]") && e.preventDefault()}
          aria-describedby={undefined}
        >
          <div className="flex items-start gap-3">
            <Dialog.Title className="title mr-auto text-xl">{title}</Dialog.Title>
            <Dialog.Close className="btn">Close</Dialog.Close>
          </div>
          {note && <p className="mt-1 mb-3 max-w-[72ch] text-ink2">{note}</p>}
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
