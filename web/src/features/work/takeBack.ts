import { api, ask, type Schemas } from "../../api/client";

/** How many changes are sent at a time. */
const some = 5000;

/** Makes fields what they were before a change, where nobody has changed them since; says what was left. */
export async function takeBack(type: string, changed: Schemas["ChangedBody"][]): Promise<string | undefined> {
  let left = 0;
  for (let i = 0; i < changed.length; i += some) {
    const done = await ask(
      api.POST("/api/records/{type}/many/back", {
        params: { path: { type } },
        body: { changed: changed.slice(i, i + some) },
      }),
    );
    left += done.left;
  }
  return left ? `${left} were changed by others since, and stay` : undefined;
}
