import { useQuery } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type TypeInfo } from "../../api/client";
import { may, useMe } from "../../api/hooks";
import { useDo } from "../../ui/useDo";

/** The values of a file that are none of the choices, which an administrator makes choices. */
export function Unknown({
  unknown,
  type,
  onDone,
}: {
  unknown: Record<string, string[]>;
  type: TypeInfo;
  onDone: () => void;
}) {
  const shapes = may(useMe().data, "shape");
  const some = Object.entries(unknown);
  const shape = useQuery({
    queryKey: ["shape", type.key],
    enabled: shapes && some.length > 0,
    queryFn: () => ask(api.GET("/api/shape/{type}", { params: { path: { type: type.key } } })),
  });
  const [add] = useDo(
    async (field: string) => {
      // Anew: another field may have been given choices since.
      const now = (await shape.refetch()).data;
      const was = now?.fields.find((f) => f.key === field)?.choices ?? [];
      const choices = [
        ...was.map(({ name, was, colour }) => ({ name, was, colour })),
        ...unknown[field].map((name) => ({ name, was: "" })),
      ];
      const path = { type: type.key, field };
      return ask(
        api.PUT("/api/shape/{type}/choices/{field}", {
          params: { path },
          body: { version: now?.version, choices: choices },
        }),
      );
    },
    () => {
      toast("They are choices now.");
      onDone();
    },
  );
  return (
    <>
      {some.map(([key, values]) => (
        <p key={key} className="mt-3 rounded bg-amber-soft px-3 py-2 text-[13px]">
          No choices of {type.fields.find((f) => f.key === key)?.label.toLowerCase()}: {values.slice(0, 8).join(", ")}
          {values.length > 8 && ` and ${values.length - 8} more`}.{" "}
          {shapes ? (
            <button type="button" className="link" onClick={() => add(key)}>
              Make {values.length === 1 ? "it a choice" : "them choices"}
            </button>
          ) : (
            "An administrator can make them choices."
          )}
        </p>
      ))}
    </>
  );
}
