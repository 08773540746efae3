import { Behind } from "../behind/Behind";
import type { Picked } from "./PanelCard";

/** The records behind marks of a panel, in the columns that its report gives them. */
export function PanelBehind({
  picked,
  onNarrow,
  onClose,
}: {
  picked?: Picked;
  onNarrow?: () => void;
  onClose: () => void;
}) {
  if (!picked) return null;
  return (
    <Behind
      brief={picked.brief}
      report={picked.report}
      shown={picked.report?.shown}
      fixed={picked.report?.shownFixed && !picked.report.mayChange}
      sentence={picked.sentence}
      picked={picked}
      onNarrow={onNarrow}
      onClose={onClose}
    />
  );
}
