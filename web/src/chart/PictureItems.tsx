import { DropdownMenu } from "radix-ui";
import { MenuItem } from "../ui/MenuItem";
import type { PictureKind } from "./picture";

/** The kinds of pictures, with their words. */
export const pictureKinds: [PictureKind, string][] = [
  ["png", "PNG"],
  ["jpeg", "JPEG"],
  ["svg", "SVG, the drawing alone"],
  ["pdf", "PDF"],
];

/** The pictures that a menu offers. */
export function PictureItems({ label, only, onPicture }: { label: string; only?: PictureKind[]; onPicture: (as: PictureKind) => void }) {
  return (
    <>
      <DropdownMenu.Label className="px-2 pt-2 text-ink3 text-xs">{label}</DropdownMenu.Label>
      {pictureKinds
        .filter(([k]) => !only || only.includes(k))
        .map(([k, words]) => (
          <MenuItem key={k} label={words} onPick={() => onPicture(k)} />
        ))}
    </>
  );
}
