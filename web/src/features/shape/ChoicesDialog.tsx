import { useFieldArray, useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useHouseStyle, useSchema } from "../../api/hooks";
import { ColourOf } from "../../looks/ColourOf";
import { FormEnd } from "../../ui/FormEnd";
import { count } from "../../ui/figures";
import { useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";

type Stage = Schemas["StageBody"];

const fresh = (status: Stage["status"] = "open", pipeline = ""): Stage => ({
  name: "",
  was: "",
  pipeline,
  status,
  likelihood: 50,
});

/** What a choice is called for those who do not see where it stands. */
const called = (c: { was?: string }, i: number) => c.was || `new one ${i + 1}`;

/**
 * Names, orders, colours, adds and takes away choices, or stages; two that are called the same become one. A type without
 * stages is given its first ones.
 */
export function ChoicesDialog({
  type,
  field,
  stages,
  version,
  onClose,
  onDone,
}: {
  type: string;
  field?: Schemas["ShapedField"];
  stages: Stage[];
  version: number;
  onClose: () => void;
  onDone: () => void;
}) {
  const staged = !field || field.stages;
  const palette = useHouseStyle()?.palette ?? [];
  // How likely it is to be won is a deal's: it says so of itself.
  const likely = useSchema()
    ?.types.find((t) => t.key === type)
    ?.fields.some((f) => f.key === "likelihood");
  const begun: Stage[] = !field
    ? [fresh(), fresh("won"), fresh("lost")]
    : staged
      ? stages
      : field.choices.map((c) => ({ ...fresh(), ...c }));
  const form = useForm({ defaultValues: { list: begun } });
  const rows = useFieldArray({ control: form.control, name: "list", keyName: "row" });
  const { submit, busy } = useSend(
    form,
    ({ list }) =>
      staged
        ? ask(api.PUT("/api/shape/{type}/stages", { params: { path: { type } }, body: { version, stages: list } }))
        : ask(
            api.PUT("/api/shape/{type}/choices/{field}", {
              params: { path: { type, field: field.key } },
              body: { version, choices: list.map(({ name, was, colour }) => ({ name, was, colour })) },
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
      title={staged ? "Stages" : `Choices of ${field.label.toLowerCase()}`}
      width={staged ? 900 : 640}
      onClose={onClose}
    >
      <form onSubmit={submit}>
        <p className="mb-3 text-[13px] text-ink2">
          {field
            ? "Call one as another, and the two become one. What records have stays, under the name that you give it. A colour holds on every chart."
            : "Their records go through these, one after the other. When each came to its stage, how long it is there and when it ended is kept from then on."}
        </p>
        <ol className="mb-3" aria-label={staged ? "Stages" : "Choices"}>
          {rows.fields.map((c, i) => (
            <li key={c.row} className="mb-1.5 flex items-center gap-2">
              <input
                className="input"
                placeholder={staged ? "Stage" : "Choice"}
                aria-label={`Name of ${called(c, i)}`}
                maxLength={100}
                {...form.register(`list.${i}.name`)}
              />
              {staged && (
                <>
                  <input
                    className="input !w-36"
                    placeholder="Pipeline"
                    aria-label={`Pipeline of ${called(c, i)}`}
                    {...form.register(`list.${i}.pipeline`)}
                  />
                  <select
                    className="input !w-24"
                    aria-label={`Status of ${called(c, i)}`}
                    {...form.register(`list.${i}.status`)}
                  >
                    <option value="open">open</option>
                    <option value="won">won</option>
                    <option value="lost">lost</option>
                  </select>
                  {likely && (
                    <input
                      className="input !w-20"
                      type="number"
                      min={0}
                      max={100}
                      aria-label={`Likelihood of ${called(c, i)}, in percent`}
                      {...form.register(`list.${i}.likelihood`, { valueAsNumber: true })}
                    />
                  )}
                </>
              )}
              <span className="w-28 shrink-0 text-right text-[13px] text-ink2">
                {c.uses ? `${count(c.uses)} records` : ""}
              </span>
              <span className="flex w-28 shrink-0 items-center justify-end">
                <ColourOf
                  name={called(c, i)}
                  colour={form.watch(`list.${i}.colour`)}
                  offered={palette[i % Math.max(palette.length, 1)] ?? "#007C7D"}
                  onChange={(colour) => form.setValue(`list.${i}.colour`, colour, { shouldDirty: true })}
                />
              </span>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`${called(c, i)} earlier`}
                disabled={i === 0}
                onClick={() => rows.move(i, i - 1)}
              >
                ↑
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`${called(c, i)} later`}
                disabled={i === rows.fields.length - 1}
                onClick={() => rows.move(i, i + 1)}
              >
                ↓
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`Take ${called(c, i)} away`}
                onClick={() => rows.remove(i)}
              >
                ✕
              </button>
            </li>
          ))}
        </ol>
        <button type="button" className="btn" onClick={() => rows.append(fresh("open", pipeline))}>
          {staged ? "Another stage" : "Another choice"}
        </button>
        <FormEnd form={form} off={busy} action="Save" />
      </form>
    </Modal>
  );
}
