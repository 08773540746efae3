import { useForm } from "react-hook-form";
import { api, ask, type TypeInfo } from "../../api/client";
import { FormTrouble, useSend } from "../../ui/form";

const named = ["customers", "contacts", "deals", "activities", "products"];

/** The last step: what the trade calls its things, everywhere from then on. */
export function WordsStep({
  types,
  organisation,
  onDone,
}: {
  types: TypeInfo[];
  organisation: string;
  onDone: () => Promise<unknown>;
}) {
  const list = types.filter((t) => named.includes(t.key));
  const form = useForm({ defaultValues: { words: list.map((t) => ({ type: t.key, label: t.label, one: t.one })) } });
  const { submit, busy } = useSend(
    form,
    (body) => ask(api.PUT("/api/setup/words", { body })),
    () => void onDone(),
  );
  const deals = form.watch("words").find((w) => w.type === "deals");
  const customers = form.watch("words").find((w) => w.type === "customers");
  return (
    <form onSubmit={submit}>
      <h1 className="title mb-2 text-2xl">What you call things</h1>
      <p className="mb-4 text-ink2">
        At {organisation}, do deals go by another name? Call each of them what people say; it is so everywhere from then
        on.
      </p>
      <table className="mb-4 w-full max-w-[460px]">
        <thead>
          <tr>
            <th className="th pr-3 text-left">Several</th>
            <th className="th text-left">One</th>
          </tr>
        </thead>
        <tbody>
          {list.map((t, i) => (
            <tr key={t.key}>
              <td className="py-1 pr-3">
                <input
                  className="input"
                  aria-label={`${t.label}, several`}
                  maxLength={60}
                  {...form.register(`words.${i}.label`)}
                />
              </td>
              <td className="py-1">
                <input
                  className="input"
                  aria-label={`${t.label}, one`}
                  maxLength={60}
                  {...form.register(`words.${i}.one`)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="sentence mb-4 !text-[18px]">
        <b>{deals?.label}</b> created <b>this year</b>, by <b>{customers?.one}</b>.
      </p>
      <FormTrouble form={form} />
      <button type="submit" className="btn btn-main" disabled={busy}>
        Done
      </button>
    </form>
  );
}
