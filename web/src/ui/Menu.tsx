import { DropdownMenu } from "radix-ui";

/** Where what opens stands in the document: inside the content, so that it is part of a landmark. */
export const within = () => document.getElementById("content") ?? undefined;

/**
 * A button that opens a list of things to do. It leaves the rest of the screen readable, closes on Escape, on a press
 * elsewhere and on a choice, fits any window, and hands the focus back to its button.
 */
export function Menu({
  label,
  className = "btn",
  text = "…",
  width = 220,
  align = "end",
  open,
  onOpen,
  children,
}: {
  /** What it offers things to do with, for those who do not see where it stands. */
  label: string;
  className?: string;
  text?: React.ReactNode;
  width?: number;
  align?: "start" | "end";
  open?: boolean;
  onOpen?: (open: boolean) => void;
  children: React.ReactNode;
}) {
  return (
    <DropdownMenu.Root modal={false} open={open} onOpenChange={onOpen}>
      <DropdownMenu.Trigger className={className} aria-label={label}>
        {text}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={within()}>
        <DropdownMenu.Content
          className="pop max-h-[var(--radix-dropdown-menu-content-available-height)] max-w-[calc(100vw-24px)] overflow-auto p-1.5"
          style={{ width }}
          align={align}
          sideOffset={5}
          collisionPadding={12}
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** One thing that a menu offers. */
export function MenuItem({ label, onPick }: { label: string; onPick: () => void }) {
  return (
    <DropdownMenu.Item className="pick data-[highlighted]:bg-amber-soft" onSelect={onPick}>
      {label}
    </DropdownMenu.Item>
  );
}

/** What some of the things that a menu offers have in common. */
export const MenuLabel = ({ children }: { children: React.ReactNode }) => (
  <DropdownMenu.Label className="px-2 pt-2 text-ink2 text-xs">{children}</DropdownMenu.Label>
);

/** A menu inside a menu. */
export function SubMenu({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <DropdownMenu.Sub>
      <DropdownMenu.SubTrigger className="pick data-[highlighted]:bg-amber-soft">{label}</DropdownMenu.SubTrigger>
      <DropdownMenu.Portal container={within()}>
        <DropdownMenu.SubContent
          className="pop max-h-[60vh] w-64 max-w-[calc(100vw-24px)] overflow-auto p-1.5"
          collisionPadding={12}
        >
          {children}
        </DropdownMenu.SubContent>
      </DropdownMenu.Portal>
    </DropdownMenu.Sub>
  );
}

/** A line between the things that a menu offers. */
export const MenuLine = () => <DropdownMenu.Separator className="my-1 border-line border-t" />;

/** One of several things of which one holds. */
export function MenuTick({ on, onPick, children }: { on: boolean; onPick: () => void; children: React.ReactNode }) {
  return (
    <DropdownMenu.CheckboxItem className="pick data-[highlighted]:bg-amber-soft" checked={on} onSelect={onPick}>
      {children}
    </DropdownMenu.CheckboxItem>
  );
}
