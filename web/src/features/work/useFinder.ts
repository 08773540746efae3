import { type ChangeEvent, type KeyboardEvent, useId, useState } from "react";
import type { Schemas } from "../../api/client";
import { useRecordsNamed } from "../../api/hooks";
import { isHeard, useOnceKnown } from "../../ui/useOnceKnown";

type Found = Schemas["NamedRecord"];

/** What can be done about finding a record by its name: FoundRecords shows it. */
export type Finder = ReturnType<typeof useFinder>;

/**
 * Finds a record by its name, by keys: arrows go through what was found, Enter picks. Enter means what is found for the
 * words that stand there: where that is not known yet, it waits for it, and another letter takes it back.
 */
export function useFinder({
  types,
  most = 8,
  but,
  nothing,
  onPick,
}: {
  types: string[];
  /** How many are shown. */
  most?: number;
  /** The number of one that is not offered. */
  but?: string;
  /** Whether nothing can be picked, too. */
  nothing?: boolean;
  onPick: (r: Pick<Found, "type" | "id" | "name">) => void;
}) {
  const id = useId();
  const [search, setSearch] = useState("");
  // The one that the arrows went to, by type and number: it stays it when others are found.
  const [gone, setGone] = useState<string>();
  const words = search.trim();
  const found = useRecordsNamed(types, search);
  const records = words ? (found.data ?? []).filter((r) => r.id !== but).slice(0, most) : [];
  const list = nothing ? [{ type: "", id: "", name: "nothing" }, ...records] : records;
  const keyOf = (r: Pick<Found, "type" | "id">) => `${r.type} ${r.id}`;
  const first = words ? list[nothing ? 1 : 0] : undefined;
  const chosen = list.find((r) => keyOf(r) === gone) ?? first;
  const at = chosen ? list.indexOf(chosen) : -1;
  const settled = !words || isHeard(found);
  const enter = useOnceKnown(settled, () => first && onPick(first));
  const pick = (r: Pick<Found, "type" | "id" | "name">) => {
    enter.drop();
    onPick(r);
  };
  const type = (text: string) => {
    setSearch(text);
    setGone(undefined);
    enter.drop();
  };
  /** Acts on a key, and says whether it did. */
  const key = (e: KeyboardEvent): boolean => {
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      const to = list[Math.max(0, Math.min(list.length - 1, at + (e.key === "ArrowDown" ? 1 : -1)))];
      if (to) setGone(keyOf(to));
    } else if (e.key === "Enter" && (words || at >= 0)) {
      if (chosen && (settled || keyOf(chosen) === gone)) pick(chosen);
      else enter.ask();
    } else return false;
    e.preventDefault();
    e.stopPropagation();
    return true;
  };
  return {
    id,
    list,
    at,
    /** Nothing has these words. */
    none: words !== "" && settled && !found.isError && records.length === 0,
    error: words ? found.error : null,
    search,
    /** Enter was pressed, and what is found is not known yet. */
    waits: enter.waits,
    pick,
    type,
    key,
    /** What its field has. */
    field: {
      role: "combobox",
      "aria-expanded": list.length > 0,
      "aria-controls": id,
      "aria-activedescendant": at < 0 ? undefined : `${id}-${at}`,
      autoComplete: "off",
      value: search,
      onChange: (e: ChangeEvent<HTMLInputElement>) => type(e.target.value),
      onKeyDown: (e: KeyboardEvent) => void key(e),
    } as const,
  };
}
