import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, ask, type Brief, type SchemaInfo, type TypeInfo } from "../api/client";

const none: TypeInfo[] = [];

/**
 * The record types as a report sees them: its own fields and what it brings are beside the fields of its records. The
 * server says which those are; until it has, they are seen as they were before.
 */
export function useSeen<S extends SchemaInfo | undefined>(schema: S, { version, start, own, bring }: Brief): S {
  const plain = !own?.length && !bring;
  const seen = useQuery({
    queryKey: ["seen", start, own, bring],
    enabled: !plain,
    queryFn: () => ask(api.POST("/api/seen", { body: { brief: { version, start, own, bring } } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });
  const types = (plain ? undefined : seen.data) ?? none;
  return useMemo(() => schema && (merged(schema, types) as S), [schema, types]);
}

/** A schema with some record types in place of those of the same key, and others beside them. */
function merged(schema: SchemaInfo, types: TypeInfo[]): SchemaInfo {
  if (!types.length) return schema;
  const kept = schema.types.map((t) => types.find((x) => x.key === t.key) ?? t);
  return { ...schema, types: [...kept, ...types.filter((t) => !schema.types.some((x) => x.key === t.key))] };
}
