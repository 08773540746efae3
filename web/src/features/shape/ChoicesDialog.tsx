import { useFieldArray, useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { FormEnd } from "../../ui/FormEnd";
import { count } from "../../ui/figures";
import { useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";

type Stage = Schemas["StageBody"];

/** Names, orders, adds and takes away choices, or stages; two that are called the same become one. */
export function ChoicesDialog({
  type,
  field,
  stages,
  version,
  onClose,
  onDone,
}: {
  type: string;
  field: Schemas["ShapedField"];
  stages: Stage[];
  version: number;
  onClose: () => void;
  onDone: () => void;
}) {
  const begun: Stage[] = field.stages
    ? stages
    : field.choices.map((c) => ({ ...c, pipeline: "", status: "open", likelihood: 0 }));
  const form = useForm({ defaultValues: { list: begun } });
  const rows = useFieldArray({ control: form.control, name: "list", keyName: "row" });
  const { submit, busy } = useSend(
    form,
    ({ list }) =>
      field.stages
        ? ask(api.PUT("/api/stages", { body: { version, stages: list } }))
        : ask(
            api.PUT("/api/shape/{type}/choices/{field}", {
              params: { path: { type, field: field.key } },
              body: { version, choices: list.map(({ name, was }) => ({ name, was })) },
            }),
          ),
    () => {
      toast("Saved");
      onDone();
    },
  );
  const pipeline = stages.at(-1)?.pipeline ?? "";
  return (
    <Modal
      title={field.stages ? "Stages" : `Choices of ${field.label.toLowerCase()}`}
      width={field.stages ? 800 : 540}
      onClose={onClose}
    >
      <form onSubmit={submit}>
        <p className="mb-3 text-[13px] text-ink2">
          Call one as another, and the two become one. What records have stays, under the name that you give it. Their
          colours on charts are chosen under{" "}
          <a className="link underline" href="/settings">
            Settings, house style
          </a>
          .
        </p>
        <ol className="mb-3" aria-label={field.stages ? "Stages" : "Choices"}>
          {rows.fields.map((c, i) => (
            <li key={c.row} className="mb-1.5 flex items-center gap-2">
              <input
                className="input"
                aria-label={`Name of ${c.was || "a new one"}`}
                maxLength={100}
                {...form.register(`list.${i}.name`)}
              />
              {field.stages && (
                <>
                  <input
                    className="input !w-36"
                    aria-label={`Pipeline of ${c.was || "a new one"}`}
                    {...form.register(`list.${i}.pipeline`)}
                  />
                  <select
                    className="input !w-24"
                    aria-label={`Status of ${c.was || "a new one"}`}
                    {...form.register(`list.${i}.status`)}
                  >
                    <option value="open">open</option>
                    <option value="won">won</option>
                    <option value="lost">lost</option>
                  </select>
                  <input
                    className="input !w-20"
                    type="number"
                    min={0}
                    max={100}
                    aria-label={`Likelihood of ${c.was || "a new one"}, in percent`}
                    {...form.register(`list.${i}.likelihood`, { valueAsNumber: true })}
                  />
                </>
              )}
              <span className="w-28 shrink-0 text-right text-[13px] text-ink2">
                {c.uses ? `${count(c.uses)} records` : ""}
              </span>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`${c.was || "A new one"} earlier`}
                disabled={i === 0}
                onClick={() => rows.move(i, i - 1)}
              >
                ↑
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`${c.was || "A new one"} later`}
                disabled={i === rows.fields.length - 1}
                onClick={() => rows.move(i, i + 1)}
              >
                ↓
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`Take ${c.was || "a new one"} away`}
                onClick={() => rows.remove(i)}
              >
                ✕
              </button>
            </li>
          ))}
        </ol>
        <button
          type="button"
          className="btn"
          onClick={() => rows.append({ name: "", was: "", pipeline, status: "open", likelihood: 50 })}
        >
          {field.stages ? "Another stage" : "Another choice"}
        </button>
        <FormEnd form={form} off={busy} action="Save" />
      </form>
    </Modal>
  );
}
