import { useQueryClient } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { anew } from "../api/keys";
import { useDo } from "./useDo";

/** Marks a report, dashboard or folder as a favourite, or no longer. */
export function useFavourite() {
  const client = useQueryClient();
  const [star] = useDo(
    ({ kind, id, favourite }: { kind: "report" | "board" | "folder"; id: number; favourite: boolean }) => {
      const at = { params: { path: { kind, id } } };
      return ask(
        favourite ? api.DELETE("/api/favourites/{kind}/{id}", at) : api.PUT("/api/favourites/{kind}/{id}", at),
      );
    },
    () => anew(client, "find"),
  );
  return star;
}
