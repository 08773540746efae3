import type { SchemaInfo, TypeInfo } from "../../api/client";

/** The record type of what people do. */
export const diaryOf = (schema: SchemaInfo): TypeInfo | undefined => schema.types.find((t) => t.diary);

/** Whether what people do can be about records of a type: it is linked to them. */
export function isLogged(schema: SchemaInfo, type: TypeInfo): boolean {
  const diary = diaryOf(schema);
  return !!diary && diary !== type && diary.fields.some((f) => f.to === type.key && f.key !== diary.owner);
}
