import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type FieldInfo, type Schemas, type TypeInfo } from "../../api/client";
import { may, useMe } from "../../api/hooks";
import { anew, recordsAnew } from "../../api/keys";
import { count } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { formsOf } from "./forms";
import { NewField } from "./NewField";
import { OutcomeSaid } from "./OutcomeSaid";
import { pastOf } from "./past";
import { UnderWay } from "./UnderWay";
import { Unknown } from "./Unknown";
import { useJob } from "./useJob";

type Plan = Schemas["BringPlan"];

// No field has such a key.
const newField = "+";

/** Says of each column what it is, tries it as one goes, and brings it in. */
export function ColumnsOfFile({
  file,
  type,
  onDone,
}: {
  file: Schemas["FileBody"];
  type: TypeInfo;
  onDone: () => void;
}) {
  const shapes = may(useMe().data, "shape");
  const client = useQueryClient();
  const path = { params: { path: { id: file.id } } };
  const guess = useQuery({
    queryKey: ["bring-in", file.id, type.key],
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => ask(api.POST("/api/bring-in/{id}/guess", { ...path, body: { type: type.key } })),
  });
  const [changed, setChanged] = useState<Plan>();
  const plan = changed ?? guess.data?.plan;
  // The column that a new field is made of.
  const [making, setMaking] = useState<number>();
  const tried = useQuery({
    queryKey: ["bring-in", file.id, "try", plan],
    enabled: plan?.columns.some((c) => c.field !== "") ?? false,
    queryFn: ({ signal }) => ask(api.POST("/api/bring-in/{id}/try", { ...path, body: plan as Plan, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const job = useJob(file.id, (o) => {
    recordsAnew(client);
    anew(client, "brought in", "bring-in");
    toast(`Brought in: ${count(o.new)} new, ${count(o.changed)} changed`);
    onDone();
  });
  if (guess.error) return <Trouble error={guess.error} />;
  if (!plan) return null;
  const fields: FieldInfo[] = [
    ...type.fields.filter((f) => f.kind === "id"),
    ...type.fields.filter((f) => f.written),
    ...type.fields.filter((f) => f.key === "created"),
  ];
  const past = pastOf(type);
  const put = (at: number, to: Partial<Plan["columns"][0]>) => {
    const columns = plan.columns.map((c, i) => (i === at ? { ...c, ...to, unsure: false } : c));
    const key = plan.key && columns.some((c) => c.field === plan.key) ? plan.key : "";
    setChanged({ ...plan, columns, key });
  };
  const used = new Set(plan.columns.map((c) => c.field));
  const keys = fields.filter((f) => used.has(f.key) && (f.kind === "text" || f.kind === "id"));
  const o = tried.data;
  const some = o !== undefined && o.new + o.changed > 0;
  return (
    <div className="grid items-start gap-4 min-[1100px]:grid-cols-[1fr_360px]">
      <div className="sheet relative overflow-x-auto">
        <table className="w-full">
          <thead>
            <tr className="border-ink border-b">
              {["Column", "Its first values", "is", "written as"].map((h) => (
                <th key={h} className="th px-3 py-2 text-left">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {file.header.map((h, i) => {
              // The form that the server recognised, where none was chosen.
              const read = tried.data?.columns[i];
              const c = { ...plan.columns[i] };
              if (!c.form && read?.field === c.field) Object.assign(c, { form: read.form, unsure: read.unsure });
              const field = [...fields, ...past].find((f) => f.key === c.field);
              const forms = field ? formsOf(field.kind) : [];
              return (
                // biome-ignore lint/suspicious/noArrayIndexKey: two columns can be called the same
                <tr key={i} className={`border-line border-b last:border-0 ${field ? "" : "text-ink3"}`}>
                  <th scope="row" className="px-3 py-1.5 text-left font-semibold">
                    {h}
                  </th>
                  <td className="max-w-[220px] truncate px-3" title={file.rows.map((r) => r[i]).join(" · ")}>
                    {file.rows
                      .map((r) => r[i])
                      .filter(Boolean)
                      .slice(0, 3)
                      .join(" · ")}
                  </td>
                  <td className="px-3 py-1">
                    <select
                      className="input !w-44"
                      aria-label={`What “${h}” is`}
                      value={c.field}
                      onChange={(e) => {
                        if (e.target.value === newField) return setMaking(i);
                        put(i, { field: e.target.value, form: "" });
                      }}
                    >
                      <option value="">left out</option>
                      {shapes && <option value={newField}>a new field …</option>}
                      {fields.map((f) => (
                        <option key={f.key} value={f.key} disabled={used.has(f.key) && f.key !== c.field}>
                          {f.label}
                        </option>
                      ))}
                      {past.length > 0 && (
                        <optgroup label="a day in its history">
                          {past.map((f) => (
                            <option key={f.key} value={f.key} disabled={used.has(f.key) && f.key !== c.field}>
                              {f.label}
                            </option>
                          ))}
                        </optgroup>
                      )}
                    </select>
                  </td>
                  <td className="px-3 py-1">
                    {forms.length > 0 && (
                      <select
                        className={`input !w-40 ${c.unsure ? "!border-[var(--amber)]" : ""}`}
                        aria-label={`How “${h}” is written`}
                        aria-describedby={c.unsure ? `unsure-${i}` : undefined}
                        value={c.form}
                        onChange={(e) => put(i, { form: e.target.value as Plan["columns"][0]["form"] })}
                      >
                        {forms.map((f) => (
                          <option key={f.value} value={f.value}>
                            {f.label}
                          </option>
                        ))}
                      </select>
                    )}
                    {c.unsure && (
                      <span id={`unsure-${i}`} className="ml-2 text-[13px]">
                        please check
                      </span>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <div className="sheet p-4">
        <label className="mb-3 block">
          <span className="mb-1 block font-semibold">A line is a record that is there already</span>
          <select
            className="input"
            value={plan.key ?? ""}
            onChange={(e) => setChanged({ ...plan, key: e.target.value })}
          >
            <option value="">never: all lines are new</option>
            {keys.map((f) => (
              <option key={f.key} value={f.key}>
                if it has the same {f.label.toLowerCase()}
              </option>
            ))}
          </select>
        </label>
        <label className="mb-3 flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={plan.make ?? false}
            onChange={(e) => setChanged({ ...plan, make: e.target.checked })}
          />
          Make records that lines name and that are not there
        </label>
        {guess.data?.again && !changed && (
          <p className="mb-3 text-[13px] text-ink2">As the last file with these columns was brought in.</p>
        )}
        <Trouble error={tried.error} />
        {o && (
          <div className={tried.isPlaceholderData ? "stale" : ""} aria-live="polite">
            <OutcomeSaid outcome={o} type={type} fileID={file.id} plan={plan} />
            <Unknown unknown={o.unknown} type={type} onDone={() => anew(client, "bring-in", "schema")} />
          </div>
        )}
        {job.under ? (
          <UnderWay now={job.now} onStop={job.stop} />
        ) : (
          <button
            type="button"
            className="btn btn-main mt-3 w-full justify-center"
            disabled={!some || tried.isPlaceholderData}
            onClick={() => job.start(plan)}
          >
            {some ? `Bring in ${count(o.new + o.changed)} ${type.label.toLowerCase()}` : "Bring in"}
          </button>
        )}
      </div>
      {making !== undefined && (
        <NewField
          type={type}
          label={file.header[making]}
          cells={file.rows.map((r) => r[making])}
          onClose={() => setMaking(undefined)}
          onDone={(key) => {
            put(making, { field: key, form: "" });
            setMaking(undefined);
            anew(client, "schema");
          }}
        />
      )}
    </div>
  );
}
