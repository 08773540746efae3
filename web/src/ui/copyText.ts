import { toast } from "sonner";

/** Copies a link; where the browser lets nothing into the clipboard, it is shown to be copied by hand. */
export function copyText(text: string) {
  const byHand = () =>
    toast("The browser does not let it be copied. Here it is:", { description: text, duration: 60_000 });
  if (!navigator.clipboard) return byHand();
  navigator.clipboard.writeText(text).then(() => toast("Link copied"), byHand);
}
