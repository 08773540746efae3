import type { SchemaInfo, TypeInfo } from "../../api/client";

/** The record type of what people do. */
export const diaryOf = (schema: SchemaInfo): TypeInfo | undefined => schema.types.find((t) => t.diary);
