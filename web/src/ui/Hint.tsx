import { Tooltip } from "radix-ui";
import { useState } from "react";

/**
 * One line of help on hover and on focus. It is off while something is open over what it helps with: it would be the
 * one that Escape closes, and what is open would stay.
 */
export function Hint({ text, off, children }: { text: string; off: boolean; children: React.ReactElement }) {
  const [open, setOpen] = useState(false);
  return (
    <Tooltip.Provider delayDuration={350} skipDelayDuration={150}>
      <Tooltip.Root open={open && !off} onOpenChange={setOpen}>
        <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content className="hint" side="bottom" sideOffset={6} collisionPadding={12}>
            {text}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  );
}
