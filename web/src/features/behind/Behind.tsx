import { Dialog } from "radix-ui";
import type { Brief, Mark } from "../../api/client";
import { RecordTable } from "../compose/RecordTable";

/** The records behind a mark, with the conditions spelled out. */
export function Behind({
  brief,
  sentence,
  picked,
  onClose,
}: {
  brief: Brief;
  sentence: string;
  picked?: { mark: Mark; words: string };
  onClose: () => void;
}) {
  return (
    <Dialog.Root open={!!picked} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          className="fixed inset-y-0 right-0 z-30 flex w-[860px] max-w-full flex-col border-line2 border-l bg-paper p-5"
          aria-describedby="behind-what"
        >
          <div className="flex items-start gap-3">
            <Dialog.Title className="title mr-auto text-xl">Behind {picked?.words}</Dialog.Title>
            <Dialog.Close className="btn">Close</Dialog.Close>
          </div>
          <p id="behind-what" className="mt-1 mb-3 max-w-[72ch] text-ink2">
            {sentence}
          </p>
          {picked && <RecordTable brief={brief} marks={[picked.mark]} height="calc(100vh - 190px)" />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
