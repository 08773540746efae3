import { useState } from "react";
import type { Brief, Report, Tree } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { ConditionEditor } from "../../brief/ConditionEditor";
import { fieldAt } from "../../fields/fields";
import { useSeen } from "../../fields/useSeen";

/** Puts the conditions that a report asks its reader for, with their suggestions, before the report opens. */
export function AskedFirst({ report, onAnswer }: { report: Report; onAnswer: (b: Brief) => void }) {
  const schema = useSchema();
  const [brief, setBrief] = useState(report.brief);
  const seen = useSeen(schema, brief);
  if (!schema || !seen) return null;
  const start = brief.start as string;
  const asked: { path: (string | number)[]; tree: Tree }[] = [];
  const walk = (t: Tree | undefined, path: (string | number)[]) => {
    if (!t) return;
    if (t.ask) asked.push({ path, tree: t });
    t.all?.forEach((k, i) => {
      walk(k, [...path, "all", i]);
    });
    t.any?.forEach((k, i) => {
      walk(k, [...path, "any", i]);
    });
    walk(t.not, [...path, "not"]);
  };
  walk(brief.filter, ["filter"]);
  const put = (path: (string | number)[], t: Tree) => {
    const next = structuredClone(brief) as unknown as Record<string, unknown>;
    let at = next as Record<string | number, unknown>;
    for (const key of path.slice(0, -1)) at = at[key] as Record<string | number, unknown>;
    at[path[path.length - 1]] = t;
    setBrief(next as unknown as Brief);
  };
  return (
    <form
      className="sheet mx-auto mt-8 max-w-[520px] p-6"
      onSubmit={(e) => {
        e.preventDefault();
        onAnswer(brief);
      }}
    >
      <h1 className="title text-xl">{report.title}</h1>
      <p className="mt-1 text-ink2">{report.description || "This report asks before it opens."}</p>
      {asked.map(({ path, tree }) => (
        <fieldset key={path.join("/")} className="mt-4">
          <legend className="mb-1 font-semibold">{fieldAt(seen, start, tree.field ?? "")?.label}</legend>
          <ConditionEditor
            asked
            schema={seen}
            start={start}
            value={tree}
            onChange={(t) => put(path, { ...t, ask: true })}
          />
        </fieldset>
      ))}
      <div className="mt-6 flex justify-end">
        <button type="submit" className="btn btn-main">
          Open the report
        </button>
      </div>
    </form>
  );
}
