import { DropdownMenu } from "radix-ui";

/** One thing that a menu offers. */
export function MenuItem({ label, onPick }: { label: string; onPick: () => void }) {
  return (
    <DropdownMenu.Item className="pick data-[highlighted]:bg-amber-soft" onSelect={onPick}>
      {label}
    </DropdownMenu.Item>
  );
}
