import type { FieldInfo, TypeInfo } from "../../api/client";

/** The days in the history of stages that a column can be: since when a record is in its stage, and when it came to each. */
export function pastOf(type: TypeInfo): FieldInfo[] {
  const staged = type.fields.find((f) => f.stages && f.written);
  if (!staged) return [];
  const since = type.fields.filter((f) => f.worked?.as === "since" && f.worked.of?.[0] === staged.key);
  const came = (staged.choices ?? []).map((stage) => ({
    ...staged,
    key: `${staged.key}=${stage}`,
    label: `came to ${stage}`,
    kind: "date" as const,
  }));
  return [...since, ...came];
}
