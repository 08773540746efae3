import { Tooltip } from "radix-ui";

/** One line of help on hover and on focus. */
export function Hint({ text, children }: { text: string; children: React.ReactElement }) {
  return (
    <Tooltip.Provider delayDuration={350} skipDelayDuration={150}>
      <Tooltip.Root>
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
