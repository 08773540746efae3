import { useQuery } from "@tanstack/react-query";
import { api, ask, type TypeInfo } from "../../api/client";
import { FieldDialog } from "../shape/FieldDialog";

/** What kind of values some cells look like, which one says otherwise in the dialog. */
const kindOf = (cells: string[]) => {
  const some = cells.filter((c) => c.trim());
  const all = (is: RegExp) => some.length > 0 && some.every((c) => is.test(c.trim()));
  if (all(/^(\d{4}-\d\d?-\d\d?|\d\d?[./]\d\d?[./]\d{2,4})$/)) return "date" as const;
  if (all(/^(true|false|yes|no)$/i)) return "yesno" as const;
  if (all(/[€$£%]/)) return all(/%/) ? ("percent" as const) : ("money" as const);
  return all(/^-?[\d.,' ]+$/) ? ("number" as const) : ("text" as const);
};

/** Makes a field of a column. */
export function NewField({
  type,
  label,
  cells,
  onClose,
  onDone,
}: {
  type: TypeInfo;
  label: string;
  cells: string[];
  onClose: () => void;
  onDone: (key: string) => void;
}) {
  const shape = useQuery({
    queryKey: ["shape", type.key],
    staleTime: 0,
    gcTime: 0,
    queryFn: () => ask(api.GET("/api/shape/{type}", { params: { path: { type: type.key } } })),
  });
  if (!shape.data || shape.isFetching) return null;
  const kind = kindOf(cells);
  return (
    <FieldDialog
      type={type.key}
      begun={{ label, kind, choices: [...new Set(cells.filter(Boolean))].join("\n") }}
      version={shape.data.version}
      onClose={onClose}
      onDone={(key) => key && onDone(key)}
    />
  );
}
