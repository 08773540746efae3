import { type HelpPage, helpPages, openHelp } from "./help";

/** The “?” beside something, which opens its page of the guide. */
export function HelpButton({ page, className = "" }: { page: HelpPage; className?: string }) {
  return (
    <button
      type="button"
      className={`inline-flex size-6 shrink-0 items-center justify-center rounded-full border border-line2 text-[13px] text-ink2 leading-none hover:border-ink2 hover:text-ink ${className}`}
      aria-label={`Help: ${helpPages[page]}`}
      title={helpPages[page]}
      onClick={() => openHelp(page)}
    >
      ?
    </button>
  );
}
