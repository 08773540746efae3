import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { count } from "../../ui/figures";
import { FormTrouble, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";

type Currency = Schemas["CurrencyBody"];

const codes = Intl.supportedValuesOf("currency");

/** In which currencies amounts may be, and what these are worth. */
export function CurrencySettings() {
  const client = useQueryClient();
  const got = useQuery({ queryKey: ["currencies"], queryFn: () => ask(api.GET("/api/currencies")) });
  const today = useMe().data?.today;
  const [code, setCode] = useState("");
  const [rating, setRating] = useState<Currency>();
  const [save] = useDo(
    ({ others, hold }: { others: string[]; hold: number; said: string }) =>
      ask(api.PUT("/api/currencies", { body: { others, hold, version: got.data?.version } })),
    (_, { said }) => {
      toast(said);
      setCode("");
      void client.invalidateQueries();
    },
    (e) => {
      tell(e);
      anew(client, "currencies");
    },
  );
  if (!got.data || !today) return <Trouble error={got.error} />;
  const { own, others, hold } = got.data;
  const set = (list: string[], said: string, days = hold) => save({ others: list, hold: days, said });
  const all = others.map((o) => o.code);
  return (
    <div className="sheet max-w-[760px] p-4">
      {others.length === 0 && <p className="text-ink2">All amounts are in {own}.</p>}
      <ul aria-label="Currencies">
        {others.map((o) => (
          <li key={o.code} className="flex flex-wrap items-baseline gap-3 border-line border-b py-1.5 last:border-0">
            <strong className="w-12">{o.code}</strong>
            <span className={`mr-auto text-[13px] ${o.stale || !o.latest ? "text-rust" : "text-ink2"}`}>
              {o.latest ? `${o.latest}, since ${o.day}` : "no rate yet: what is in it is left out of sums"}
              {o.stale && ", which holds no longer"}
              {o.records > 0 && ` · ${count(o.records)} records`}
            </span>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              aria-label={`Enter a rate of ${o.code}`}
              onClick={() => setRating(o)}
            >
              Enter a rate…
            </button>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              aria-label={`Remove ${o.code}`}
              onClick={() =>
                set(
                  all.filter((c) => c !== o.code),
                  `Amounts can no longer be in ${o.code}`,
                )
              }
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <form
        className="mt-3 flex flex-wrap items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          const next = code.trim().toUpperCase();
          if (next) set([...all, next], `Amounts can be in ${next} from now on`);
        }}
      >
        <input
          className="input !w-36"
          aria-label="Another currency"
          placeholder="NOK"
          list="currency-codes"
          maxLength={3}
          value={code}
          onChange={(e) => setCode(e.target.value)}
        />
        <datalist id="currency-codes">
          {codes.map((c) => (
            <option key={c} value={c} />
          ))}
        </datalist>
        <button type="submit" className="btn">
          Add a currency
        </button>
        <label className="ml-auto flex items-center gap-2 text-[13px] text-ink2">
          A rate holds for
          <input
            key={hold}
            className="input !w-20"
            type="number"
            min={1}
            max={800}
            defaultValue={hold}
            onBlur={(e) => {
              const days = Number(e.target.value);
              if (days !== hold) set(all, `Saved: a rate holds for ${days} days`, days);
            }}
          />
          days, or until the next
        </label>
      </form>
      {others.length > 0 && (
        <div className="mt-3 text-[13px]">
          <Link className="link" to="/records/exchange_rates">
            All exchange rates
          </Link>
          <p className="text-ink2">
            Files of them are brought in like any others, by hand or every night: currency, day, units, worth.
          </p>
        </div>
      )}
      {rating && (
        <NewRate
          currency={rating.code}
          own={own}
          today={today}
          onClose={() => setRating(undefined)}
          onDone={() => {
            setRating(undefined);
            toast("The rate holds from its day on");
            void client.invalidateQueries();
          }}
        />
      )}
    </div>
  );
}

type Rate = { day: string; units: string; worth: string };

/** A rate of one currency, from a day on. */
function NewRate({
  currency,
  own,
  today,
  onClose,
  onDone,
}: {
  currency: string;
  own: string;
  today: string;
  onClose: () => void;
  onDone: () => void;
}) {
  const form = useForm<Rate>({ defaultValues: { day: today, units: "", worth: "1" } });
  const { submit, busy } = useSend(
    form,
    (r) =>
      ask(
        api.POST("/api/records/{type}", {
          params: { path: { type: "exchange_rates" } },
          body: { records: [{ currency, ...r }] },
        }),
      ),
    onDone,
  );
  return (
    <Modal title={`What ${currency} is worth`} width={460} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="day" label="From this day on" type="date" />
        <div className="grid grid-cols-2 gap-x-4">
          <TextField form={form} name="units" label={`So many ${currency}`} inputMode="decimal" placeholder="11.62" />
          <TextField form={form} name="worth" label={`are so many ${own}`} inputMode="decimal" />
        </div>
        <FormTrouble form={form} />
        <div className="flex justify-end gap-2">
          <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
          <button type="submit" className="btn btn-main" disabled={busy}>
            Keep the rate
          </button>
        </div>
      </form>
    </Modal>
  );
}
