import { Dialog } from "radix-ui";

/** A question or a form over what one was looking at; Escape and a press beside it leave it. */
export function Modal({
  title,
  width = 460,
  onClose,
  children,
}: {
  title: React.ReactNode;
  width?: number;
  onClose: () => void;
  children: React.ReactNode;
}) {
  return (
    <Dialog.Root open onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          className="pop fixed top-[8vh] left-1/2 max-h-[86vh] max-w-[94vw] -translate-x-1/2 overflow-auto p-5"
          style={{ width }}
          aria-describedby={undefined}
        >
          <Dialog.Title className="title mb-3 text-xl">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
