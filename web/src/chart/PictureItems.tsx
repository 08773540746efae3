import { MenuItem, MenuLabel } from "../ui/Menu";
import type { PictureKind } from "./picture";

/** The kinds of pictures, with their words. */
export const pictureKinds: [PictureKind, string][] = [
  ["png", "PNG"],
  ["jpeg", "JPEG"],
  ["svg", "SVG, the drawing alone"],
];

/** The pictures that a menu offers. */
export function PictureItems({
  label,
  only,
  onPicture,
  onPages,
}: {
  label: string;
  only?: PictureKind[];
  onPicture: (as: PictureKind) => void;
  /** Takes it out on pages, whose texts can be searched. */
  onPages: () => void;
}) {
  return (
    <>
      <MenuLabel>{label}</MenuLabel>
      {pictureKinds
        .filter(([k]) => !only || only.includes(k))
        .map(([k, words]) => (
          <MenuItem key={k} label={words} onPick={() => onPicture(k)} />
        ))}
      <MenuItem label="PDF" onPick={onPages} />
    </>
  );
}
