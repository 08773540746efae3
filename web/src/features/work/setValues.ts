import { api, ask, type TypeInfo } from "../../api/client";
import { type Changed, changesOf } from "./changes";

/** Sets fields of a record as it is now, and gives all that changed with them; refused where it is another meanwhile. */
export async function setValues(type: TypeInfo, id: number, values: Record<string, string>): Promise<Changed[]> {
  const at = { path: { type: type.key, id } };
  const before = await ask(api.GET("/api/records/{type}/{id}/values", { params: at }));
  const after = await ask(
    api.PATCH("/api/records/{type}/{id}", {
      params: { ...at, header: { "If-Match": `"${before.version}"` } },
      body: { values },
    }),
  );
  return changesOf(type, id, before.values, after.values);
}
