import { MenuItem, MenuLabel } from "../ui/Menu";
import type { PictureKind } from "./picture";

/** The kinds of pictures, with their words. */
export const pictureKinds: [PictureKind, string][] = [
  ["png", "PNG"],
  ["jpeg", "JPEG"],
  ["svg", "SVG, the drawing alone"],
  ["pdf", "PDF"],
];

/** The pictures that a menu offers. */
export function PictureItems({
  label,
  only,
  onPicture,
}: {
  label: string;
  only?: PictureKind[];
  onPicture: (as: PictureKind) => void;
}) {
  return (
    <>
      <MenuLabel>{label}</MenuLabel>
      {pictureKinds
        .filter(([k]) => !only || only.includes(k))
        .map(([k, words]) => (
          <MenuItem key={k} label={words} onPick={() => onPicture(k)} />
        ))}
    </>
  );
}
